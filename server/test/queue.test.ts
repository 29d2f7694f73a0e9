import { setTimeout as pause } from 'node:timers/promises';
import { NotTakenOn, Queue } from '../src/work/queue';

/** Work of many people: in which order it is done, and what is not taken on. */

const room = { together: 2, ofOne: 3, ofAll: 5, patience: 10_000 };

/** Work that is done when it is said so. */
function work() {
  let done = () => {};
  const ended = new Promise<void>((resolve) => (done = resolve));
  const begun: string[] = [];
  return { begun, done: () => done(), of: (name: string) => () => (begun.push(name), ended) };
}
const because = (promise: Promise<unknown>): Promise<unknown> =>
  promise.then(
    () => 'taken',
    (problem: unknown) => (problem instanceof NotTakenOn ? problem.because : problem),
  );

test('of one person one piece is done at a time; another goes before the second of theirs', async () => {
  const queue = new Queue(room);
  const { begun, done, of } = work();
  const all = [
    queue.run('ann', of('a1')),
    queue.run('ann', of('a2')),
    queue.run('ben', of('b1')),
    queue.run('cyd', of('c1')),
  ];
  await pause(1);
  expect(begun).toEqual(['a1', 'b1']);
  expect([queue.ahead('ann'), queue.ahead('cyd'), queue.ahead('ben')]).toEqual([3, 2, null]);
  done();
  await Promise.all(all);
  expect(begun).toEqual(['a1', 'b1', 'c1', 'a2']);
  expect(queue.ahead('ann')).toBeNull();
});

test('one person has only so many pieces here, and all together; what is not taken on has not begun', async () => {
  const queue = new Queue(room);
  const { begun, done, of } = work();
  const taken = ['ann', 'ann', 'ann', 'ben', 'cyd'].map((who) => queue.run(who, of(who)));
  expect(await because(queue.run('ann', of('more')))).toBe('enough of one');
  expect(await because(queue.run('dan', of('more')))).toBe('enough of all');
  done();
  await Promise.all(taken);
  expect(begun).not.toContain('more');
  expect(await because(queue.run('dan', of('later')))).toBe('taken');
});

test('what waits too long, or is stopped while it waits, leaves its place to others', async () => {
  const queue = new Queue({ ...room, together: 1, patience: 30 });
  const { begun, done, of } = work();
  const first = queue.run('ann', of('first'));
  const stop = new AbortController();
  const stopped = because(queue.run('ben', of('stopped'), stop.signal));
  stop.abort();
  expect(await stopped).toBe('waited too long');
  expect(await because(queue.run('cyd', of('late')))).toBe('waited too long');
  done();
  await first;
  expect(begun).toEqual(['first']);
});

test('work that fails frees its place', async () => {
  const queue = new Queue({ ...room, together: 1 });
  await expect(queue.run('ann', () => Promise.reject(new Error('broken')))).rejects.toThrow('broken');
  expect(await queue.run('ann', () => Promise.resolve('next'))).toBe('next');
});
