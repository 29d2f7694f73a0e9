import { useCallback, useEffect, useMemo, useRef } from 'react';
import type { Node } from 'prosemirror-model';
import type { EditorView } from 'prosemirror-view';
import { anchors, isEverything, openQueries, sectionsOf, threadFilter, wordsOf, type Thread } from '@tea-pencil/core';
import { mayAtLeast, whoIs, type ManuscriptInfo } from '../api/queries';
import { useHandler } from '../kit/use-handler';
import { heedSelection } from '../kit/editing';
import type { LiveText } from '../live/live-text';
import { namesIn } from '../reviewing/talk-of';
import { readingOf, type Reviewing } from '../reviewing/use-reviewing';
import { useSetting } from '../api/use-setting';
import type { TalkContextValue } from './context';
import { showTalkMarks, type TalkMark } from './drawing';
import { useTalk } from './use-talk';
import { useThreadPlaces } from './use-thread-places';

interface Wanted {
  info: ManuscriptInfo;
  me: string;
  text: LiveText;
  /** The text as the rest of the screen shows it. */
  doc: Node;
  view: EditorView | null;
  reviewing: Reviewing;
  threads: readonly Thread[];
  focused: string | null;
  /** Whether the talk margin is hidden, so that signs stand in the text. */
  signs: boolean;
  nameOf(person: string): string;
  say(sentence: string): void;
  onFocus(thread: string | null): void;
}

/** The talk of a manuscript: its threads by place, those of the lens and of the margin, and what can be done with them. */
export function useConversation(wanted: Wanted) {
  const { info, me, text, doc, view, reviewing, threads, focused, signs, nameOf, say, onFocus } = wanted;
  const { lens, look, changes } = reviewing;
  const shownDoc = readingOf(doc, look.reading);
  const { places, lost } = useThreadPlaces(text, doc, shownDoc, look.reading, threads, changes);

  const wordsNow = useHandler((thread: Thread): string | null => {
    const state = text.snapshot().state!;
    const ranges = anchors(state.doc).get(thread.id);
    if (ranges) return wordsOf(state.doc, ranges);
    const here = thread.place && text.places.bringHere(thread.place);
    return here && here.from < here.to ? wordsOf(state.doc, [here]) : null;
  });
  const mayRemark = mayAtLeast(info.role, 'remarker');
  const mayWrite = mayAtLeast(info.role, 'proposer');
  const mayDecide = mayAtLeast(info.role, 'decider');
  const talk = useTalk({ manuscript: info.id, me, text, mayRemark, wordsNow, say, onFocus });
  const set = useSetting(info.id);
  const invite = useCallback(
    async (person: string) => void (await set('PUT', `/members/${person}`, { role: 'remarker' })),
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

  const context = useMemo(
    (): TalkContextValue => ({ info, me, mayRemark, mayWrite, mayDecide, talk, nameOf, wordsNow, lost, invite }),
    [info, me, mayRemark, mayWrite, mayDecide, talk, nameOf, wordsNow, lost, invite],
  );
  const openOnes = useMemo(() => threads.filter(({ resolved }) => !resolved).length, [threads]);
  const outside = openOnes - inLens.filter(({ resolved }) => !resolved).length;
  return { talk, context, places, lost, inLens, shown, outside };
}

export type Conversation = ReturnType<typeof useConversation>;
