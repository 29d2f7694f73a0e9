import type { Node } from 'prosemirror-model';
import type { ThreadId } from '../manuscript/manuscript.js';
import { schema } from '../manuscript/schema.js';
import type { Range } from '../changes/list.js';

const inBlock = new WeakMap<Node, { thread: ThreadId; from: number; to: number }[]>();

function anchorsOf(block: Node) {
  let found = inBlock.get(block);
  if (!found) {
    found = [];
    block.descendants((node, pos) => {
      for (const mark of node.marks) {
        if (mark.type !== schema.marks.anchor) continue;
        found!.push({ thread: mark.attrs.thread as ThreadId, from: pos + 1, to: pos + 1 + node.nodeSize });
      }
    });
    inBlock.set(block, found);
  }
  return found;
}

/** Where each thread is fastened: its ranges in reading order. A thread that is not there has lost its words. */
export function anchors(doc: Node): Map<ThreadId, Range[]> {
  const found = new Map<ThreadId, Range[]>();
  doc.forEach((block, start) => {
    for (const { thread, from, to } of anchorsOf(block)) {
      const ranges = found.get(thread) ?? [];
      const last = ranges[ranges.length - 1];
      if (last?.to === start + from) last.to = start + to;
      else ranges.push({ from: start + from, to: start + to });
      found.set(thread, ranges);
    }
  });
  return found;
}

/** The document with every anchor taken off. */
export function withoutAnchors(node: Node): Node {
  if (node.isText) return node.mark(schema.marks.anchor!.removeFromSet(node.marks));
  const content: Node[] = [];
  let changed = false;
  node.forEach((child) => {
    const bare = withoutAnchors(child);
    changed ||= bare !== child;
    content.push(bare);
  });
  const marks = schema.marks.anchor!.removeFromSet(node.marks);
  if (!changed && marks === node.marks) return node;
  return node.type.create(node.attrs, content, marks);
}
