import type { Node } from 'prosemirror-model';
import { Transform } from 'prosemirror-transform';
import type { Thread, ThreadId } from '../manuscript/threads.js';
import { schema } from '../manuscript/schema.js';
import { changeIds, listChanges, type Range } from '../changes/list.js';

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

/** The document with anchors on the words of pending changes that threads are about; for files, which know no others. */
export function withChangeAnchors(doc: Node, threads: readonly Thread[]): Node {
  const about = threads.filter(({ change }) => change !== undefined);
  if (!about.length) return doc;
  const changes = new Map(listChanges(doc).map((change) => [change.id, change]));
  const tr = new Transform(doc);
  for (const { id, change } of about)
    for (const { from, to } of changes.get(change!)?.ranges ?? [])
      tr.addMark(from, to, schema.marks.anchor.create({ thread: id }));
  return tr.doc;
}

/** The document without the anchors of threads that are about a change it holds. */
export function withoutChangeAnchors(doc: Node, threads: readonly Thread[]): Node {
  const ids = changeIds(doc);
  const tr = new Transform(doc);
  for (const { id, change } of threads)
    if (change !== undefined && ids.has(change))
      tr.removeMark(0, doc.content.size, schema.marks.anchor.create({ thread: id }));
  return tr.doc;
}

/** The document with every anchor taken off. */
export function withoutAnchors(node: Node): Node {
  if (node.isText) return node.mark(schema.marks.anchor.removeFromSet(node.marks));
  const content: Node[] = [];
  let changed = false;
  node.forEach((child) => {
    const bare = withoutAnchors(child);
    changed ||= bare !== child;
    content.push(bare);
  });
  const marks = schema.marks.anchor.removeFromSet(node.marks);
  if (!changed && marks === node.marks) return node;
  return node.type.create(node.attrs, content, marks);
}
