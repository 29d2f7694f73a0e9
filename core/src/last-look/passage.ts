import type { Node } from 'prosemirror-model';
import type { ListItem, ParagraphStyle } from '../manuscript/values.js';

/**
 * A paragraph as the last look reads it: the words that stand once everything is accepted, and what lies on them. It is
 * plain data, so that it can be looked at away from the screen; where its words stand in the document is told by `placesIn`.
 */
export interface Passage {
  /** Its fair words; a line break is `\n`, any other thing U+FFFC. */
  text: string;
  where: 'text' | 'table' | 'note';
  style: ParagraphStyle;
  list: ListItem | null;
  /** Whether it will be joined to the one before, where everything is accepted. */
  joins: boolean;
  /** Words of another language than the manuscript’s. */
  languages: Run<{ tag: string }>[];
  /** Its words before everything that is pending; null where nothing is. */
  was: string | null;
  /** What pending changes put in, and where they take something out (a stretch of no length). */
  edits: Run<{ change: string; author: string }>[];
  links: Run<{ href: string }>[];
  highlights: Run<object>[];
  italics: Run<object>[];
  /** Words set as superscript, as typed note numbers are. */
  supers: Run<object>[];
  /** Names that links can point to. */
  targets: string[];
  pictures: number;
  notes: number;
}

/** Something that lies on the signs of a passage from one to another. */
export type Run<T> = T & { from: number; to: number };

/** Signs of a passage and where they stand, counted from the beginning of the block. */
interface Segment {
  offset: number;
  pos: number;
  length: number;
  /** How much of the document it takes: a note is one sign, and holds words of its own. */
  size: number;
}
interface Read {
  passage: Passage;
  segments: Segment[];
  /** Where its first sign stands, counted from the beginning of the block. */
  begins: number;
}

const carries = (node: Node, mark: string) => node.marks.some(({ type }) => type.name === mark);

/** Puts a run behind others, joined to the last where it goes on. */
function lay<T extends object>(runs: Run<T>[], from: number, to: number, what: T): void {
  const last = runs[runs.length - 1];
  const same = last?.to === from && Object.entries(what).every(([name, value]) => last[name as keyof T] === value);
  if (same && to > from) last.to = to;
  else if (!(same && to === from && last.from === from)) runs.push({ ...what, from, to });
}

function readParagraph(paragraph: Node, at: number, where: Passage['where']): Read {
  const { style, list } = paragraph.attrs as Pick<Passage, 'style' | 'list'>;
  const passage: Passage = {
    ...{ text: '', where, style, list, joins: carries(paragraph, 'openingDeleted') },
    ...{ was: null, languages: [], edits: [], links: [], highlights: [], italics: [], supers: [] },
    ...{ targets: [], pictures: 0, notes: 0 },
  };
  const segments: Segment[] = [];
  let was = '';
  for (const { type, attrs } of paragraph.marks)
    if (type.name === 'openingInserted' || type.name === 'openingDeleted')
      lay(passage.edits, 0, 0, { change: attrs.change as string, author: attrs.author as string });
  paragraph.forEach((node, offset) => {
    const from = passage.text.length;
    const changes = node.marks.filter(({ type }) => type.name === 'insertion' || type.name === 'deletion');
    const gone = changes.some(({ type }) => type.name === 'deletion');
    // Where something carried begins and ends is no sign of the text.
    const unseen = gone || node.attrs.part === 'begin' || node.attrs.part === 'end';
    const words = unseen ? '' : (node.text ?? (node.type.name === 'line_break' ? '\n' : '\ufffc'));
    const to = from + words.length;
    for (const { attrs } of changes)
      lay(passage.edits, from, to, { change: attrs.change as string, author: attrs.author as string });
    if (!changes.some(({ type }) => type.name === 'insertion'))
      was += node.text ?? (node.type.name === 'line_break' ? '\n' : '\ufffc');
    if (gone) return;
    passage.text += words;
    segments.push({ offset: from, pos: at + 1 + offset, length: words.length, size: node.nodeSize });
    for (const { type, attrs } of node.marks) {
      if (type.name === 'language') lay(passage.languages, from, to, { tag: attrs.value as string });
      else if (type.name === 'link') lay(passage.links, from, to, { href: attrs.href as string });
      else if (type.name === 'highlight') lay(passage.highlights, from, to, {});
      else if (type.name === 'italic') lay(passage.italics, from, to, {});
      else if (type.name === 'script' && attrs.value === 'super') lay(passage.supers, from, to, {});
    }
    if (node.type.name === 'image') passage.pictures++;
    else if (node.type.name === 'footnote') passage.notes++;
    else if (node.attrs.what === 'bookmark' && node.attrs.says) passage.targets.push(node.attrs.says as string);
  });
  if (passage.edits.length) passage.was = was;
  return { passage, segments, begins: at + 1 };
}

const known = new WeakMap<Node, Read[]>();

/** The paragraphs of a block with what stands in them, read once for as long as the block lives. */
function read(block: Node): Read[] {
  let all = known.get(block);
  if (all) return all;
  all = [];
  const into = all;
  const go = (node: Node, at: number, where: Passage['where']) => {
    // What will be gone is not looked over.
    if (!node.isText && carries(node, 'deletion')) return;
    if (node.isTextblock) into.push(readParagraph(node, at, where));
    const inside = node.type.name === 'footnote' ? 'note' : node.type.name === 'table_cell' ? 'table' : where;
    node.forEach((child, offset) => child.isLeaf || go(child, at + 1 + offset, inside));
  };
  go(block, 0, 'text');
  known.set(block, all);
  return all;
}

/** The passages of a block of the text, in order; the same array for as long as the block lives. */
export function passagesOf(block: Node): readonly Passage[] {
  const all = read(block);
  let passages = passagesKnown.get(all);
  if (!passages) passagesKnown.set(all, (passages = all.map(({ passage }) => passage)));
  return passages;
}
const passagesKnown = new WeakMap<Read[], readonly Passage[]>();

/**
 * Where a stretch of a passage stands: the ranges it is made of, in order; one of no length where it has none.
 * @param at where the block begins in the document @param passage its number among those of the block
 */
export function placesIn(
  block: Node,
  at: number,
  passage: number,
  from: number,
  to: number,
): { from: number; to: number }[] {
  const segments = read(block)[passage]?.segments ?? [];
  const ranges: { from: number; to: number }[] = [];
  for (const { offset, pos, length, size } of segments) {
    const begin = Math.max(from, offset);
    const end = Math.min(to, offset + length);
    if (begin > end || (begin === end && from !== to)) continue;
    const start = at + pos + begin - offset;
    const stop = end === offset + length ? at + pos + (end > begin ? size : length) : start + end - begin;
    const last = ranges[ranges.length - 1];
    if (last?.to === start) last.to = stop;
    else if (from !== to || !ranges.length) ranges.push({ from: start, to: stop });
  }
  return ranges;
}

/** Where a passage begins: the place before its first sign, in the document. */
export const beginningOf = (block: Node, at: number, passage: number): number =>
  at + (read(block)[passage]?.begins ?? 0);
