import { diffWords } from 'diff';
import { Transform } from 'prosemirror-transform';
import {
  become,
  beforeReading,
  beside,
  collate,
  fairReading,
  listChanges,
  plainText,
  returned,
  revised,
} from '@tea-pencil/core';
import { book } from './book.mjs';
import { timed } from './live/timed.mjs';

/** So long `diffWords` is waited for, in milliseconds. */
const longest = 60_000;

/** What laying two books together costs, against `diffWords` of the package diff over the same texts in the same run. */
export async function run() {
  console.log('| words | differences | changes found | collate | diffWords | ratio |\n|--:|--:|--:|--:|--:|--:|');
  for (const words of [10_000, 20_000, 40_000, 80_000, 200_000]) {
    const differences = Math.round((5363 * words) / 80_000);
    const doc = book(words, differences);
    const [before, after] = [beforeReading(doc), fairReading(doc)];
    let n = 0;
    const stamp = { author: 'ann', date: '2026-11-02T09:00:00Z', newChange: () => `c${n++}` };
    const found = listChanges(collate(before, after, stamp)).length;
    const ours = await timed(() => collate(before, after, stamp), 5);
    // What it takes grows with the square; after a minute one knows enough.
    const began = performance.now();
    const ended = words > 80_000 ? null : diffWords(plainText(before), plainText(after), { timeout: longest });
    const theirs = performance.now() - began;
    const than = words > 80_000 ? '' : `${ended ? '' : 'less than '}${(ours / theirs).toFixed(3)}`;
    const took = words > 80_000 ? '' : `${ended ? '' : 'more than '}${theirs.toFixed(0)} ms`;
    console.log(
      `| ${words.toLocaleString('en')} | ${differences} | ${found} | ${ours.toFixed(0)} ms | ${took} | ${than} |`,
    );
  }
  await drafts();
}

/** What drafts do with a book of 80,000 words and 5,000 changes pending, against collating its two readings. */
async function drafts() {
  const doc = book(80_000, 5000);
  const [before, after] = [beforeReading(doc), fairReading(doc)];
  let n = 0;
  const stamp = { author: 'zoe', date: '2026-11-02T09:00:00Z', newChange: () => `z${n++}` };
  const one = await timed(() => collate(before, after, stamp), 3);
  const acts = {
    'the readings collated': () => collate(before, after, stamp),
    'brought back in pencil': () => become(new Transform(doc), revised(doc, before, stamp)),
    'brought back in ink': () => become(new Transform(doc), before),
    'a file that came back, with all changes': () => returned(doc, doc, doc, stamp),
    'a file that came back, all accepted': () => returned(doc, doc, after, stamp),
    'side by side': () => beside(collate(before, after, stamp)),
  };
  console.log('\n| act | time | ratio |\n|---|--:|--:|');
  for (const [name, act] of Object.entries(acts)) {
    const time = await timed(act, 3);
    console.log(`| ${name} | ${time.toFixed(0)} ms | ${(time / one).toFixed(1)} |`);
  }
}
