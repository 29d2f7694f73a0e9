import type { Mark, Node } from 'prosemirror-model';
import { atOnce } from '../manuscript/at-once.js';

/**
 * A manuscript as a row of tokens: letters, inline atoms and paragraph openings. Everything that records, decides or
 * reads changes looks at rows, so that splitting and joining paragraphs are no special cases. What is no paragraph (a
 * table, its rows and cells) is one token, a block, with a row of its own inside; so is a footnote, which is an atom.
 */
export interface Token {
  kind: 'letter' | 'atom' | 'opening' | 'block';
  /** Where it begins in its document. */
  pos: number;
  /** How many positions it takes; of an opening, only what stands before its content. */
  size: number;
  /** The letter, one grapheme cluster; empty for everything else. */
  text: string;
  /** The node that bears its marks and attributes. */
  node: Node;
  /** An opening that stays where it is whatever happens around it: the first of its container, or one after a table. */
  fixed: boolean;
}

/** Whether a token has a row inside. */
export const hasInside = ({ node }: Pick<Token, 'node'>): boolean => !node.isTextblock && !node.isLeaf;

// Below these ranges every code unit is a letter of its own, and no segmenter is needed.
const needsSegmenting = /[^\u0000-\u02ff\u2010-\u2027\u20a0-\u20bf\u2190-\u21ff]/;
const segmenter = new Intl.Segmenter(undefined, { granularity: 'grapheme' });

/** The letters of a text: extended grapheme clusters (Unicode UAX #29, section 3). */
export function letters(text: string): string[] {
  if (!needsSegmenting.test(text)) return text.split('');
  return Array.from(segmenter.segment(text), (part) => part.segment);
}

function pushInline(row: Token[], paragraph: Node, start: number): void {
  paragraph.forEach((node, offset) => {
    let pos = start + offset;
    if (!node.isText) {
      row.push({ kind: 'atom', pos, size: node.nodeSize, text: '', node, fixed: false });
      return;
    }
    for (const text of letters(node.text ?? '')) {
      row.push({ kind: 'letter', pos, size: text.length, text, node, fixed: false });
      pos += text.length;
    }
  });
}

/** A run of neighbouring blocks in one container, and where it stands. */
export interface Region {
  doc: Node;
  container: Node;
  /** Position before the first block and after the last. */
  from: number;
  to: number;
  /** Where what comes before its first token ends, and whether that is within a paragraph. */
  start: { pos: number; open: boolean };
  row: Token[];
}

const positionOf = (container: Node, start: number, index: number): number => {
  let pos = start;
  for (let i = 0; i < index; i++) pos += container.child(i).nodeSize;
  return pos;
};

const openingAt = (container: Node, index: number, pos: number): Token => ({
  kind: 'opening',
  pos,
  size: 1,
  text: '',
  node: container.child(index),
  fixed: index === 0 || !container.child(index - 1).isTextblock,
});

/** Where what comes before a block ends: within the paragraph above it, if the container holds paragraphs. */
const startBefore = (container: Node, from: number) => {
  const open = !!container.type.contentMatch.defaultType?.isTextblock;
  return { pos: open ? from - 1 : from, open };
};

/**
 * The row of the blocks `first` up to but not including `end` of a container, block by block.
 * @param start the position of the container's content
 */
export function* regionInParts(
  doc: Node,
  container: Node,
  start: number,
  first: number,
  end: number,
): Generator<undefined, Region> {
  const row: Token[] = [];
  const from = positionOf(container, start, first);
  let pos = from;
  for (let i = first; i < end; i++) {
    const node = container.child(i);
    if (node.isTextblock) {
      row.push(openingAt(container, i, pos));
      pushInline(row, node, pos + 1);
    } else {
      row.push({ kind: 'block', pos, size: node.nodeSize, text: '', node, fixed: false });
    }
    pos += node.nodeSize;
    yield;
  }
  return { doc, container, from, to: pos, start: startBefore(container, from), row };
}

/** The same in one go. */
export const regionOf = (...where: Parameters<typeof regionInParts>): Region => atOnce(regionInParts(...where));

/**
 * The row of a stretch of one paragraph, for edits that stay within it; with its opening, if it begins there.
 * @param from where the stretch begins, counted from the start of the paragraph's content
 * @param to where it ends; both are borders of letters
 */
export function stretchOf(doc: Node, container: Node, start: number, index: number, from: number, to: number): Region {
  const pos = positionOf(container, start, index);
  const paragraph = container.child(index);
  const row: Token[] = from === 0 ? [openingAt(container, index, pos)] : [];
  const content = pos + 1;
  pushInline(row, paragraph.cut(from, to), content + from);
  const begin =
    from === 0
      ? { from: pos, start: startBefore(container, pos) }
      : { from: content + from, start: { pos: content + from, open: true } };
  return { doc, container: paragraph, to: content + to, row, ...begin };
}

/** The mark of that type and author, if the token bears one. */
export const markBy = (marks: readonly Mark[], type: string, author: string): Mark | undefined =>
  marks.find((mark) => mark.type.name === type && mark.attrs.author === author);

/** The names of the marks that insert or delete a token of this kind. */
export const insertionName = (token: Pick<Token, 'kind'>) =>
  token.kind === 'opening' ? 'openingInserted' : 'insertion';
export const deletionName = (token: Pick<Token, 'kind'>) => (token.kind === 'opening' ? 'openingDeleted' : 'deletion');

/** Whether someone would delete the token. */
export const isPendingDeletion = (token: Pick<Token, 'kind' | 'node'>): boolean =>
  token.node.marks.some((mark) => mark.type.name === deletionName(token));

/** The name of the mark that records a changed property of a token of this kind. */
export const entryName = (token: Pick<Token, 'kind'>) =>
  token.kind === 'opening' || token.kind === 'block' ? 'restyled' : 'formatting';
