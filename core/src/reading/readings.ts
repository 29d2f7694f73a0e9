import { Fragment, type Node } from 'prosemirror-model';
import { hasChanges } from '../changes/blocks.js';
import { decideToken, type Judge } from '../changes/verdict.js';
import type { PersonId } from '../manuscript/manuscript.js';

/** The inline content of a paragraph as the judge leaves it. */
function resolveInline(paragraph: Node, judge: Judge): Node[] {
  const nodes: Node[] = [];
  paragraph.forEach((node) => {
    const look = decideToken({ kind: node.isText ? 'letter' : 'atom', node }, judge);
    if (!look) return;
    const content = node.isText ? node : resolve(node, judge);
    nodes.push(node.isText ? content.mark(look.marks) : node.type.create(look.attrs, content.content, look.marks));
  });
  return nodes;
}

/** A container with all its changes judged, built anew; blocks in which nothing is pending stay the same nodes. */
function resolve(container: Node, judge: Judge): Node {
  if (container.isLeaf || !hasChanges(container)) return container;
  const blocks: Node[] = [];
  container.forEach((block) => {
    if (!hasChanges(block)) return void blocks.push(block);
    if (!block.isTextblock) return void blocks.push(resolve(block, judge));
    const look = decideToken({ kind: 'opening', node: block }, judge);
    const inline = Fragment.fromArray(resolveInline(block, judge));
    const previous = blocks[blocks.length - 1];
    if (look) blocks.push(block.type.create(look.attrs, inline, look.marks));
    else if (previous) blocks[blocks.length - 1] = previous.copy(previous.content.append(inline));
  });
  return container.copy(Fragment.fromArray(blocks));
}

/** The document as if every pending change were accepted. */
export const fairReading = (doc: Node): Node => resolve(doc, () => 'accept');

/** The document as if every pending change were rejected. */
export const beforeReading = (doc: Node): Node => resolve(doc, () => 'reject');

/** The document without what one author would change: their pending changes rejected, all others as they are. */
export const withoutAuthor = (doc: Node, author: PersonId): Node =>
  resolve(doc, (_, by) => (by === author ? 'reject' : undefined));

/** The words of a document as they stand, a line a paragraph. */
export function plainText(doc: Node): string {
  const lines: string[] = [];
  doc.descendants((node, _pos, parent) => {
    if (!node.isTextblock) return true;
    if (parent?.type.name === 'footnote') return false;
    lines.push(node.textBetween(0, node.content.size, '', (leaf) => (leaf.type.name === 'line_break' ? '\u2028' : '')));
    return false;
  });
  return lines.join('\n');
}
