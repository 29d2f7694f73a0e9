import type { Mark, Node } from 'prosemirror-model';
import { canHave, type Properties } from './properties.js';
import { isProperty, type MarkName, type NodeName } from './schema.js';
import { isText } from './values.js';

/**
 * What the schema cannot say of a manuscript and every way in holds to: a batch of steps, a file, what the database has.
 */

/** Why a text is none that can be kept. */
export type Harm = 'letters' | 'nested' | 'unfit' | 'unread' | 'first';

export const harmWords: Record<Harm, string> = {
  letters: 'There are characters in it that no text can hold.',
  nested: 'A footnote cannot stand in a footnote.',
  unfit: 'Something would have a property that it cannot have.',
  unread: 'Something would bear a mark that means nothing there.',
  first: 'The first paragraph cannot be inserted or deleted.',
};

const onBlocks: readonly MarkName[] = ['insertion', 'deletion', 'restyled'];
const inLine: readonly MarkName[] = ['anchor', 'insertion', 'deletion', 'formatting'];
/**
 * The review marks and anchors that a node of each type may bear: those that some function reads there. The schema says
 * of a parent which marks its children may bear, and a document holds paragraphs beside tables.
 */
const bearable: Record<NodeName, readonly MarkName[]> = {
  doc: [],
  paragraph: ['openingInserted', 'openingDeleted', 'restyled'],
  table: onBlocks,
  table_row: onBlocks,
  table_cell: onBlocks,
  text: inLine,
  line_break: inLine,
  image: inLine,
  footnote: inLine,
  carried_thing: inLine,
};

/** Whether some function reads a mark on a node. */
export function canBear(node: Node, mark: Mark): boolean {
  const name = mark.type.name as MarkName;
  return isProperty(name) ? node.isInline : bearable[node.type.name as NodeName].includes(name);
}

/** Whether a recorded change of properties is about what its node can have, before and after. */
export function isFit(node: Node, mark: Mark): boolean {
  const { was, now } = mark.attrs as { was?: Properties; now?: Properties };
  if (!was || !now) return true;
  const names = Object.keys(now);
  return (
    names.length > 0 &&
    names.length === Object.keys(was).length &&
    names.every((name) => Object.hasOwn(was, name) && canHave(node, name, was[name]) && canHave(node, name, now[name]))
  );
}

/** Whether the first paragraph of a node is to be inserted or deleted: it stays as long as what it stands in. */
export const isFirstMarked = ({ firstChild }: Node): boolean =>
  !!firstChild?.isTextblock && firstChild.marks.some(({ type }) => type.name.startsWith('opening'));

/** What is wrong with a node or something in it; null where all is well. */
export function harmOf(node: Node, inFootnote = false): Harm | null {
  if (node.text !== undefined && !isText(node.text)) return 'letters';
  if (!node.marks.every((mark) => isFit(node, mark))) return 'unfit';
  if (!node.marks.every((mark) => canBear(node, mark))) return 'unread';
  if (isFirstMarked(node)) return 'first';
  const isFootnote = node.type.name === 'footnote';
  if (isFootnote && inFootnote) return 'nested';
  for (const child of node.children) {
    const harm = harmOf(child, inFootnote || isFootnote);
    if (harm) return harm;
  }
  return null;
}
