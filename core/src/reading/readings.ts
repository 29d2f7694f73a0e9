import { Fragment, type Node } from 'prosemirror-model';
import { hasChanges } from '../changes/blocks.js';
import { decideToken, type Judge } from '../changes/verdict.js';
import { isTableNode, withColumns } from '../manuscript/grid.js';
import type { PersonId } from '../manuscript/people.js';

/** The inline content of a paragraph as the judge leaves it. */
function resolveInline(paragraph: Node, judge: Judge): Fragment {
  const nodes: Node[] = [];
  paragraph.forEach((node) => {
    const bearing = decideToken({ kind: node.isText ? 'letter' : 'atom', node }, judge);
    if (!bearing) return;
    if (node.isText) nodes.push(node.mark(bearing.marks));
    else nodes.push(node.type.create(bearing.attrs, resolveInside(node, judge), bearing.marks));
  });
  return Fragment.fromArray(nodes);
}

/** The blocks of a container as the judge leaves them; those in which nothing is pending stay the same nodes. */
function resolveInside(container: Node, judge: Judge): Fragment {
  if (container.isLeaf || !hasChanges(container)) return container.content;
  const blocks: Node[] = [];
  /** Whether the last block is an empty paragraph after a table, that would go if another paragraph followed. */
  let going = false;
  container.forEach((block) => {
    if (going && block.isTextblock && decideToken({ kind: 'opening', node: block }, judge)) blocks.pop();
    if (!hasChanges(block)) {
      going = false;
      return void blocks.push(block);
    }
    const bearing = decideToken({ kind: block.isTextblock ? 'opening' : 'block', node: block }, judge);
    const content = block.isTextblock
      ? resolveInline(block, judge)
      : resolveInside(isTableNode(block) ? withColumns(block) : block, judge);
    const previous = blocks[blocks.length - 1];
    if (!block.isTextblock) {
      // A table without rows, or a row without cells, is none.
      if (!bearing || !content.size) return;
      blocks.push(block.type.create(bearing.attrs, content, bearing.marks));
    } else if (bearing) blocks.push(block.type.create(bearing.attrs, content, bearing.marks));
    else if (previous?.isTextblock) {
      blocks[blocks.length - 1] = previous.copy(previous.content.append(content));
      going &&= !content.size;
      return;
    } else {
      const left = block.marks.filter((mark) => !judge(mark.attrs.change as string, mark.attrs.author as string));
      blocks.push(block.type.create(block.attrs, content, left));
      going = !!previous && !content.size;
      return;
    }
    going = false;
  });
  return Fragment.fromArray(blocks);
}

/** The document as it reads under verdicts; what the judge leaves pending stays pending. */
export const resolve = (doc: Node, judge: Judge): Node => (hasChanges(doc) ? doc.copy(resolveInside(doc, judge)) : doc);

/** The document as if every pending change were accepted. */
export const fairReading = (doc: Node): Node => resolve(doc, () => 'accept');

/** The document as if every pending change were rejected. */
export const beforeReading = (doc: Node): Node => resolve(doc, () => 'reject');

/** The document without what one author would change: their pending changes rejected, all others as they are. */
export const withoutAuthor = (doc: Node, author: PersonId): Node =>
  resolve(doc, (_, by) => (by === author ? 'reject' : undefined));

/** The words of a document as they stand, a line a paragraph; what footnotes say is left out. */
export function plainText(doc: Node): string {
  const lines: string[] = [];
  doc.descendants((node) => {
    if (!node.isTextblock) return true;
    let line = '';
    node.forEach((child) => (line += child.isText ? child.text : child.type.name === 'line_break' ? '\u2028' : ''));
    lines.push(line);
    return false;
  });
  return lines.join('\n');
}
