import { Fragment, type Mark, type Node } from 'prosemirror-model';
import { isProperty } from '../manuscript/schema.js';

/** Property marks only: what someone types or pastes brings no review marks and no anchors with it. */
const plainMarks = (marks: readonly Mark[]): readonly Mark[] =>
  marks.every((mark) => isProperty(mark.type.name)) ? marks : marks.filter((mark) => isProperty(mark.type.name));

/** The letters of a text node come one by one; what was made of the node is kept for the next one. */
const known = new WeakMap<Node, Node>();

/** A node without review marks and anchors, at every depth. */
export function stripped(node: Node): Node {
  let bare = known.get(node);
  if (!bare) known.set(node, (bare = strippedAnew(node)));
  return bare;
}

function strippedAnew(node: Node): Node {
  const marks = plainMarks(node.marks);
  if (node.isText || node.isTextblock || node.isLeaf) return node.mark(marks);
  return node.type.create(node.attrs, Fragment.fromArray(node.children.map(strippedWhole)), marks);
}
function strippedWhole(node: Node): Node {
  if (!node.isTextblock) return stripped(node);
  return node.type.create(node.attrs, Fragment.fromArray(node.children.map(stripped)), plainMarks(node.marks));
}
