import { EditorState, TextSelection } from 'prosemirror-state';
import { Transform } from 'prosemirror-transform';
import { decide, fairReading, listChanges, record } from '@tea-pencil/core';
import { book } from './book.mjs';
import { run as runScreen } from './screen.mjs';

/** What recording costs, in one run, as ratios to the same keystroke in a bare editor state. */

/** The median time of one run of `work`, in milliseconds; `before` makes what it works on and is not timed. */
function median(times, before, work) {
  const taken = [];
  for (let i = 0; i < times; i++) {
    const given = before(i);
    const began = performance.now();
    work(given);
    taken.push(performance.now() - began);
  }
  return taken.sort((a, b) => a - b)[Math.floor(times / 2)];
}

let ids = 0;
const stamp = { author: 'me', date: '2026-11-02T09:00:00Z', newChange: () => `m${ids++}` };

function measure(howManyWords, howManyChanges) {
  const doc = book(howManyWords, howManyChanges);
  const changes = listChanges(doc).length;
  const start = EditorState.create({ doc, selection: TextSelection.create(doc, Math.floor(doc.content.size / 2)) });
  const typing = (how) => {
    let state = start;
    return median(
      400,
      (n) => 'tide '[n % 5],
      (letter) => (state = state.apply(how(state, state.tr.insertText(letter)))),
    );
  };
  typing((_, tr) => tr);
  typing((state, tr) => record(state, tr, stamp));
  const bare = typing((_, tr) => tr);
  const pencil = typing((state, tr) => record(state, tr, stamp));
  let state = start;
  const list = median(
    100,
    () => (state = state.apply(record(state, state.tr.insertText('x'), stamp))).doc,
    (now) => listChanges(now),
  );
  const all = median(
    5,
    () => new Transform(doc),
    (tr) => decide(tr, 'all', 'accept'),
  );
  const reading = median(
    5,
    () => doc,
    (now) => fairReading(now),
  );
  return { changes, bare, pencil, list, all, reading };
}

export async function run() {
  const rows = [measure(80_000, 5000), measure(200_000, 12_500)];
  const [small, large] = rows;
  const line = (name, value) => console.log(`${name.padEnd(58)} ${value}`);
  for (const [i, { changes, bare, pencil, list, all, reading }] of rows.entries()) {
    console.log(`\n${i ? '200,000' : '80,000'} words, ${changes} pending changes`);
    line(
      'keystroke in pencil, of a bare one (transaction alone)',
      `${(pencil / bare).toFixed(2)} (${bare.toFixed(3)} ms, ${pencil.toFixed(3)} ms)`,
    );
    line('listChanges after a keystroke', `${list.toFixed(2)} ms`);
    line('decide all', `${all.toFixed(0)} ms`);
    line('fair reading of the whole', `${reading.toFixed(0)} ms`);
  }
  console.log('\nGrowth from 80,000 to 200,000 words (2.5 would be linear)');
  for (const name of ['pencil', 'list', 'all', 'reading']) line(name, (large[name] / small[name]).toFixed(2));
  await runScreen();
}
