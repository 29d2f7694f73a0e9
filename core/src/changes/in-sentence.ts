import type { Node, ResolvedPos } from 'prosemirror-model';
import type { Bearing } from '../manuscript/properties.js';
import { firstWords, lastWords } from './excerpt.js';
import type { Token } from '../row/row.js';
import type { Change } from './list.js';
import { sentenceEnds } from './sentence.js';
import { decideToken, type Judge } from './verdict.js';

/** A change in the sentence it stands in, before and after. */

/** A piece of a sentence; `changed` sets off what the change is about, and where that is not there, its place. */
export interface Piece {
  text: string;
  changed: boolean;
}

/** How much of the sentence stands on either side, at most. */
const reach = 90;
/** The pieces of one side, cut down to the sentence around what is set off. */
function trimToSentence(pieces: Piece[]): Piece[] {
  const first = pieces.findIndex((piece) => piece.changed);
  const last = pieces.length - 1 - [...pieces].reverse().findIndex((piece) => piece.changed);
  if (first < 0) return pieces;
  return pieces.flatMap((piece, i) => {
    let { text } = piece;
    if (i < first) {
      const ends = [...text.matchAll(sentenceEnds)].pop();
      if (ends) text = text.slice(ends.index + ends[0].length);
      text = lastWords(text, reach);
      if (ends && i < first - 1) text = '';
    } else if (i > last) {
      const end = text.search(sentenceEnds);
      if (end >= 0) text = text.slice(0, end + 1);
      text = firstWords(text, reach);
    }
    if (!piece.changed) text = text.replace(/^\s*[¶|]\s*|\s*[¶|]\s*$/g, '');
    return text || piece.changed ? [{ ...piece, text }] : [];
  });
}

/** How far one looks before and behind a change: more letters than will be shown. */
const sight = 2 * reach;

/** How far the parts of one change may be apart, or go on, and be looked at. */
const span = 400;

const kindOf = (node: Node): Token['kind'] =>
  node.isText ? 'letter' : node.isInline ? 'atom' : node.isTextblock ? 'opening' : 'block';

/** What becomes of what stands in a text, as the judge decides it; null where it goes. */
const decided = (node: Node, judge: Judge) => decideToken({ kind: kindOf(node), node }, judge);

/** How much of the sight a part of a paragraph takes up. */
const seenOf = (node: Node, judge: Judge): number => (node.isText && decided(node, judge) ? node.nodeSize : 1);

/** Where in its paragraph one begins to look at what stands before a place. */
function sightBefore($pos: ResolvedPos, judge: Judge): number {
  let index = $pos.index();
  for (let seen = 0; index > 0 && seen < sight;) seen += seenOf($pos.parent.child(--index), judge);
  return $pos.posAtIndex(index);
}

/** Where in its paragraph one ends to look at what stands behind a place. */
function sightBehind($pos: ResolvedPos, judge: Judge): number {
  const { parent } = $pos;
  let index = $pos.index();
  for (let seen = 0; index < parent.childCount && seen < sight;) seen += seenOf(parent.child(index++), judge);
  return $pos.posAtIndex(index);
}

/** So much of a footnote, or of what a picture shows, is said in the sentence it stands in. */
const said = 60;

/** What a footnote says once the judge has decided. */
function wordsOfNote(note: Node, judge: Judge): string {
  let words = '';
  note.descendants((node) => {
    if (words.length > said) return false;
    if (node.isTextblock && words) words += ' ';
    if (node.isText && decided(node, judge)) words += node.text;
    return true;
  });
  return firstWords(words, said);
}

/** What stands for an object among words: of what is set off, what it is; of the rest, what one would read. */
function wordsFor(node: Node, { attrs }: Bearing, set: boolean, judge: Judge): string {
  const named = (name: string, words: string) => (words ? `[${name}: ${words}]` : `[${name}]`);
  switch (node.type.name) {
    case 'image':
      return named('picture', set ? firstWords(attrs.alt as string, said) : '');
    case 'footnote':
      return set ? named('footnote', wordsOfNote(node, judge)) : '';
    case 'line_break':
      return set ? '[line break]' : ' ';
    default:
      return (attrs.says as string) || (set ? '[thing of its file]' : '');
  }
}

/** What a place is read in: the footnote it stands in, or the whole text. */
function readIn(doc: Node, $pos: ResolvedPos): { root: Node; start: number; end: number } {
  for (let depth = $pos.depth; depth > 0; depth--) {
    const root = $pos.node(depth);
    if (root.type.name === 'footnote') return { root, start: $pos.start(depth), end: $pos.end(depth) };
  }
  return { root: doc, start: 0, end: doc.content.size };
}

/** What stands between two paragraphs of one side, and between two cells. */
const breakBefore = (parent: Node | null, index: number) =>
  parent?.type.name === 'table_cell' && index === 0 ? ' | ' : ' ¶ ';

/**
 * One side of a change in its sentence: this one by the verdict, other pending changes as if accepted. Of its own words
 * only it decides: what two would delete is seen to go by either.
 */
function side(doc: Node, change: Change, verdict: 'accept' | 'reject'): Piece[] {
  const judge: Judge = (id) => (id === change.id ? verdict : 'accept');
  const alone: Judge = (id) => (id === change.id ? verdict : undefined);
  /** Where what is its own as a whole, a table say, ends. */
  let within = 0;
  const isIts = (node: Node, pos: number) => pos < within || node.marks.some((mark) => mark.attrs.change === change.id);
  const first = change.ranges[0];
  const $from = doc.resolve(first.from);
  const { root, start, end: rootEnd } = readIn(doc, $from);
  const near = change.ranges.filter((range) => range.from <= first.to + span && range.to <= rootEnd);
  const last = near.at(-1) ?? first;
  const far = change.ranges[near.length];
  const end = Math.min(rootEnd, far ? Math.min(far.from, last.to + span) : last.to);
  const pieces: Piece[] = [];
  const add = (text: string, changed: boolean) => {
    const last = pieces[pieces.length - 1];
    if (last?.changed === changed) last.text += text;
    else pieces.push({ text, changed });
  };
  // A change of an opening is seen from the paragraph above it.
  const above = $from.nodeBefore?.isTextblock ? $from.nodeBefore.nodeSize - 1 : 0;
  const from = $from.parent.isTextblock ? sightBefore($from, judge) : first.from - above;
  const $end = doc.resolve(end);
  const to = $end.parent.isTextblock ? sightBehind($end, judge) : end + 1;
  const visit = (node: Node, pos: number, parent: Node | null, index: number) => {
    if (!node.isInline && pos < from) return true;
    const its = isIts(node, pos);
    const bearing = decided(node, its ? alone : judge);
    if (node.isInline) {
      // Where its words are not there, their place is.
      if (bearing || its) add(bearing ? (node.text ?? wordsFor(node, bearing, its, judge)) : '', its);
      return false;
    }
    if (node.isTextblock) {
      if (bearing && (its || pieces.length)) add(breakBefore(parent, index), its);
      else if (its) add('', true);
    } else if (!bearing) {
      if (its) add('', true);
      return false;
    } else if (its) within = Math.max(within, pos + node.nodeSize);
    return pos < to;
  };
  root.nodesBetween(Math.max(0, from - 1 - start), Math.min(to, rootEnd) - start, visit, start);
  return trimToSentence(pieces);
}

/** A change in its sentence, before and after, with what differs set off. */
export const inSentence = (doc: Node, change: Change): { before: Piece[]; after: Piece[] } => ({
  before: side(doc, change, 'reject'),
  after: side(doc, change, 'accept'),
});
