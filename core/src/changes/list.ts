import type { Mark, Node } from 'prosemirror-model';
import { isReview, type ChangeId } from '../manuscript/signature.js';
import type { PersonId } from '../manuscript/people.js';
import type { Properties } from '../manuscript/properties.js';
import { Sections } from '../manuscript/outline.js';
import { isTableNode } from '../manuscript/grid.js';
import { countWords } from '../manuscript/words.js';
import { hasChanges, pendingIn } from './blocks.js';
import { gridFactsOf, type GridFacts } from './grid-facts.js';

/** The kinds of changes, in the order in which lists tell them. */
export const changeKinds = [
  'insertion',
  'deletion',
  'replacement',
  'move',
  'formatting',
  'paragraph',
  'table',
] as const;
export type ChangeKind = (typeof changeKinds)[number];

export interface Range {
  from: number;
  to: number;
}

/** Ranges in reading order, one at least. */
export type SomeRanges = readonly [Range, ...Range[]];

export interface Change {
  id: ChangeId;
  kind: ChangeKind;
  author: PersonId;
  date: string;
  /** Where its marks stand, in reading order; neighbouring ones joined. */
  ranges: SomeRanges;
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
  /** What it does to the grid of a table, where it does. */
  grid?: GridFacts;
  /** Where it takes footnotes in or out: how many, and how many words besides them. */
  footnotes?: FootnotesOfChange;
  /** Where it begins within a footnote. */
  inNote?: true;
  whereabouts: Whereabouts;
}

type Side = 'before' | 'after';
type FootnotesOfChange = Record<Side, { howMany: number; words: number }>;

export interface Whereabouts {
  /** The nearest heading at or above the change, or null. */
  heading: string | null;
  /** The keys of all headings it stands under, outermost first (see outline). */
  section: readonly string[];
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
  inNote: boolean;
}

/** How a picture reads in a run of letters: the object replacement character (Unicode 23.8, Specials). */
const picture = '\ufffc';

/** The words of something that is pending as a whole: of a table and its parts all that stand in it. */
export function wordsOf(node: Node): string {
  if (node.text !== undefined) return node.text;
  if (node.isTextblock) return '\n';
  if (node.type.name === 'image') return picture;
  return node.type.name === 'line_break' ? ' ' : node.textBetween(0, node.content.size, ' ');
}

/** The review marks of a block. */
function pieces(block: Node): Piece[] {
  const found: Piece[] = [];
  let noteEnd = 0;
  const note = (node: Node, from: number) => {
    const to = from + (node.isTextblock ? 1 : node.nodeSize);
    const inNote = from < noteEnd;
    // On the same words, what was proposed first comes first.
    const marks = node.marks.filter(isReview).sort((a, b) => (a.attrs.date <= b.attrs.date ? -1 : 1));
    for (const mark of marks) found.push({ mark, from, to, text: wordsOf(node), node, inNote });
    if (node.type.name === 'footnote') noteEnd = to;
  };
  note(block, 0);
  block.descendants((node, pos) => note(node, pos + 1));
  return found;
}

/** The last of a list that has one. */
export const lastOf = <T>(list: readonly [T, ...T[]]): T => list[list.length - 1] ?? list[0];

/** What one block holds of a change, with ranges relative to the block. */
type Part = Omit<Change, 'whereabouts'>;

/** A part while it is being put together. */
interface Growing extends Omit<Part, 'ranges' | 'objects' | 'marks' | 'footnotes'> {
  ranges: [Range, ...Range[]];
  objects: Set<string>;
  marks: Set<string>;
  /** How many footnotes, and the words besides. */
  counting: Record<Side, { howMany: number; words: string }>;
}

const openings = new Set(['openingInserted', 'openingDeleted']);
const nothing: Properties = {};

function add(part: Growing, { mark, text, from, to, node }: Piece): void {
  const type = mark.type.name;
  part.marks.add(type);
  if (!node.isText && !node.isTextblock) part.objects.add(node.type.name);
  const last = lastOf(part.ranges);
  if (last.to >= from) last.to = Math.max(last.to, to);
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
  const side = type === 'insertion' || type === 'openingInserted' ? 'after' : 'before';
  part[side] += text;
  if (node.type.name === 'footnote') part.counting[side].howMany++;
  else part.counting[side].words += text;
}

/** What a part does about footnotes, as a property of it. */
function footnotesOf({ before, after }: Growing['counting']): Pick<Part, 'footnotes'> {
  const of = ({ howMany, words }: typeof before) => ({ howMany, words: countWords(words) });
  return before.howMany + after.howMany ? { footnotes: { before: of(before), after: of(after) } } : {};
}

/** The same of several parts. */
function footnotesOfAll(all: readonly Part[]): Pick<Part, 'footnotes'> {
  if (!all.some(({ footnotes }) => footnotes)) return {};
  const of = (side: Side) => ({
    howMany: all.reduce((sum, { footnotes }) => sum + (footnotes?.[side].howMany ?? 0), 0),
    words: all.reduce((sum, part) => sum + (part.footnotes?.[side].words ?? countWords(part[side])), 0),
  });
  return { footnotes: { before: of('before'), after: of('after') } };
}

/** The words of a text, however they are spaced: a moved passage may lose or gain a space at its ends. */
export const sameWords = (a: string, b: string): boolean => {
  const words = (text: string) => text.replace(/\s+/g, ' ').trim();
  return words(a) !== '' && words(a) === words(b);
};

const blockTypes = new Set(['table', 'table_row', 'table_cell']);

function kindOf({ marks, objects, before, after, ranges }: Omit<Part, 'kind'>): ChangeKind {
  if (objects.some((name) => blockTypes.has(name))) return 'table';
  const inserts = marks.includes('insertion') || marks.includes('openingInserted');
  const deletes = marks.includes('deletion') || marks.includes('openingDeleted');
  if (!inserts && !deletes) return marks.includes('formatting') ? 'formatting' : 'paragraph';
  if (marks.every((name) => openings.has(name) || name === 'restyled')) return 'paragraph';
  // A space that a split takes along is part of it.
  const split = marks.includes('openingInserted') && !marks.includes('insertion') && !marks.includes('openingDeleted');
  if (split && /^ *$/.test(before)) return 'paragraph';
  if (inserts && deletes) return ranges.length > 1 && sameWords(before, after) ? 'move' : 'replacement';
  return inserts ? 'insertion' : 'deletion';
}

const withKind = (part: Omit<Part, 'kind'>): Part => ({ ...part, kind: kindOf(part) });

const partsOf = new WeakMap<Node, readonly Part[]>();

/** The changes of a block, in reading order; found once for each node. */
function parts(block: Node): readonly Part[] {
  const known = partsOf.get(block);
  if (known) return known;
  const found = new Map<ChangeId, Growing>();
  for (const piece of pieces(block)) {
    const { change: id, author, date } = piece.mark.attrs as { change: ChangeId; author: PersonId; date: string };
    let part = found.get(id);
    if (!part) {
      const { from, to, inNote } = piece;
      const empty = { kind: 'insertion' as const, before: '', after: '', was: nothing, now: nothing };
      const ranges: Growing['ranges'] = [{ from, to }];
      const counting = { before: { howMany: 0, words: '' }, after: { howMany: 0, words: '' } };
      part = { id, author, date, ranges, ...empty, objects: new Set(), marks: new Set(), counting };
      if (inNote) part.inNote = true;
      found.set(id, part);
    }
    add(part, piece);
  }
  const all = [...found.values()].map(({ counting, objects, marks, ...rest }) => {
    const part = withKind({ ...rest, objects: [...objects], marks: [...marks], ...footnotesOf(counting) });
    const grid = part.kind === 'table' && isTableNode(block) ? gridFactsOf(block, part.id) : null;
    return grid ? { ...part, grid } : part;
  });
  partsOf.set(block, all);
  return all;
}

const union = (lists: readonly (readonly string[])[]) => [...new Set(lists.flat())];

/** What several blocks hold of one change, in their order; all with ranges of the document. */
function joined<P extends Part>(all: readonly [P, ...P[]]): P {
  const [first] = all;
  if (all.length === 1) return first;
  const ranges: [Range, ...Range[]] = [{ ...first.ranges[0] }];
  for (const part of all)
    for (const range of part.ranges) {
      const last = lastOf(ranges);
      if (range.from <= last.to && last.from <= range.from) last.to = range.to;
      else ranges.push({ ...range });
    }
  const earliest = (which: 'was' | 'now') =>
    all.reduceRight((values: Properties, part) => Object.assign(values, part[which]), {});
  return {
    ...first,
    ...withKind({
      ...first,
      ranges,
      before: all.map(({ before }) => before).join(''),
      after: all.map(({ after }) => after).join(''),
      was: earliest('was'),
      now: earliest('now'),
      objects: union(all.map(({ objects }) => objects)),
      marks: union(all.map(({ marks }) => marks)),
      ...footnotesOfAll(all),
    }),
  };
}

const movedRange = ({ from, to }: Range, by: number): Range => ({ from: from + by, to: to + by });
const moved = ([first, ...more]: SomeRanges, by: number): SomeRanges => [
  movedRange(first, by),
  ...more.map((range) => movedRange(range, by)),
];

/** The changes of a block where it stood when it was last listed. */
interface Listed {
  start: number;
  section: readonly string[];
  paragraph: number;
  changes: readonly Change[];
}
const listed = new WeakMap<Node, Listed>();

/** The changes that a block holds, as they stand in the document; made anew only where it has moved. */
function changesOfBlock(block: Node, start: number, whereabouts: Whereabouts): readonly Change[] {
  const { section, paragraph } = whereabouts;
  const known = listed.get(block);
  if (known?.start === start && known.section === section && known.paragraph === paragraph) return known.changes;
  // Written out, for this is made a few thousand times at a keystroke.
  const changes = parts(block).map((part): Change => ({
    id: part.id,
    kind: part.kind,
    author: part.author,
    date: part.date,
    ranges: moved(part.ranges, start),
    before: part.before,
    after: part.after,
    was: part.was,
    now: part.now,
    objects: part.objects,
    marks: part.marks,
    ...(part.grid && { grid: part.grid }),
    ...(part.footnotes && { footnotes: part.footnotes }),
    ...(part.inNote && { inNote: true }),
    whereabouts,
  }));
  listed.set(block, { start, section, paragraph, changes });
  return changes;
}

/**
 * All pending changes in reading order. A change is all that shares a change id; its kind is read from the marks that
 * bear it. Each block is looked into once for as long as it lives.
 */
export function listChanges(doc: Node): Change[] {
  const changes: Change[] = [];
  const index = new Map<ChangeId, number>();
  /** Of changes that go on in later blocks, all their parts. */
  const scattered = new Map<number, [Change, ...Change[]]>();
  const sections = new Sections();
  let start = 0;
  for (let i = 0; i < doc.childCount; i++) {
    const block = doc.child(i);
    sections.pass(block);
    if (hasChanges(block)) {
      const { section } = sections;
      const whereabouts = { heading: section.at(-1) ?? null, section, paragraph: i + 1 };
      for (const change of changesOfBlock(block, start, whereabouts)) {
        const at = index.get(change.id);
        if (at === undefined) {
          index.set(change.id, changes.length);
          changes.push(change);
        } else {
          const parts = scattered.get(at);
          if (parts) parts.push(change);
          else scattered.set(at, [changes[at]!, change]);
        }
      }
    }
    start += block.nodeSize;
  }
  for (const [at, parts] of scattered) changes[at] = joined(parts);
  return changes;
}

/**
 * One change of the document, or null. Quicker than the list where only one is wanted.
 * Its whereabouts is left out.
 */
export function findChange(doc: Node, id: ChangeId): Omit<Change, 'whereabouts'> | null {
  const found: Part[] = [];
  doc.forEach((block, start) => {
    const part = pendingIn(block).has(id) ? parts(block).find((one) => one.id === id) : undefined;
    if (part) found.push({ ...part, ranges: moved(part.ranges, start) });
  });
  const [first, ...more] = found;
  return first ? joined([first, ...more]) : null;
}

/** Every change id in the document, with its author and date. */
export function changeIds(doc: Node): Map<ChangeId, { author: PersonId; date: string }> {
  const ids = new Map<ChangeId, { author: PersonId; date: string }>();
  doc.forEach((block) => {
    if (hasChanges(block)) for (const { id, author, date } of parts(block)) ids.set(id, { author, date });
  });
  return ids;
}
