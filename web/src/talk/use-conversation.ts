import { useCallback, useEffect, useMemo, useRef } from 'react';
import { anchors, isEverything, openQueries, sectionsOf, threadFilter, wordsOf, type Thread } from '@tea-pencil/core';
import { whoIs } from '../api/queries';
import { useHandler } from '../kit/use-handler';
import { heedSelection } from '../kit/editing';
import { useStore } from '../kit/store';
import { nothingInFocus, useDrawn, useLooking, useOpened } from '../opened/opened';
import { namesIn } from '../reviewing/talk-of';
import { readingOf } from '../reviewing/readings';
import { useReviewed } from '../reviewing/use-reviewing';
import { useSetting } from '../api/use-setting';
import { inviting } from './inviting';
import { showTalkMarks, type TalkMark } from './drawing';
import { useTalk } from './use-talk';
import { useThreadPlaces } from './use-thread-places';

interface Wanted {
  threads: readonly Thread[];
  focused: string | null;
}

/** The talk of a manuscript: its threads by place, those of the lens and of the margin, and what can be done with them. */
export function useConversation({ threads, focused }: Wanted) {
  const { info, text, sheet, focus } = useOpened();
  const { lens, look } = useLooking();
  const { doc } = useDrawn();
  const { changes } = useReviewed();
  const { view } = useStore(sheet);
  const signs = look.talk === 'signs';
  const shownDoc = readingOf(doc, look.reading);
  const { places, lost } = useThreadPlaces(threads, changes);
  const onFocus = useCallback((thread: string | null) => focus.set({ ...nothingInFocus, thread }), [focus]);

  const wordsNow = useHandler((thread: Thread): string | null => {
    const state = text.snapshot().state!;
    const ranges = anchors(state.doc).get(thread.id);
    if (ranges) return wordsOf(state.doc, ranges);
    const here = thread.place && text.places.bringHere(thread.place);
    return here && here.from < here.to ? wordsOf(state.doc, [here]) : null;
  });
  const talk = useTalk(wordsNow, onFocus);
  const set = useSetting(info.id);
  const invite = useCallback(
    async (person: string) => void (await inviting(set('PUT', `/members/${person}`, { role: 'remarker' }))),
    [set],
  );

  /** By place, those of the lens. */
  const inLens = useMemo(() => {
    // Only a lens that is about a part waits until the headings are read: this is done at every letter.
    const section = lens.part === null ? () => [] : sectionsOf(shownDoc);
    const through = isEverything(lens)
      ? threads
      : threads.filter(
          threadFilter(lens, {
            is: (author) => whoIs(info, author),
            section: ({ id, whole }) => (whole ? [] : section(places.get(id)?.[0]?.from ?? 0)),
            names: (thread, person) => namesIn(thread, person, info),
          }),
        );
    const at = ({ id }: Thread) => places.get(id)?.[0]?.from ?? 0;
    return [...through].sort((a, b) => at(a) - at(b));
  }, [threads, lens, info, places, shownDoc]);
  const shown = useMemo(() => inLens.filter(({ resolved, id }) => !resolved || id === focused), [inLens, focused]);

  // How their words are drawn, and what stands in the text of those that have none.
  const drawn = useRef('');
  const marks = useMemo((): TalkMark[] => {
    if (look.reading !== 'marked') return [];
    return shown.flatMap((thread): TalkMark[] => {
      const { id, author, toSelf } = thread;
      const range = places.get(id)?.at(-1);
      if (!range) return [];
      const words: TalkMark[] =
        toSelf && range.from < range.to && !lost.has(id) && thread.change === undefined
          ? [{ kind: 'words', ...range, thread: id, author, lit: id === focused }]
          : [];
      const waits = openQueries(thread).length > 0;
      return signs ? [...words, { kind: 'sign', at: Math.max(1, range.to), thread: id, author, waits }] : words;
    });
  }, [shown, places, lost, focused, signs, look.reading]);
  useEffect(() => {
    // What has moved with the text is where it belongs already.
    const now = JSON.stringify(marks.map((mark) => ({ ...mark, from: 0, to: 0, at: 0 })));
    if (!view || now === drawn.current) return;
    drawn.current = now;
    heedSelection(view); // drawing them anew must not set the selection back
    showTalkMarks(text, marks);
  }, [view, text, marks]);

  const openOnes = useMemo(() => threads.filter(({ resolved }) => !resolved).length, [threads]);
  const outside = openOnes - inLens.filter(({ resolved }) => !resolved).length;
  return { talk, wordsNow, invite, places, lost, inLens, shown, outside };
}

export type Conversation = ReturnType<typeof useConversation>;
