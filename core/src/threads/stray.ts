import type { Node } from 'prosemirror-model';
import { RemoveMarkStep, type Transform } from 'prosemirror-transform';
import type { ThreadId } from '../manuscript/threads.js';
import { schema } from '../manuscript/schema.js';
import { anchors } from './anchors.js';

/** A thread whose words have gone, and where they were, in the text as it is now. */
export interface Stray {
  thread: ThreadId;
  at: number;
}

/** The threads that an edit takes words from. */
function touched({ steps, docs, before }: Transform): Set<ThreadId> {
  const found = new Set<ThreadId>();
  // Of thousands of steps each has a text of its own, which is made only if there is something to look for in it.
  if (steps.length > 1 && !before.rangeHasMark(0, before.content.size, schema.marks.anchor)) return found;
  const collect = (doc: Node, from: number, to: number) =>
    doc.nodesBetween(from, Math.min(to, doc.content.size), ({ marks }) => {
      for (const { type, attrs } of marks) if (type === schema.marks.anchor) found.add(attrs.thread as ThreadId);
    });
  steps.forEach((step, i) => {
    if (step instanceof RemoveMarkStep && step.mark.type === schema.marks.anchor) collect(docs[i]!, step.from, step.to);
    step.getMap().forEach((from, to) => void (to > from && collect(docs[i]!, from, to)));
  });
  return found;
}

/** The threads that an edit takes all their words from. They stay, at the place where their words were. */
export function strays(edit: Transform): Stray[] {
  const threads = touched(edit);
  if (!threads.size) return [];
  const now = anchors(edit.doc);
  const before = anchors(edit.before);
  const lost = [...threads].filter((thread) => !now.has(thread) && before.has(thread));
  return lost.map((thread) => ({ thread, at: edit.mapping.map(before.get(thread)![0]!.from, -1) }));
}
