import type { Node } from 'prosemirror-model';
import type { Mappable } from 'prosemirror-transform';
import type { Range } from '../changes/list.js';
import type { ParagraphStyle } from '../manuscript/values.js';
import { mappedRange } from '../threads/place.js';

/**
 * The text of one paragraph as it reads once pending deletions are accepted, so that nobody finds words that have been
 * struck out, and a match may run across them.
 */
export interface Line {
  text: string;
  style: ParagraphStyle;
  /** The number of the paragraph or table of the document that it is or stands in, from 1. */
  paragraph: number;
  /** What is carried among its words and says something, and at which sign of the text. */
  things?: { at: number; says: string }[];
}

/** A stretch of a line and where it stands in the document. */
interface Segment {
  offset: number;
  pos: number;
  length: number;
  /** How much of the document it takes: a note is one sign, and holds words of its own. */
  size: number;
}

const isDeleted = (node: Node) => node.marks.some((mark) => mark.type.name === 'deletion');

/** What stands for what is no letter. */
const signFor = (node: Node) => (node.type.name === 'line_break' ? '\n' : '\ufffc');

function read(paragraph: Node, start: number): { text: string; segments: Segment[]; things: Line['things'] } {
  const segments: Segment[] = [];
  const things: NonNullable<Line['things']> = [];
  let text = '';
  paragraph.forEach((node, offset) => {
    if (isDeleted(node)) return;
    const words = node.text ?? signFor(node);
    if (node.attrs.says && node.attrs.part === 'whole')
      things.push({ at: text.length, says: node.attrs.says as string });
    segments.push({ offset: text.length, pos: start + offset, length: words.length, size: node.nodeSize });
    text += words;
  });
  return { text, segments, things: things.length ? things : undefined };
}

/** The paragraphs of a document in order, those in tables and footnotes too, with the position where each begins. */
function paragraphsOf(doc: Node): { node: Node; pos: number; paragraph: number }[] {
  const found: { node: Node; pos: number; paragraph: number }[] = [];
  let paragraph = 0;
  doc.descendants((node, pos, parent) => {
    if (parent === doc) paragraph++;
    if (node.isTextblock) found.push({ node, pos, paragraph });
  });
  return found;
}

/** The lines of a document, one a paragraph. */
export const linesOf = (doc: Node): Line[] =>
  paragraphsOf(doc).map(({ node, pos, paragraph }) => {
    const { text, things } = read(node, pos + 1);
    return { text, style: node.attrs.style as ParagraphStyle, paragraph, ...(things && { things }) };
  });

/** A stretch of a line: its number and offsets into its text. */
export interface Stretch {
  line: number;
  from: number;
  to: number;
}

/** Where stretches of lines stand: for each the ranges of the document it is made of, in order. */
export function placesOf(doc: Node, stretches: readonly Stretch[]): Range[][] {
  const paragraphs = paragraphsOf(doc);
  const known = new Map<number, Segment[]>();
  return stretches.map(({ line, from, to }) => {
    const { node, pos } = paragraphs[line]!;
    if (!known.has(line)) known.set(line, read(node, pos + 1).segments);
    const ranges: Range[] = [];
    for (const segment of known.get(line)!) {
      const begin = Math.max(from, segment.offset);
      const end = Math.min(to, segment.offset + segment.length);
      if (begin >= end) continue;
      const at = segment.pos + begin - segment.offset;
      const stop = end === segment.offset + segment.length ? segment.pos + segment.size : at + end - begin;
      const last = ranges[ranges.length - 1];
      if (last?.to === at) last.to = stop;
      else ranges.push({ from: at, to: stop });
    }
    return ranges;
  });
}

/** Whether there is nothing in a range that is struck out by now. */
function stands(doc: Node, { from, to }: Range): boolean {
  let struck = false;
  doc.nodesBetween(from, to, (node) => void (struck ||= isDeleted(node)));
  return !struck;
}

/**
 * Where stretches stand once a text has become another one.
 * @param of the text they are of
 * @param map from its places to those of the text now
 * @returns their ranges in the text now; none where the words are not there any more, or not the same
 */
export function placesSince(of: Node, now: Node, map: Mappable, stretches: readonly Stretch[]): Range[][] {
  const words = (doc: Node, { from, to }: Range) => doc.textBetween(from, to, '\n', signFor);
  const before = paragraphsOf(of);
  // What nobody has touched is the very same node: of a book only the paragraphs written in are compared.
  const untouched = new Set(paragraphsOf(now).map(({ node }) => node));
  return placesOf(of, stretches).map((ranges, i) => {
    const isUntouched = untouched.has(before[stretches[i]!.line]!.node);
    const moved = ranges.map((range) => mappedRange(range, (pos, side) => map.map(pos, side)));
    const isThere = moved.every((range, k) => {
      const was = ranges[k]!;
      if (isUntouched && range.to - range.from === was.to - was.from) return true;
      return words(now, range) === words(of, was) && stands(now, range);
    });
    return isThere ? moved : [];
  });
}
