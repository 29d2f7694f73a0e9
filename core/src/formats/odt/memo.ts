import type { Manuscript } from '../../manuscript/manuscript.js';
import type { OdtMemo, Origin, Source } from '../../manuscript/origin.js';
import { numberOf } from '../kept/fragments.js';
import { endedIn } from './read-annotations.js';
import type { WhatWasRead } from './what-was-read.js';
import { Target } from './target.js';
import { written, type Piece } from './written.js';

/** What is found out when a file is read, so that writing it again leaves alone what nobody changed. */

/** Of which make reading and writing are: another number wherever either changes what it makes of the same. */
export const make = 1;

/** A number for what all of a text is written like. */
export const wholeOf = (pieces: readonly Piece[]): number => numberOf(pieces.map(({ print }) => print).join('\u0000'));

const marks =
  /<[\w.-]+:(?:change-(start|end)\b[^>]*?change-id\s*=\s*["']([^"']*)|(annotation)(-end)?\b[^>]*?\boffice:name\s*=\s*["']([^"']*))/g;

/** What begins in a piece and ends elsewhere, or the other way round. */
function loose(xml: string, ended: ReadonlySet<string>): Map<string, 'begins' | 'ends'> {
  const open = new Map<string, 'begins' | 'ends'>();
  for (const [, edge, change, annotation, end, name] of xml.matchAll(marks)) {
    // An annotation without an end begins and ends at its place.
    if (annotation && !ended.has(name!)) continue;
    const id = annotation ? `annotation ${name}` : `change ${change}`;
    const isEnd = annotation ? end !== undefined : edge === 'end';
    if (isEnd && open.get(id) === 'begins') open.delete(id);
    else open.set(id, isEnd ? 'ends' : 'begins');
  }
  return open;
}

/** Puts pieces over which something goes into groups; each has the number of the first of its group. */
function grouped(sources: Source[], content: string, ended: ReadonlySet<string>): void {
  const begun = new Map<string, number>();
  const runs: [from: number, to: number][] = [];
  sources.forEach((one, k) => {
    for (const [id, edge] of loose(content.slice(one.start, one.end), ended)) {
      if (edge === 'begins') {
        begun.set(id, k);
        continue;
      }
      const from = begun.get(id);
      if (from === undefined) one.print = '';
      else runs.push([from, k]);
      begun.delete(id);
    }
  });
  // What begins and ends in no piece is always written anew.
  for (const k of begun.values()) sources[k]!.print = '';
  let last = -1;
  for (const [from, to] of runs.sort((a, b) => a[0] - b[0])) {
    const group = from <= last ? sources[last]!.group! : from;
    for (let k = Math.max(from, last); k <= to; k++) sources[k]!.group = group;
    last = Math.max(last, to);
  }
}

const ofChanges = /<[\w.-]+:change-(start|end)\b/;

/** @param asRead whether the text is what was read, and nothing in it had to be mended */
export function memoOf(
  manuscript: Manuscript,
  { context, blocks, found, frame }: WhatWasRead,
  asRead: boolean,
  names: Pick<Origin, 'assets' | 'people' | 'changes'>,
): OdtMemo {
  const { file, definitions, fragments } = context;
  const memo: OdtMemo = { make, frame, fragments: fragments.all, whole: null, blocks: [], inner: [] };
  if (!asRead) return memo;
  const { people, assets } = manuscript;
  const target = new Target(file, definitions, fragments.all, people, assets, names.assets, names, frame);
  const again = written(manuscript, target, true);
  memo.whole = wholeOf(again.blocks);
  const indexOf = new Map(blocks.map((node, i) => [node, i]));
  const prints = new Map<string, string>();
  let at = 0;
  for (const { nodes, print } of again.blocks) {
    prints.set(`${at} ${nodes.length}`, print);
    at += nodes.length;
  }
  memo.blocks = found.units
    .filter(({ nodes }) => nodes.length)
    .map(({ start, end, nodes }): Source => {
      const first = indexOf.get(nodes[0]!);
      return { start, end, print: prints.get(`${first} ${nodes.length}`) ?? '' };
    });
  memo.blocks.forEach((one, k) => {
    const before = memo.blocks[k - 1];
    // Beside the mark of a change that stands between them, pieces are always written anew.
    if (!before || !ofChanges.test(file.content.slice(before.end, one.start))) return;
    before.print = '';
    one.print = '';
  });
  const ended = endedIn(file.content);
  grouped(memo.blocks, file.content, ended);
  const innerPrint = new Map<unknown, Piece>(again.inner.map((one) => [one.nodes[0], one]));
  memo.inner = found.inner
    .filter(({ nodes }) => nodes.length)
    .map(({ start, end, nodes }): Source => {
      const same = innerPrint.get(nodes[0]);
      const isWhole = same?.nodes.length === nodes.length && !loose(file.content.slice(start, end), ended).size;
      return { start, end, print: isWhole ? same.print : '' };
    });
  return memo;
}
