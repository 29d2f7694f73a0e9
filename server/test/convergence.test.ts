import fc from 'fast-check';
import { Node } from 'prosemirror-model';
import { Transform } from 'prosemirror-transform';
import { beforeReading, canonical, decide, listChanges, schema } from '@tea-pencil/core';
import { plainly, someTextEdit } from '../../core/test/support/editing';
import type { Visitor } from './support/server';
import { broughtIn, peopleThere } from './support/together';
import { Writer } from './support/writer';

/**
 * Law 7, with the screen's own live text: whatever order the network delivers, and whoever loses the connection in
 * between, all end with the same text, nothing honest is refused, and laws 1 and 3 hold on what comes out.
 */

const people = peopleThere(['ines', 'maren', 'tobias', 'harbour', 'alba']);

const text = 'The tide comes in behind you\nand the line of weed is dry.\nWalk on the high sand.';
const seed = Number(process.env.CONVERGENCE_SEED ?? 7);
const rounds = Number(process.env.CONVERGENCE_ROUNDS ?? 2);
/** How long a packet takes one way to each of those who write, in milliseconds: most links are quick, some are not. */
const lags = [0, 60, 0, 8, 150];
const pause = (time: number) => new Promise((resolve) => setTimeout(resolve, time));

/** What someone does next. A number picks among what there is. */
const act = fc.record({
  what: fc.constantFrom('edit', 'edit', 'edit', 'edit', 'edit', 'undo', 'redo', 'drop', 'decide', 'take'),
  edit: someTextEdit(1),
  which: fc.nat(),
  wait: fc.constantFrom(0, 0, 1, 5, 20),
});
type Act = typeof act extends fc.Arbitrary<infer T> ? T : never;

async function play(writer: Writer, script: readonly Act[], decides: boolean): Promise<void> {
  for (const { what, edit, which, wait } of script) {
    const pending = what === 'decide' && decides ? listChanges(writer.doc) : [];
    if (what === 'take' && decides) writer.text.take(which % 2 ? 'ink' : 'pencil', 'until told');
    else if (what === 'undo') writer.undo();
    else if (what === 'redo') writer.redo();
    else if (what === 'drop') {
      writer.socket.disconnect();
      setTimeout(() => writer.socket.connect(), (which % 5) * 15);
    } else if (pending.length) {
      await writer.text.decide([pending[which % pending.length]!.id], which % 2 ? 'accept' : 'reject');
    } else if (what === 'edit') {
      const made = plainly(writer.doc, edit);
      if (made) writer.make(made.tr);
    }
    await pause(wait);
  }
}

/** The text as the server holds it, for someone who comes now. */
async function held(id: string): Promise<Node> {
  const late = await new Writer(people[0]!, id).until();
  const { doc } = late;
  late.close();
  return doc;
}

async function together(howMany: number, decides: boolean, round: number) {
  const id = await broughtIn(people, text);
  const writers = await Promise.all(
    Array.from({ length: howMany }, (_, i) =>
      new Writer(people[i % people.length]!, id, { lag: lags[i % lags.length]!, mayInk: decides && i === 0 }).until(),
    ),
  );
  const original = writers[0]!.doc;
  const scripts = fc.sample(fc.array(act, { minLength: 24, maxLength: 24 }), {
    numRuns: howMany,
    seed: seed + 100 * round + howMany + (decides ? 1000 : 0),
  });
  await Promise.all(writers.map((writer, i) => play(writer, scripts[i]!, decides && writer.who === people[0])));
  for (const writer of writers) writer.socket.connect();
  for (const writer of writers) await writer.settled();
  const end = await held(id);
  const last = Math.max(...writers.map((writer) => writer.version()));
  for (const writer of writers) await writer.until(() => writer.version() === last);
  return { id, writers, original, end };
}

const cases = [3, 5, 8].flatMap((howMany) => Array.from({ length: rounds }, (_, round) => ({ howMany, round })));

test.each(cases)(
  '$howMany who write at once, with drops, end with one text (round $round)',
  async ({ howMany, round }) => {
    const { writers, original, end } = await together(howMany, false, round);
    for (const writer of writers) expect(canonical(writer.doc)).toEqual(canonical(end));
    expect(writers.flatMap(({ notTaken }) => notTaken)).toEqual([]);
    expect(canonical(beforeReading(end))).toEqual(canonical(original));
    expect(listChanges(end).length).toBeGreaterThan(0);
    for (const writer of writers) writer.close();
  },
);

test.each(cases)(
  'and so they do while one of them decides, and writes in ink ($howMany, round $round)',
  async ({ howMany, round }) => {
    const { writers, end } = await together(howMany, true, round);
    for (const writer of writers) expect(canonical(writer.doc)).toEqual(canonical(end));
    expect(writers.flatMap(({ notTaken }) => notTaken)).toEqual([]);
    // Law 3 on what came out: the order in which the rest is decided makes no difference.
    const ids = listChanges(end).map(({ id }) => id);
    const one = (order: string[]) =>
      order.reduce((doc, id) => decide(new Transform(doc), [id], ids.indexOf(id) % 2 ? 'accept' : 'reject').doc, end);
    expect(canonical(one([...ids].reverse()))).toEqual(canonical(one(ids)));
    for (const writer of writers) writer.close();
  },
);

test('the log rebuilds the text at any version, and says who did what', async () => {
  const { id, writers, end } = await together(3, true, 9);
  const [keeper] = people as [Visitor];
  const last = writers[0]!.version();
  type Version = { doc: object };
  const at = async (version: number) =>
    (await keeper.ask<Version>('GET', `/api/manuscripts/${id}/versions/${version}`)).body.doc;
  expect(canonical(Node.fromJSON(schema, await at(last)))).toEqual(canonical(end));
  for (const version of [0, Math.floor(last / 2), last - 1]) Node.fromJSON(schema, await at(version)).check();
  const beyond = await keeper.ask('GET', `/api/manuscripts/${id}/versions/${last + 1}`);
  expect([beyond.status, beyond.body.message]).toEqual([404, 'The text has no such version.']);
  for (const writer of writers) writer.close();
});
