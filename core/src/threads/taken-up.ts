import type { Node } from 'prosemirror-model';
import type { Transform } from 'prosemirror-transform';
import { schema } from '../manuscript/schema.js';

/** Words taken up with the threads that are about them: anchors go with what is cut and set down elsewhere. */
export interface TakenUp {
  /** One entry a letter or inline atom: what it is, and the threads on it. */
  letters: { text: string; threads: string[] }[];
}

/** Each letter and inline atom of a range, in order. */
function lettersIn(doc: Node, from: number, to: number): { text: string; threads: string[]; pos: number }[] {
  const found: { text: string; threads: string[]; pos: number }[] = [];
  doc.nodesBetween(from, to, (node, pos) => {
    if (!node.isInline) return true;
    const threads = node.marks
      .filter(({ type }) => type === schema.marks.anchor)
      .map(({ attrs }) => attrs.thread as string);
    const { text = '\ufffc' } = node;
    for (let i = Math.max(0, from - pos); i < Math.min(text.length, to - pos); i++)
      found.push({ text: text[i]!, threads, pos: pos + i });
    return false;
  });
  return found;
}

/** What a range would carry away with it; null where no thread is about any of it. */
export function takenUp(doc: Node, from: number, to: number): TakenUp | null {
  const letters = lettersIn(doc, from, to).map(({ text, threads }) => ({ text, threads }));
  return letters.some(({ threads }) => threads.length) ? { letters } : null;
}

/** Fastens the threads that came with some words to the same words where they were set down; to others it does nothing. */
export function setDown(tr: Transform, { letters }: TakenUp, from: number, to: number): void {
  const here = lettersIn(tr.doc, from, to);
  if (here.length !== letters.length || here.some(({ text }, i) => text !== letters[i]!.text)) return;
  here.forEach(({ pos }, i) => {
    for (const thread of letters[i]!.threads) tr.addMark(pos, pos + 1, schema.marks.anchor.create({ thread }));
  });
}
