import type { Mark, Node } from 'prosemirror-model';
import { canHave, type Properties } from './properties.js';
import { isProperty, type MarkName, type NodeName } from './schema.js';
import type { ChangeId } from './signature.js';
import { isText } from './values.js';

/**
 * What the schema cannot say of a manuscript and every way in holds to: a batch of steps, a file, what the database has.
 */

/** Why a text is none that can be kept. */
export type Harm = 'letters' | 'nested' | 'unfit' | 'unread' | 'twice';

export const harmWords: Record<Harm, string> = {
  letters: 'There are characters in it that no text can hold.',
  nested: 'A footnote cannot stand in a footnote.',
  unfit: 'Something would have a property that it cannot have.',
  unread: 'Something would bear a mark that means nothing there.',
  twice: 'One change would say two things about the same words.',
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

/** Marks that say something about the same: whether a token comes or goes, or which properties it has. */
const subjectOf = (mark: Mark) => ('now' in mark.attrs ? 'looks' : 'presence');

/** The first of two marks by which one change says two things about a token; null where each change says one. */
export function saidTwice(marks: readonly Mark[]): [Mark, Mark] | null {
  if (marks.length < 2) return null;
  const said = new Map<string, Mark>();
  for (const mark of marks) {
    const change = mark.attrs.change as ChangeId | undefined;
    if (change === undefined) continue;
    const key = `${subjectOf(mark)} ${change}`;
    const former = said.get(key);
    if (former) return [former, mark];
    said.set(key, mark);
  }
  return null;
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

/** What is wrong with a node or something in it; null where all is well. */
export function harmOf(node: Node, inFootnote = false): Harm | null {
  if (node.text !== undefined && !isText(node.text)) return 'letters';
  if (!node.marks.every((mark) => isFit(node, mark))) return 'unfit';
  if (!node.marks.every((mark) => canBear(node, mark))) return 'unread';
  if (saidTwice(node.marks)) return 'twice';
  const isFootnote = node.type.name === 'footnote';
  if (isFootnote && inFootnote) return 'nested';
  for (const child of node.children) {
    const harm = harmOf(child, inFootnote || isFootnote);
    if (harm) return harm;
  }
  return null;
}
