import path from 'node:path';
import { Node } from 'prosemirror-model';
import { EditorState } from 'prosemirror-state';
import { Transform } from 'prosemirror-transform';
import { io } from 'socket.io-client';
import {
  decide,
  inversesOf,
  isSound,
  listChanges,
  mended,
  record,
  schema,
  takenBack,
  writeDocx,
} from '@tea-pencil/core';
import { build, root } from '../scripts/build.mjs';
import { book } from './book.mjs';
import { house } from './live/house.mjs';
import { timed } from './live/timed.mjs';

/** What single acts cost on a whole book, each against one walk through all of its text in the same run. */

/** The measure of all: every node of the text looked at once, and its letters counted. */
const walk = (doc) => {
  let letters = 0;
  doc.descendants((node) => {
    letters += node.text?.length ?? 0;
  });
  return letters;
};

const line = (what, time, unit) =>
  console.log(`| ${what} | ${time.toFixed(time < 10 ? 2 : 0)} ms | ${(time / unit).toFixed(2)} |`);

/** Undoes what led from a text to another, to the front of which a word has come. */
function undone(doc, { steps, doc: decided }) {
  const since = new Transform(decided).insert(1, schema.text('Now '));
  const inverses = toEnd(inversesOf(doc, steps));
  return toEnd(takenBack(inverses, since.mapping.maps, since.doc));
}
function toEnd(work) {
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
  }
}

async function core(words) {
  const doc = book(words, words / 16);
  const unit = await timed(() => walk(doc), 30);
  const [{ id }] = listChanges(doc).slice(Math.floor(words / 32));
  const json = doc.toJSON();
  console.log(
    `\n${words.toLocaleString('en')} words, ${(words / 16).toLocaleString('en')} changes; a walk takes ${unit.toFixed(2)} ms.\n`,
  );
  console.log('| act | median | walks |\n|---|--:|--:|');
  line('one change decided', await timed(() => decide(new Transform(doc), [id], 'accept'), 30), unit);
  const all = decide(
    new Transform(doc),
    listChanges(doc).map((change) => change.id),
    'reject',
  );
  line('that was all rejected, one word written, and taken back', await timed(() => undone(doc, all), 3), unit);
  line('a sound text checked before it is opened', await timed(() => isSound(doc)), unit);
  line('mended, though nothing is wrong', await timed(() => mended(doc, '2026-11-02T09:00:00Z'), 3), unit);
  line('read from JSON', await timed(() => Node.fromJSON(schema, json)), unit);
  line('written as DOCX, in a worker', await timed(() => writeDocx({ doc, people: [], threads: [] }), 3), unit);
}

async function paste() {
  const words = 300_000;
  const paragraph = (text) => schema.nodes.paragraph.create(null, schema.text(text));
  const state = EditorState.create({ doc: schema.nodes.doc.create(null, paragraph('The tide.')) });
  const pasted = Array.from({ length: words / 100 }, () => paragraph('tide '.repeat(100)));
  const unit = await timed(() => schema.nodes.doc.create(null, pasted).check(), 9);
  const stamp = { author: 'me', date: '2026-11-02T09:00:00Z', newChange: () => 'mine' };
  const time = await timed(() => record(state, state.tr.insert(state.doc.content.size, pasted), stamp), 3);
  console.log(
    `\nA paste of ${words.toLocaleString('en')} words in pencil: ${time.toFixed(0)} ms, ${(time / unit).toFixed(0)} times the check of its schema.`,
  );
}

/** A desk of 200 books, against the health route of the same server: a request that reads one row. */
async function desk(home) {
  const server = await home.serve();
  const people = await home.signIn(server.address);
  const doc = book(80_000, 5000);
  for (let k = 0; k < 200; k++) await home.keep(`book-${k}`, doc, people);
  const get = (at) =>
    fetch(server.address + at, { headers: { cookie: people[0].cookie } }).then((r) => r.arrayBuffer());
  const unit = await timed(() => get('/api/health'), 30);
  const time = await timed(() => get('/api/manuscripts'), 15);
  console.log(
    `\nA desk of 200 books of 80,000 words: ${time.toFixed(0)} ms, ${(time / unit).toFixed(1)} times the health route.`,
  );
  const find = (words) => timed(() => get(`/api/manuscripts/found?words=${words}`), 9);
  const [found, none] = [await find('tide'), await find('tide%20nowhere')];
  const copy = () =>
    fetch(`${server.address}/api/manuscripts/book-0/copy`, { method: 'POST', headers: { cookie: people[0].cookie } });
  if (!(await copy()).ok) throw new Error('A book could not be copied.');
  const copied = await timed(copy, 3);
  const told = (time) => `${time.toFixed(0)} ms (${(time / unit).toFixed(0)} times the health route)`;
  console.log(`A word that all have: ${told(found)}; none has both: ${told(none)}; a book copied: ${told(copied)}.`);
  const socket = io(server.address, {
    path: '/api/live',
    transports: ['websocket'],
    extraHeaders: { cookie: people[0].cookie },
  });
  await new Promise((resolve) => socket.once('connect', resolve));
  const join = () => socket.timeout(60_000).emitWithAck('join', { manuscript: 'book-0' });
  const first = await timed(join, 1);
  const again = await timed(join, 9);
  console.log(
    `Joining one of them: ${first.toFixed(0)} ms the first time, ${again.toFixed(0)} ms again (${(again / unit).toFixed(1)} times the health route).`,
  );
  socket.disconnect();
  await server.stop();
}

/** A comment on words as they were at the beginning, by length of the history since. */
async function history(home) {
  const prepare = await home.serve();
  const people = await home.signIn(prepare.address);
  await prepare.stop();
  const doc = book(8000, 500);
  const times = {};
  for (const howMany of [1000, 100_000]) {
    const id = `history-${howMany}`;
    await home.keep(id, doc, people, Math.floor(howMany / 500) * 500);
    await home.log(id, howMany, people[0].id);
    const server = await home.serve();
    const [{ cookie }] = await home.signIn(server.address);
    let n = 0;
    const comment = async () => {
      const body = {
        type: 'doc',
        content: [{ type: 'line', attrs: { list: null }, content: [{ type: 'text', text: 'Which?' }] }],
      };
      const thread = {
        id: `${id}-${n}`,
        at: { version: 0, from: 5, to: 9 },
        comment: { id: `${id}-says-${n++}`, body },
      };
      const answer = await fetch(`${server.address}/api/manuscripts/${id}/threads`, {
        method: 'POST',
        headers: { cookie, 'content-type': 'application/json' },
        body: JSON.stringify(thread),
      });
      if (!answer.ok) throw new Error(await answer.text());
    };
    await comment(); // opens it
    times[howMany] = await timed(comment, 9);
    await server.stop();
  }
  const [short, long] = Object.values(times);
  console.log(
    `\nA comment at a place of version 0: ${short.toFixed(1)} ms after 1,000 steps, ${long.toFixed(1)} ms after 100,000 (${(long / short).toFixed(2)} times).`,
  );
}

export async function run() {
  build(['core', 'server']);
  for (const words of [80_000, 200_000]) await core(words);
  await paste();
  const home = await house(path.join(root, '.tea-pencil-test'));
  try {
    await desk(home);
    await history(home);
  } finally {
    await home.close();
  }
}
