import type { Node } from 'prosemirror-model';
import { hasPendingGrid, isTableNode } from '../manuscript/grid.js';
import type { Token } from '../row/row.js';

/**
 * What two texts are compared by: words, signs, openings and things. White space is no unit; it goes with what stands
 * beside it.
 */
export interface Unit {
  /** The tokens of the row it is made of, `from` up to but not including `to`. */
  from: number;
  to: number;
  /** Two units may be the same where their keys are. */
  key: string;
}

const wordLetter = /[\p{L}\p{N}\p{M}_]/u;
const isWordLetter = (text: string) => (text >= 'a' && text <= 'z') || wordLetter.test(text);
const joiner = /['’\u00ad\u2011-]/u;
const space = /^\s+$/u;

/** How many columns a table has whose rows and cells can be paired; null where cells span or are pending, or rows differ. */
function columnsOf(table: Node): number | null {
  if (hasPendingGrid(table)) return null;
  const columns = table.firstChild?.childCount ?? 0;
  const plain = table.children.every(
    (row) =>
      row.childCount === columns &&
      row.children.every(({ attrs: { colspan, rowspan } }) => colspan === 1 && rowspan === 1),
  );
  return plain ? columns : null;
}

/** What says whether a thing or a block may be the same as another, though what stands in it may differ. */
function keyOf({ node, kind }: Token): string {
  const { name } = node.type;
  if (kind === 'opening') return '¶';
  if (isTableNode(node)) {
    const columns = columnsOf(node);
    return columns === null ? `table ${JSON.stringify(node.toJSON())}` : `table of ${columns}`;
  }
  if (name === 'footnote') return `footnote ${node.attrs.kind}`;
  if (name === 'image') return `image ${node.attrs.asset}`;
  if (!node.isLeaf && kind !== 'atom') return name;
  // Where it stands in a file says nothing about what it is.
  return `${name} ${JSON.stringify({ ...node.attrs, carried: null })}${node.textContent}`;
}

/** What else about a token says whether it can be the same as another. */
export type Also = (token: Pick<Token, 'kind' | 'node'>) => string;

/**
 * The units of a row, in order.
 * @param also a word ends where this changes
 */
export function unitsOf(row: readonly Token[], also?: Also): Unit[] {
  const units: Unit[] = [];
  const isWord = (token: Token | undefined) => token?.kind === 'letter' && isWordLetter(token.text);
  for (let from = 0; from < row.length;) {
    const first = row[from]!;
    let to = from + 1;
    const more = also?.(first) ?? '';
    // Where it matters who put a table in, it is the same with other columns too.
    const said = first.kind === 'letter' ? first.text : also && isTableNode(first.node) ? 'table' : keyOf(first);
    let key = more + said;
    const goesOn = (token: Token | undefined) => isWord(token) && (!also || also(token!) === more);
    const joins = (at: number) => row[at]?.kind === 'letter' && joiner.test(row[at]!.text) && goesOn(row[at + 1]);
    if (isWord(first)) for (; goesOn(row[to]) || joins(to); to++) key += row[to]!.text;
    if (first.kind !== 'letter' || (first.text !== ' ' && !space.test(first.text))) units.push({ from, to, key });
    from = to;
  }
  return units;
}

/** The words of a paragraph or of all that stands in a block, for finding what resembles it. */
export const wordsIn = (node: Node): string[] =>
  node.textBetween(0, node.content.size, ' ', ' ').match(/[\p{L}\p{N}\p{M}_]+/gu) ?? [];

/** How much a unit weighs against others, in letters. */
export const weightOf = ({ from, to }: Unit): number => to - from;
