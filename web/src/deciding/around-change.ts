import type { Node } from 'prosemirror-model';
import {
  alikeTo,
  changesIn,
  sentenceAround,
  sweepOf,
  type Change,
  type Move,
  type SpaceTrouble,
} from '@tea-pencil/core';
import type { Group } from './TogetherRows';

/** What a slip says beyond the change itself. */

/** What can be decided together with a change: all that are alike, and all in its sentence. */
export function decidedWith(doc: Node, change: Change, changes: readonly Change[]): Group[] {
  const ids = (list: readonly Change[]) => [...new Set([change.id, ...list.map(({ id }) => id)])];
  const alike = ids(alikeTo(change, changes));
  const sentence = ids(changesIn(sentenceAround(doc, change), changes));
  const run = sweepOf(change.id);
  const sweep = run ? ids(changes.filter(({ id }) => sweepOf(id) === run)) : [];
  return [
    { label: `All ${sweep.length} of this sweep`, ids: sweep },
    ...(sweep.length === alike.length
      ? []
      : [{ label: `This and ${alike.length - 1} alike`, ids: alike, alike: true }]),
    { label: `All ${sentence.length} in this sentence`, ids: sentence },
  ].filter((group) => group.ids.length > 1);
}

/** The way to the other end of a move from one of its ends. */
export function endOf(doc: Node, { from, to }: Move, at: number, go: (pos: number) => void) {
  const atOld = at >= from.from && at <= from.to;
  const other = atOld ? to : from;
  const n = doc.resolve(other.from).index(0) + 1;
  return { label: atOld ? `Moved to ¶ ${n}` : `Moved here from ¶ ${n}`, go: () => go(other.from) };
}

export function warningOf({ trouble, verdict }: SpaceTrouble, other: string): string {
  const [done, undone] = verdict === 'accept' ? ['Accepting', 'rejecting'] : ['Rejecting', 'accepting'];
  const left = trouble === 'doubled' ? 'leave two spaces' : 'run two words together';
  return `${done} this and ${undone} ${other}’s change beside it would ${left}.`;
}
