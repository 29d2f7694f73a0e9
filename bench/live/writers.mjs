import { io } from 'socket.io-client';
import { Slice, Fragment } from 'prosemirror-model';
import { ReplaceStep, StepMap } from 'prosemirror-transform';
import { schema } from '@tea-pencil/core';

/**
 * People who type, without a screen: they know where their caret is and follow what others do, and no more, so that what
 * is measured is the server. A key that comes while the last is on its way waits and goes with the next.
 */

const keysPerSecond = 4;

export const percentile = (values, part) => [...values].sort((a, b) => a - b)[Math.floor(values.length * part)] ?? NaN;

const sizes = (nodes) =>
  nodes.reduce(
    (sum, { text, content, type }) =>
      sum + (text?.length ?? (content || type === 'paragraph' ? 2 + sizes(content ?? []) : 1)),
    0,
  );
/** How many positions a step puts in, without making nodes of it. */
const sizeOf = ({ slice }) => (slice ? sizes(slice.content) - (slice.openStart ?? 0) - (slice.openEnd ?? 0) : 0);

class Writer {
  early = [];
  waiting = [];
  sending = false;
  acknowledged = [];
  seen = [];

  constructor({ address, manuscript, person, place, name, sent }) {
    // The server tells a window's steps under its person and its own name; the bare relay under the name alone.
    const client = person.cookie ? `${person.id}.${name}` : name;
    Object.assign(this, { manuscript, person, pos: place, window: name, client, sent });
    this.mark = schema.marks.insertion.create({
      change: `w-${name}`,
      author: person.id,
      date: new Date().toISOString().replace(/\.\d+Z$/, 'Z'),
    });
    this.socket = io(address, {
      path: '/api/live',
      transports: ['websocket'],
      forceNew: true,
      extraHeaders: { cookie: person.cookie ?? '' },
    });
    this.socket.on('steps', (message) => this.follow(message));
  }

  ask = (name, message) => this.socket.timeout(60_000).emitWithAck(name, { manuscript: this.manuscript, ...message });

  async open() {
    await new Promise((resolve) => this.socket.once('connect', resolve));
    const { version } = await this.ask('join', { client: this.window });
    this.version = version;
    // What came on the way, before it was known where one is.
    for (const message of this.early.splice(0)) this.follow(message);
    return this;
  }

  follow(message) {
    if (this.version === undefined) return this.early.push(message);
    const { version, steps, clients } = message;
    if (version !== this.version) return;
    const now = performance.now();
    steps.forEach((json, i) => {
      if (json.stepType !== 'replace') return; // moves nothing
      this.pos = new StepMap([json.from, json.to - json.from, sizeOf(json)]).map(this.pos);
      const key = `${clients[i]} ${json.slice?.content[0].text}`;
      const at = this.sent.get(key);
      if (at && clients[i] !== this.client) this.seen.push(now - at);
    });
    this.version += steps.length;
  }

  press(letter) {
    this.waiting.push({ letter, at: performance.now() });
    void this.send();
  }

  async send() {
    if (this.sending || !this.waiting.length) return;
    this.sending = true;
    const batch = this.waiting.splice(0);
    const text = batch.map(({ letter }) => letter).join('');
    this.sent.set(`${this.client} ${text}`, batch[0].at);
    let answer;
    do {
      const slice = new Slice(Fragment.from(schema.text(text, [this.mark])), 0, 0);
      const steps = [new ReplaceStep(this.pos, this.pos, slice).toJSON()];
      answer = await this.ask('submit', { version: this.version, steps, intent: 'pencil', client: this.window });
      if (answer.refused || answer.later) throw new Error(answer.refused ?? answer.later);
    } while (answer.behind);
    const now = performance.now();
    for (const { at } of batch) this.acknowledged.push(now - at);
    this.sending = false;
    void this.send();
  }
}

/**
 * How long keys took until they were acknowledged and until the others saw them, in milliseconds.
 * @param until they go on until what it returns has come, if that is longer than the seconds
 * @param name what their windows are called, where others type too
 * @param ready called when all have it open; they begin when what it returns has come
 * @param before how long they type before it is measured, in milliseconds
 */
export async function typing({
  address,
  manuscript,
  people,
  places,
  seconds,
  until,
  name = manuscript,
  ready,
  before = 0,
}) {
  const sent = new Map();
  const writers = await Promise.all(
    places.map((place, k) =>
      new Writer({
        address,
        manuscript,
        person: people[k % people.length],
        place,
        name: `${name}-${k}`,
        sent,
      }).open(),
    ),
  );
  await ready?.();
  const timers = writers.map((writer, k) => {
    let n = 0;
    // Each letter is one that nobody else sends, so that it is known again.
    const press = () => writer.press(String.fromCodePoint(0x4e00 + ((n++ * 53 + k) % 20_000)));
    return setTimeout(
      () => {
        press();
        writer.timer = setInterval(press, 1000 / keysPerSecond);
      },
      (1000 / keysPerSecond) * (k / writers.length),
    );
  });
  await new Promise((resolve) => setTimeout(resolve, before));
  for (const writer of writers) writer.acknowledged = [];
  await new Promise((resolve) => setTimeout(resolve, seconds * 1000));
  await until?.();
  for (const timer of timers) clearTimeout(timer);
  for (const writer of writers) clearInterval(writer.timer);
  await new Promise((resolve) => setTimeout(resolve, 1500));
  const acknowledged = writers.flatMap((writer) => writer.acknowledged);
  const waiting = writers.reduce((sum, writer) => sum + writer.waiting.length + Number(writer.sending), 0);
  const seen = writers.flatMap((writer) => writer.seen);
  for (const writer of writers) writer.socket.disconnect();
  return { keys: acknowledged.length, acknowledged, seen, waiting };
}
