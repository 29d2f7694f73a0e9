import { EventEmitter } from 'node:events';
import type { Socket } from 'socket.io-client';
import { Channel, type Heard } from '../src/live/channel';

/** A connection of which the test says whether it stands and what comes of a message. */
class Line extends EventEmitter {
  connected = true;
  readonly asked: string[] = [];

  constructor(readonly answers: (object | 'lost')[]) {
    super();
  }

  timeout = () => ({
    emitWithAck: (_: string, { asked }: { asked: string }) => {
      this.asked.push(asked);
      const answer = this.answers.shift();
      if (answer !== 'lost') return Promise.resolve(answer);
      this.connected = false;
      return Promise.reject(new Error('socket has been disconnected'));
    },
  });

  back = () => {
    this.connected = true;
    this.emit('connect');
  };
}

const nothing = () => {};
const heard = new Proxy({} as Heard, { get: () => nothing });
const begin = (...answers: (object | 'lost')[]) => {
  const line = new Line(answers);
  return { line, channel: new Channel('m', heard, () => line as unknown as Socket) };
};
const decide = (channel: Channel) => channel.askOnce('decide', { changes: ['a'], verdict: 'accept', client: 'here' });

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());

test('what is to be done once is asked for again under the same name when the answer was lost', async () => {
  const { line, channel } = begin('lost', 'lost', { taken: true, version: 1, decision: 'd' });
  const answer = decide(channel);
  for (let i = 0; i < 2; i++) {
    await jest.advanceTimersByTimeAsync(3000);
    line.back();
  }
  expect(await answer).toEqual({ taken: true, version: 1, decision: 'd' });
  expect([line.asked.length, new Set(line.asked).size]).toEqual([3, 1]);
  const other = begin({ taken: true, version: 1 });
  await decide(other.channel);
  expect(other.line.asked).not.toEqual(line.asked.slice(0, 1));
});

test('it waits for a connection that is away for a moment, and says after a while that it was never sent', async () => {
  const { line, channel } = begin({ taken: true, version: 2 });
  line.connected = false;
  const soon = decide(channel);
  await jest.advanceTimersByTimeAsync(2000);
  line.back();
  expect(await soon).toEqual({ taken: true, version: 2 });
  line.connected = false;
  const never = decide(channel);
  await jest.advanceTimersByTimeAsync(60_000);
  expect(await never).toEqual({ unanswered: 'not sent' });
  expect(line.asked).toHaveLength(1);
  expect(line.listenerCount('connect')).toBe(1);
});

test('where the answer was lost and the connection stays away nothing is claimed', async () => {
  const { line, channel } = begin('lost');
  const answer = decide(channel);
  await jest.advanceTimersByTimeAsync(60_000);
  expect(await answer).toEqual({ unanswered: 'not known' });
  expect(line.asked).toHaveLength(1);
});

test('a server that cannot keep anything just now is asked again; one that refuses is not', async () => {
  const { line, channel } = begin({ later: 'Just now not.' }, { later: 'Just now not.' }, { taken: true, version: 3 });
  const answer = decide(channel);
  await jest.advanceTimersByTimeAsync(10_000);
  expect(await answer).toEqual({ taken: true, version: 3 });
  expect(line.asked).toHaveLength(3);
  const refused = begin({ refused: 'The manuscript is sealed.' });
  expect(await decide(refused.channel)).toEqual({ refused: 'The manuscript is sealed.' });
  const away = begin(...Array.from({ length: 100 }, () => ({ later: 'Just now not.' })));
  const given = decide(away.channel);
  await jest.advanceTimersByTimeAsync(60_000);
  expect(await given).toEqual({ later: 'Just now not.' });
  expect(refused.line.asked).toHaveLength(1);
});
