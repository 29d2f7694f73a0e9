import type { Node } from 'prosemirror-model';
import { useEffect, useMemo, useState } from 'react';
import {
  anchors,
  beforeReading,
  everything,
  fairReading,
  isEverything,
  lensFilter,
  placeInReading,
  placeInText,
  type Change,
  type Lens,
  type Thread,
} from '@tea-pencil/core';
import type { ManuscriptInfo } from '../api/queries';
import { changesOf } from './changes-of';
import type { Drawn } from './drawing';
import { surroundingsOf, talkOf } from './talk-of';
import type { Look, ReadAs } from '@tea-pencil/wire';
import { plainLook } from './use-view';

const verdicts = { fair: 'accept', before: 'reject' } as const;

const readings = new WeakMap<Node, Partial<Record<ReadAs, Node>>>();

/** The text as a reading shows it, made once. */
export function readingOf(doc: Node, reading: ReadAs): Node {
  if (reading === 'marked') return doc;
  const known = readings.get(doc) ?? {};
  readings.set(doc, known);
  return (known[reading] ??= reading === 'fair' ? fairReading(doc) : beforeReading(doc));
}

/** A place of the text in a reading, and the other way round. */
export const inReading = (doc: Node, pos: number, reading: ReadAs): number =>
  reading === 'marked' ? pos : placeInReading(doc, pos, verdicts[reading]);
export const inText = (doc: Node, pos: number, reading: ReadAs): number =>
  reading === 'marked' ? pos : placeInText(doc, pos, verdicts[reading]);

interface Wanted {
  info: ManuscriptInfo;
  doc: Node;
  threads: readonly Thread[];
  lens: Lens;
  look: Look;
  /** Changes that have been decided here and whose steps have not come yet. */
  settling: ReadonlyMap<string, Drawn>;
  /** Folded changes that are shown for the moment. */
  opened: ReadonlySet<string>;
}

/** What one looks at: the changes of the lens, those of them that are drawn with their marks, and what is not seen. */
export interface Reviewing {
  lens: Lens;
  look: Look;
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

export function useReviewing({ info, doc, threads, lens, look, settling, opened }: Wanted): Reviewing {
  const changes = changesOf(doc);
  // Only a lens that asks for it waits until it is known who talks about what.
  const asked = lens.discussed || lens.naming !== null || lens.owing !== null;
  const talk = useMemo(() => (asked ? talkOf(changes, threads, anchors(doc)) : noTalk), [asked, changes, threads, doc]);
  return useMemo(() => {
    const all = isEverything(lens);
    const left = changes.filter(({ id }) => !settling.has(id));
    const inLens = all ? left : left.filter(lensFilter(lens, surroundingsOf(info, talk)));
    const isFolded = ({ id, kind }: Change) => look.folded.includes(kind) && !opened.has(id);
    const folded = look.folded.length ? inLens.filter(isFolded) : [];
    const shown = folded.length ? inLens.filter((change) => !isFolded(change)) : inLens;
    const unusual = new Map<string, Drawn>(settling);
    if (shown.length < left.length) {
      const marked = new Set(shown.map(({ id }) => id));
      for (const { id } of left) if (!marked.has(id)) unusual.set(id, 'fair');
    }
    const unseen = look.reading === 'marked' ? left.length - shown.length : left.length;
    return { lens, look, changes: left, inLens, folded, shown, unusual, unseen };
  }, [lens, look, changes, settling, opened, info, talk]);
}

/** All of it at one key, and back to what one looked at before. */
export function useShowAll(
  lens: Lens,
  look: Look,
  set: (lens: Lens, look: Look) => void,
): { showAll(): void; mayGoBack: boolean } {
  const [before, setBefore] = useState<{ lens: Lens; look: Look } | null>(null);
  const whole = isEverything(lens) && look.reading === 'marked' && look.flow === 'both' && !look.folded.length;
  const showAll = () => {
    if (whole) {
      if (before) set(before.lens, { ...before.look, outline: look.outline });
      return setBefore(null);
    }
    setBefore({ lens, look });
    set(everything, { ...plainLook, notes: look.notes, outline: look.outline });
  };
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (event.key !== 'F9') return;
      event.preventDefault();
      showAll();
    };
    addEventListener('keydown', keys);
    return () => removeEventListener('keydown', keys);
  });
  return { showAll, mayGoBack: whole && before !== null };
}
