import { fork } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { schema } from '@tea-pencil/core';
import { build, root } from '../scripts/build.mjs';
import { book } from './book.mjs';
import { acts } from './live/hostile.mjs';
import { house } from './live/house.mjs';
import { percentile, typing } from './live/writers.mjs';

/**
 * Twenty people type in one book while somebody does, in it or beside it, what is as large as it may be or larger. Each
 * act is measured against the same people undisturbed, in the same run. Measured are those who have a process of their
 * own: the others share one, in which each waits while the others' windows take in what comes. For how long the server
 * stood still tells what it did in one piece from what two cores are too few for.
 */

const writers = 20;
const alone = 3;

/** Seconds in which the cores of a virtual machine were given to others since it began (proc(5), /proc/stat, steal). */
const takenAway = () => Number(/^cpu +(?:\d+ ){7}(\d+)/.exec(readFileSync('/proc/stat', 'utf8'))[1]) / 100;

/** Places in the first half of a book: what is done to its end is not in the way. */
const placesIn = (doc) =>
  Array.from({ length: writers }, (_, k) => {
    let pos = 0;
    for (let i = 0; i < k * 7; i++) pos += doc.child(i).nodeSize;
    return pos + 1;
  });

/** One insertion of so many paragraphs. */
function passage(howMany, author) {
  const signature = { change: 'passage', author, date: '2026-11-01T09:00:00Z' };
  const [inserted, opening] = [
    schema.marks.insertion.create(signature),
    schema.marks.openingInserted.create(signature),
  ];
  const one = schema.nodes.paragraph.create(null, schema.text('The tide comes in behind you.', [inserted]), [opening]);
  const plain = schema.nodes.paragraph.create(null, schema.text('First.'));
  return schema.nodes.doc.create(null, [plain, ...Array.from({ length: howMany }, () => one)]);
}

/** One who types in a process of their own: they say when they are ready, begin, and end with how long their keys took. */
function typist(what) {
  const child = fork(path.join(root, 'bench/live/alone.mjs'));
  const said = () => new Promise((resolve) => child.once('message', resolve));
  child.send(what);
  return {
    ready: said(),
    begin: () => child.send('begin'),
    end: () => {
      child.send('end');
      return said();
    },
  };
}

function act(name, hand, where) {
  const child = fork(path.join(root, 'bench/live/hostile.mjs'), { execArgv: ['--max-old-space-size=3000'] });
  const done = new Promise((resolve) => {
    child.once('message', resolve);
    child.once('exit', () => resolve({ said: 'the process of the act ended', took: NaN }));
  });
  child.send({ act: name, hand, where });
  return done;
}

export async function run() {
  build(['core', 'wire', 'server']);
  const home = await house(path.join(root, '.tea-pencil-test'));
  const server = await home.serve();
  const people = await home.signIn(server.address);
  const only = process.env.BENCH_ONLY;
  const seconds = Number(process.env.BENCH_SECONDS ?? 8);
  const doc = book(80_000, 5000);
  const before = takenAway();
  await home.keep('other', doc, people);
  await home.keep('decided', doc, people);
  await home.keep('dense', book(80_000, 20_000), people);
  await home.keep('large', book(500_000, 20_000), people);
  await home.keep('passage', passage(8000, people[1].id), people);
  const measured = async (manuscript, beside) => {
    const places = placesIn(doc);
    const these = { address: server.address, manuscript, before: 2000 };
    const typists = places.slice(0, alone).map((place, k) => {
      const name = `${manuscript}-alone-${k}`;
      return typist({ ...these, seconds: 0, people: [people[k + 1]], places: [place], name });
    });
    let said;
    const ready = async () => {
      await Promise.all(typists.map((one) => one.ready));
      for (const one of typists) one.begin();
      said = new Promise((resolve) => setTimeout(resolve, 3500)).then(() => beside?.());
    };
    await server.stoodStill();
    const until = () => said;
    await typing({ ...these, seconds, people: people.slice(alone + 1), places: places.slice(alone), ready, until });
    const found = await Promise.all(typists.map(({ end }) => end()));
    const acknowledged = found.flatMap((one) => one.acknowledged);
    const waiting = found.reduce((sum, one) => sum + one.waiting, 0);
    return { acknowledged, waiting, stood: await server.stoodStill(), ...(await said) };
  };
  await home.keep('calm', doc, people);
  const calm = await measured('calm');
  const worst = (times) => Math.max(...times);
  console.log(
    `Undisturbed: acknowledged after ${percentile(calm.acknowledged, 0.5).toFixed(0)} ms (median), ${worst(calm.acknowledged).toFixed(0)} ms at most; the server stood still for ${calm.stood.toFixed(0)} ms at most.\n`,
  );
  console.log(
    '| act | it took | answered | 95th of others | longest of others | against undisturbed | the server stood still |\n|---|--:|---|--:|--:|--:|--:|',
  );
  for (const [k, name] of Object.keys(acts).entries()) {
    if (only && !name.includes(only)) continue;
    const where = {
      book: `book-${k}`,
      other: 'other',
      decided: 'decided',
      dense: 'dense',
      large: 'large',
      passage: 'passage',
    };
    await home.keep(where.book, doc, people);
    const hand = { address: server.address, cookie: people[0].cookie, person: people[0].id };
    const { acknowledged, said, took, waiting, stood } = await measured(where.book, () => act(name, hand, where));
    const longest = worst(acknowledged);
    console.log(
      `| ${name} | ${(took / 1000).toFixed(1)} s | ${said} | ${percentile(acknowledged, 0.95).toFixed(0)} ms | ${longest.toFixed(0)} ms${waiting ? ` (${waiting} never)` : ''} | ${(longest / worst(calm.acknowledged)).toFixed(1)} | ${stood.toFixed(0)} ms |`,
    );
  }
  console.log(
    `\nThe server holds ${(server.memory() / 2 ** 20).toFixed(0)} MB at the end. The cores were taken away for ${(takenAway() - before).toFixed(0)} s meanwhile: with more than a few, all of this says little.`,
  );
  await server.stop();
  await home.close();
}
