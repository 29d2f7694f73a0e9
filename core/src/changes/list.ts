import type { Mark, Node } from 'prosemirror-model';
import type { ChangeId, PersonId } from '../manuscript/manuscript.js';
import type { Properties } from '../manuscript/properties.js';
import { hasChanges } from './blocks.js';

export type ChangeKind = 'insertion' | 'deletion' | 'replacement' | 'move' | 'formatting' | 'paragraph' | 'table';

export interface Range {
  from: number;
  to: number;
}

export interface Change {
  id: ChangeId;
  kind: ChangeKind;
  author: PersonId;
  date: string;
  /** Where its marks stand, in reading order; neighbouring ones joined. */
  ranges: Range[];
  /** The words it takes away (for formatting: the words it is about); a paragraph opening reads as a line feed. */
  before: string;
  /** The words it adds (for formatting: the words it is about). */
  after: string;
  /** For formatting and paragraph properties: the values before and after. */
  was: Properties;
  now: Properties;
  /** What stands in it besides letters and openings: image, footnote, line_break, table, table_row, table_cell. */
  objects: readonly string[];
  /** The names of the review marks it is made of. */
  marks: readonly string[];
  place: Place;
}

export interface Place {
  /** The text of the nearest heading at or above the change, or null. */
  heading: string | null;
  /** The number of its paragraph in the document, from 1. */
  paragraph: number;
}

/** One stretch of one mark in a block, at a position relative to the block. */
interface Piece {
  mark: Mark;
  from: number;
  to: number;
  text: string;
  /** What it stands on. */
  node: Node;
}

/** How a picture reads in a run of letters: the object replacement character (Unicode 23.8, Specials). */
const picture = '\ufffc';

const isChange = (mark: Mark) => mark.attrs.change !== undefined;

/** The words of something that is pending as a whole: of a table and its parts all that stand in it. */
export function wordsOf(node: Node): string {
  if (node.isText) return node.text!;
  if (node.isTextblock) return '\n';
  if (node.type.name === 'image') return picture;
  return node.type.name === 'line_break' ? ' ' : node.textBetween(0, node.content.size, ' ');
}

/** The review marks of a block. */
function pieces(block: Node): Piece[] {
  const found: Piece[] = [];
  const note = (node: Node, from: number) => {
    const to = from + (node.isTextblock ? 1 : node.nodeSize);
    // On the same words, what was proposed first comes first.
    const marks = node.marks.filter(isChange).sort((a, b) => (a.attrs.date <= b.attrs.date ? -1 : 1));
    for (const mark of marks) found.push({ mark, from, to, text: wordsOf(node), node });
  };
  note(block, 0);
  block.descendants((node, pos) => note(node, pos + 1));
  return found;
}

/** What one block holds of a change, with ranges relative to the block. */
interface Part extends Omit<Change, 'kind' | 'place' | 'objects' | 'marks'> {
  types: ReadonlySet<string>;
  objects: ReadonlySet<string>;
  /** Whether words, not only openings, are inserted or deleted. */
  words: boolean;
  /** Whether it stands on a table, a row or a cell. */
  table: boolean;
}

const openings = new Set(['openingInserted', 'openingDeleted']);
const nothing: Properties = {};

type Growing = Part & { types: Set<string>; objects: Set<string> };

function add(part: Growing, { mark, text, from, to, node }: Piece): void {
  const type = mark.type.name;
  part.types.add(type);
  if (!node.isText && !node.isTextblock) part.objects.add(node.type.name);
  part.table ||= !node.isInline && !node.isTextblock;
  const last = part.ranges[part.ranges.length - 1];
  if (last && last.to >= from) last.to = Math.max(last.to, to);
  else part.ranges.push({ from, to });
  if (type === 'formatting' || type === 'restyled') {
    part.was = { ...(mark.attrs.was as Properties), ...part.was };
    part.now = { ...(mark.attrs.now as Properties), ...part.now };
    if (type === 'formatting') {
      part.before += text;
      part.after += text;
    }
    return;
  }
  if (!openings.has(type)) part.words = true;
  if (type === 'insertion' || type === 'openingInserted') part.after += text;
  else part.before += text;
}

const partsOf = new WeakMap<Node, Part[]>();

/** The changes of a block, in reading order; found once for each node. */
function parts(block: Node): Part[] {
  const known = partsOf.get(block);
  if (known) return known;
  const found = new Map<ChangeId, Growing>();
  for (const piece of pieces(block)) {
    const { change: id, author, date } = piece.mark.attrs as { change: ChangeId; author: PersonId; date: string };
    let part = found.get(id);
    if (!part) {
      const empty = { ranges: [], before: '', after: '', was: nothing, now: nothing, words: false, table: false };
      found.set(id, (part = { id, author, date, types: new Set(), objects: new Set(), ...empty }));
    }
    add(part, piece);
  }
  const all = [...found.values()];
  partsOf.set(block, all);
  return all;
}

/** A change that began in an earlier block, with what a later one holds of it. */
const joined = (first: Part, next: Part): Part => ({
  ...first,
  before: first.before + next.before,
  after: first.after + next.after,
  was: { ...next.was, ...first.was },
  now: { ...next.now, ...first.now },
  types: new Set([...first.types, ...next.types]),
  objects: new Set([...first.objects, ...next.objects]),
  words: first.words || next.words,
  table: first.table || next.table,
});

/** The words of a text, however they are spaced: a moved passage may lose or gain a space at its ends. */
export const sameWords = (a: string, b: string): boolean => {
  const words = (text: string) => text.replace(/\s+/g, ' ').trim();
  return words(a) !== '' && words(a) === words(b);
};

function kindOf({ types, words, table, before, after }: Part, ranges: readonly Range[]): ChangeKind {
  if (table) return 'table';
  const inserts = types.has('insertion') || types.has('openingInserted');
  const deletes = types.has('deletion') || types.has('openingDeleted');
  if (!inserts && !deletes) return types.has('formatting') ? 'formatting' : 'paragraph';
  if (!words) return 'paragraph';
  if (inserts && deletes) return ranges.length > 1 && sameWords(before, after) ? 'move' : 'replacement';
  return inserts ? 'insertion' : 'deletion';
}

const isHeading = (block: Node) => /^(title|heading)/.test(String(block.attrs.style));

/**
 * All pending changes in reading order. A change is all that shares a change id; its kind is read from the marks that
 * bear it. Only blocks that are new since the last call are looked into.
 */
export function listChanges(doc: Node): Change[] {
  const changes: Change[] = [];
  const whole: Part[] = [];
  const index = new Map<ChangeId, number>();
  let heading: string | null = null;
  let paragraph = 0;
  doc.forEach((block, start) => {
    paragraph++;
    if (isHeading(block)) heading = block.textContent;
    if (!hasChanges(block)) return;
    const place = { heading, paragraph };
    for (const part of parts(block)) {
      const ranges = part.ranges.map(({ from, to }) => ({ from: start + from, to: start + to }));
      const at = index.get(part.id);
      if (at === undefined) {
        index.set(part.id, whole.length);
        whole.push(part);
        changes.push(changeOf(part, ranges, place));
      } else {
        whole[at] = joined(whole[at]!, part);
        changes[at] = changeOf(whole[at], joinedRanges(changes[at]!.ranges, ranges), changes[at]!.place);
      }
    }
  });
  return changes;
}

function joinedRanges(first: readonly Range[], next: readonly Range[]): Range[] {
  const last = first[first.length - 1]!;
  if (next[0]!.from > last.to) return [...first, ...next];
  return [...first.slice(0, -1), { from: last.from, to: next[0]!.to }, ...next.slice(1)];
}

const changeOf = (part: Part, ranges: Range[], place: Place): Change => ({ ...withoutPlace(part, ranges), place });

const withoutPlace = (part: Part, ranges: Range[]): Omit<Change, 'place'> => ({
  id: part.id,
  kind: kindOf(part, ranges),
  author: part.author,
  date: part.date,
  ranges,
  before: part.before,
  after: part.after,
  was: part.was,
  now: part.now,
  objects: [...part.objects],
  marks: [...part.types],
});

/**
 * One change of the document, or null. Quicker than the list where only one is wanted.
 * Its place is left out.
 */
export function findChange(doc: Node, id: ChangeId): Omit<Change, 'place'> | null {
  let whole: Part | null = null;
  let ranges: Range[] = [];
  doc.forEach((block, start) => {
    if (!hasChanges(block)) return;
    const part = parts(block).find((one) => one.id === id);
    if (!part) return;
    const here = part.ranges.map(({ from, to }) => ({ from: start + from, to: start + to }));
    ranges = whole ? joinedRanges(ranges, here) : here;
    whole = whole ? joined(whole, part) : part;
  });
  return whole && withoutPlace(whole, ranges);
}

/** Every change id in the document, with its author and date. */
export function changeIds(doc: Node): Map<ChangeId, { author: PersonId; date: string }> {
  const ids = new Map<ChangeId, { author: PersonId; date: string }>();
  doc.forEach((block) => {
    if (hasChanges(block)) for (const { id, author, date } of parts(block)) ids.set(id, { author, date });
  });
  return ids;
}
