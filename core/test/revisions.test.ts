import { diffWords } from 'diff';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import {
  beforeReading,
  canonical,
  collate,
  countWords,
  fairReading,
  listChanges,
  plainText,
  writeDocx,
  type Change,
} from '../src/index.js';
import { documentOf, stamps } from './support/editing.js';
import { linesOf, paragraphs } from './support/pandoc.js';
import { original, revisions } from './support/revisions.js';

/** Collating, held against what is not ours: diff (words), git’s --word-diff and pandoc, over twenty revisions of one text. */

const before = documentOf(...original);
const collated = revisions.map(([name, revise]) => {
  const lines = revise(original);
  const after = documentOf(...lines);
  return { name, lines, after, doc: collate(before, after, stamps()(0)) };
});

const struckBy = (changes: readonly Change[]) =>
  changes.reduce((sum, { kind, before: was }) => sum + (kind === 'move' ? 0 : countWords(was)), 0);
const putBy = (changes: readonly Change[]) =>
  changes.reduce((sum, { kind, after }) => sum + (kind === 'move' ? 0 : countWords(after)), 0);

test.each(collated)('$name: rejected the one, accepted the other', ({ after, doc }) => {
  expect(canonical(beforeReading(doc))).toEqual(canonical(before));
  expect(canonical(fairReading(doc))).toEqual(canonical(after));
});

test('no more changes than diff finds pieces, and hardly more words', () => {
  const rows = collated.map(({ name, after, doc }) => {
    const pieces = diffWords(plainText(before), plainText(after)).filter(({ added, removed }) => added || removed);
    // What went and what came in its place are one.
    const hunks = pieces.filter(({ added }, i) => !(added && pieces[i - 1]?.removed)).length;
    const words = pieces.reduce((sum, { value }) => sum + countWords(value), 0);
    const changes = listChanges(doc);
    return { name, hunks, words, changes: changes.length, ours: struckBy(changes) + putBy(changes) };
  });
  if (process.env.REVISIONS_TABLE)
    console.log(
      rows.map((row) => `| ${row.name} | ${row.changes} | ${row.ours} | ${row.hunks} | ${row.words} |`).join('\n'),
    );
  const sum = (of: (row: (typeof rows)[number]) => number) => rows.reduce((total, row) => total + of(row), 0);
  expect(sum(({ changes }) => changes)).toBeLessThanOrEqual(sum(({ hunks }) => hunks));
  // Myers 1986 is shortest; whole words, sentences that are one replacement and moves explain the rest.
  expect(sum(({ ours }) => ours)).toBeLessThanOrEqual(1.25 * sum(({ words }) => words));
});

test('git finds the same words struck and put in where single words were replaced', () => {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'revisions-'));
  try {
    for (const { name, lines, doc } of collated) {
      if (!/shall|one word|small words/.test(name)) continue;
      writeFileSync(path.join(folder, 'a'), `${original.join('\n')}\n`);
      writeFileSync(path.join(folder, 'b'), `${lines.join('\n')}\n`);
      const { stdout } = spawnSync(
        'git',
        [
          'diff',
          '--no-index',
          '--word-diff=porcelain',
          '--word-diff-regex=[[:alnum:]]+|[^[:space:]]',
          '-U9999',
          'a',
          'b',
        ],
        { cwd: folder, encoding: 'utf8' },
      );
      const marked = stdout.split('\n').slice(5);
      const wordsOf = (sign: string) =>
        marked.filter((line) => line.startsWith(sign)).flatMap((line) => line.slice(1).match(/[\p{L}\p{N}]+/gu) ?? []);
      const ours = listChanges(doc);
      const said = (of: (change: Change) => string) =>
        ours.flatMap((change) => of(change).match(/[\p{L}\p{N}]+/gu) ?? []);
      expect([name, said((change) => change.before)]).toEqual([name, wordsOf('-')]);
      expect([name, said((change) => change.after)]).toEqual([name, wordsOf('+')]);
    }
  } finally {
    rmSync(folder, { recursive: true });
  }
});

test('pandoc reads both texts back from the collated DOCX', async () => {
  for (const { lines, doc } of collated.filter((_, i) => i % 4 === 0)) {
    const bytes = await writeDocx({
      doc,
      people: [{ id: 'ann', name: 'Ann', initials: 'A' }],
      threads: [],
      assets: [],
    });
    expect(paragraphs(bytes, 'accept')).toEqual(linesOf(lines.join('\n')));
    expect(paragraphs(bytes, 'reject')).toEqual(linesOf(original.join('\n')));
  }
});
