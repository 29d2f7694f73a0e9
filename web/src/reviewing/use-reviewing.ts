import { createContext, useContext, useMemo } from 'react';
import { anchors, isEverything, lensFilter, type Change, type Thread } from '@tea-pencil/core';
import { useDrawn, useLooking, useOpened } from '../opened/opened';
import { changesOf } from './changes-of';
import type { Drawn } from './drawing';
import { surroundingsOf, talkOf } from './talk-of';

interface Wanted {
  threads: readonly Thread[];
  /** Changes that have been decided here and whose steps have not come yet. */
  underway: ReadonlyMap<string, Drawn>;
  /** Folded changes that are shown for the moment. */
  unfolded: ReadonlySet<string>;
}

/** What one looks at: the changes of the lens, those of them that are drawn with their marks, and what is not seen. */
export interface Reviewing {
  changes: Change[];
  inLens: Change[];
  /** In the lens, of a folded kind. */
  folded: Change[];
  /** In the lens and not folded. */
  shown: Change[];
  /** How those are drawn that are not drawn with their marks. */
  unusual: ReadonlyMap<string, Drawn>;
  /** How many changes lens, folding and reading leave unseen. */
  unseen: number;
}

const noTalk: ReadonlyMap<string, Thread[]> = new Map();

export function useReviewing({ threads, underway, unfolded }: Wanted): Reviewing {
  const { info } = useOpened();
  const { lens, look } = useLooking();
  const { doc } = useDrawn();
  const changes = changesOf(doc);
  // Only a lens that asks for it waits until it is known who talks about what.
  const asked = lens.discussed || lens.naming !== null || lens.owing !== null;
  const talk = useMemo(() => (asked ? talkOf(changes, threads, anchors(doc)) : noTalk), [asked, changes, threads, doc]);
  return useMemo(() => {
    const all = isEverything(lens);
    const left = changes.filter(({ id }) => !underway.has(id));
    const inLens = all ? left : left.filter(lensFilter(lens, surroundingsOf(info, talk)));
    const isFolded = ({ id, kind }: Change) => look.folded.includes(kind) && !unfolded.has(id);
    const folded = look.folded.length ? inLens.filter(isFolded) : [];
    const shown = folded.length ? inLens.filter((change) => !isFolded(change)) : inLens;
    const unusual = new Map<string, Drawn>(underway);
    if (shown.length < left.length) {
      const marked = new Set(shown.map(({ id }) => id));
      for (const { id } of left) if (!marked.has(id)) unusual.set(id, 'fair');
    }
    const unseen = look.reading === 'marked' ? left.length - shown.length : left.length;
    return { changes: left, inLens, folded, shown, unusual, unseen };
  }, [lens, look, changes, underway, unfolded, info, talk]);
}

const ReviewingContext = createContext<Reviewing | null>(null);
export const ReviewingProvider = ReviewingContext;

export function useReviewed(): Reviewing {
  const reviewing = useContext(ReviewingContext);
  if (!reviewing) throw new Error('Changes are shown where nobody looks at them.');
  return reviewing;
}
