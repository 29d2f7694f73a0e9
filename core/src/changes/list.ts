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
  /** Whether it stands on a table, a row or a cell. */
  block: boolean;
}

const piecesOf = new WeakMap<Node, Piece[]>();

const isChange = (mark: Mark) => mark.attrs.change !== undefined;

/** The words of something that is pending as a whole: of a table and its parts all that stand in it. */
function wordsOf(node: Node): string {
  if (node.isText) return node.text!;
  if (node.isTextblock) return '\n';
  return node.type.name === 'line_break' ? ' ' : node.textBetween(0, node.content.size, ' ');
}

/** The review marks of a block, found once for each node. */
function pieces(block: Node): Piece[] {
  const known = piecesOf.get(block);
  if (known) return known;
  const found: Piece[] = [];
  const note = (node: Node, from: number) => {
    const to = from + (node.isTextblock ? 1 : node.nodeSize);
    // On the same words, what was proposed first comes first.
    const marks = node.marks.filter(isChange).sort((a, b) => (a.attrs.date <= b.attrs.date ? -1 : 1));
    for (const mark of marks)
      found.push({ mark, from, to, text: wordsOf(node), block: !node.isInline && !node.isTextblock });
  };
  note(block, 0);
  block.descendants((node, pos) => note(node, pos + 1));
  piecesOf.set(block, found);
  return found;
}

const openings = new Set(['openingInserted', 'openingDeleted']);

interface Gathered extends Change {
  types: Set<string>;
  /** Whether words, not only openings, are inserted or deleted. */
  words: boolean;
  table: boolean;
}

function add(change: Gathered, { mark, text, from, to, block }: Piece, start: number): void {
  const type = mark.type.name;
  change.table ||= block;
  change.types.add(type);
  const last = change.ranges[change.ranges.length - 1];
  if (last && last.to >= start + from) last.to = Math.max(last.to, start + to);
  else change.ranges.push({ from: start + from, to: start + to });
  if (type === 'formatting' || type === 'restyled') {
    change.was = { ...(mark.attrs.was as Properties), ...change.was };
    change.now = { ...change.now, ...(mark.attrs.now as Properties) };
    if (type === 'formatting') {
      change.before += text;
      change.after += text;
    }
    return;
  }
  if (!openings.has(type)) change.words = true;
  if (type === 'insertion' || type === 'openingInserted') change.after += text;
  else change.before += text;
}

function kindOf({ types, words, table, before, after, ranges }: Gathered): ChangeKind {
  if (table) return 'table';
  const inserts = types.has('insertion') || types.has('openingInserted');
  const deletes = types.has('deletion') || types.has('openingDeleted');
  if (!inserts && !deletes) return types.has('formatting') ? 'formatting' : 'paragraph';
  if (!words) return 'paragraph';
  if (inserts && deletes) return before === after && ranges.length > 1 ? 'move' : 'replacement';
  return inserts ? 'insertion' : 'deletion';
}

const isHeading = (block: Node) => /^(title|heading)/.test(String(block.attrs.style));

/**
 * All pending changes in reading order. A change is all that shares a change id; its kind is read from the marks that
 * bear it. Only blocks that are new since the last call are looked into.
 */
export function listChanges(doc: Node): Change[] {
  const changes = new Map<ChangeId, Gathered>();
  let heading: string | null = null;
  let paragraph = 0;
  doc.forEach((block, start) => {
    paragraph++;
    if (isHeading(block)) heading = block.textContent;
    if (!hasChanges(block)) return;
    for (const piece of pieces(block)) {
      const { change: id, author, date } = piece.mark.attrs as { change: ChangeId; author: PersonId; date: string };
      let change = changes.get(id);
      if (!change) {
        const place = { heading, paragraph };
        const empty = {
          ranges: [],
          before: '',
          after: '',
          was: {},
          now: {},
          types: new Set<string>(),
          words: false,
          table: false,
        };
        changes.set(id, (change = { id, kind: 'insertion', author, date, place, ...empty }));
      }
      add(change, piece, start);
    }
  });
  return [...changes.values()].map((gathered) => {
    const { types: _types, words: _words, table: _table, ...change } = gathered;
    return { ...change, kind: kindOf(gathered) };
  });
}

/** Every change id in the document, with its author and date. */
export function changeIds(doc: Node): Map<ChangeId, { author: PersonId; date: string }> {
  const ids = new Map<ChangeId, { author: PersonId; date: string }>();
  doc.forEach((block) => {
    if (!hasChanges(block)) return;
    for (const { mark } of pieces(block)) {
      ids.set(mark.attrs.change as ChangeId, { author: mark.attrs.author as string, date: mark.attrs.date as string });
    }
  });
  return ids;
}
