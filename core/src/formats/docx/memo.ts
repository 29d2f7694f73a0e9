import type { Manuscript } from '../../manuscript/manuscript.js';
import type { Origin, DocxMemo, Source } from '../../manuscript/origin.js';
import type { ReadBlock } from './read-blocks.js';
import type { WhatWasRead } from './what-was-read.js';
import { Target } from './target.js';
import { written } from './written.js';

/** What is found out when a file is read, so that writing it again leaves alone what nobody changed. */

/** Of which make reading and writing are: another number wherever either changes what it makes of the same. */
export const make = 1;

const ofRanges = /<\w*:?(commentRange(Start|End)|move(From|To)Range(Start|End))\b/;

/** The greatest number by which something in the text is known. */
function mostOf(source: string): number {
  let most = 0;
  for (const numbered = /\bid="(\d{1,8})"/g; ;) {
    const found = numbered.exec(source);
    if (!found) return most;
    most = Math.max(most, Number(found[1]));
  }
}

/** Blocks with how they are written; those beside the end of a range that stands between them are never left alone. */
function sourcesOf(blocks: readonly ReadBlock[], prints: readonly string[], source: string): Source[] {
  const sources = blocks.map(({ start, end }, k): Source => ({ print: prints[k]!, start, end }));
  sources.forEach((one, k) => {
    const before = sources[k - 1];
    if (!before || !ofRanges.test(source.slice(before.end, one.start))) return;
    before.print = '';
    one.print = '';
  });
  return sources;
}

/**
 * @param read where things stood
 * @param asRead whether the text is what was read, and nothing in it had to be mended
 * @param names under which the file knows pictures, people and changes
 */
export function memoOf(
  manuscript: Manuscript,
  read: WhatWasRead,
  asRead: boolean,
  names: Pick<Origin, 'assets' | 'people' | 'changes'>,
): DocxMemo {
  const { context, threads, blocks, inner, notes } = read;
  const { file, definitions, fragments } = context;
  const memo: DocxMemo = {
    make,
    frame: read.frame,
    most: mostOf(read.source),
    fragments: fragments.all,
    blocks: [],
    inner: [],
    notes: { foot: [], end: [] },
    comments: [],
  };
  const target = new Target(
    file,
    definitions,
    fragments.all,
    manuscript.people,
    manuscript.assets,
    names.assets,
    names,
    { bound: read.frame.body.bound, depth: 0 },
  );
  const keyOf = (thread: { id: string }, nth: number) => `${nth} ${thread.id}`;
  const sourceOf = new Map(threads.sources.map((one, i) => [keyOf(one.thread, one.nth), i]));
  // Each comment is that of the file, so that the text refers to it by the number it has there.
  const again = written(
    manuscript,
    target,
    (comments) => {
      const same = comments.map(({ thread, nth }) => sourceOf.get(keyOf(thread, nth)) ?? null);
      const { sources, ranged } = threads;
      return {
        same,
        numbers: same.map((i) => (i === null ? -1 : Number(sources[i]!.id))),
        ranged: same.map((i) => i === null || ranged.has(sources[i]!.id)),
      };
    },
    true,
  );
  const prints = new Map(again.numbered.same.map((i, k) => [i, again.comments[k]!.print]));
  memo.comments = threads.sources.map(({ id, start, end, paragraph }, i) => ({
    id,
    start,
    end,
    paragraph,
    ranged: threads.ranged.has(id),
    print: prints.get(i) ?? '',
  }));
  if (!asRead) return memo;
  memo.blocks = sourcesOf(
    blocks,
    again.blocks.map(({ print }) => print),
    read.source,
  );
  const innerPrint = new Map(again.inner.map(({ node, print }) => [node, print]));
  memo.inner = inner.map(({ node, start, end }) => ({ start, end, print: innerPrint.get(node) ?? '' }));
  for (const kind of ['foot', 'end'] as const) {
    const notePrint = new Map(again.notes[kind].map(({ node, print }) => [node, print]));
    memo.notes[kind] = (notes[kind]?.read ?? []).map(({ node, id, start, end }) => ({
      id,
      start,
      end,
      print: notePrint.get(node) ?? '',
    }));
  }
  return memo;
}
