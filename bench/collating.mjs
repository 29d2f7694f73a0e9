import { diffWords } from 'diff';
import { beforeReading, collate, fairReading, listChanges, plainText } from '@tea-pencil/core';
import { book } from './book.mjs';
import { timed } from './live/timed.mjs';

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
    // What it takes grows with the square; beyond that one would wait too long for it.
    const theirs = words > 40_000 ? null : await timed(() => diffWords(plainText(before), plainText(after)), 1);
    const than = theirs === null ? '' : (ours / theirs).toFixed(3);
    console.log(
      `| ${words.toLocaleString('en')} | ${differences} | ${found} | ${ours.toFixed(0)} ms | ${theirs?.toFixed(0) ?? ''} ms | ${than} |`,
    );
  }
}
