import { nanoid } from 'nanoid';
import { useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { mappedRange, tints, type Tint } from '@tea-pencil/core';
import { useCommands } from '../commands/acts';
import { highlightCommand } from '../commands/table';
import { nothingInFocus, useLooking, useOpened, type Focus } from '../opened/opened';
import { beginning, placeForServer, placeOfUnsent } from './begin';
import type { Begun, Written } from './shapes';
import { keepUnsent, unsentBeginnings, unsentKey } from './unsent';
import { commentOf, useThreadAsking } from './use-thread-acts';

/** Beginning a thread: on the selection, on the whole, or as a highlight without words. */
export function useBeginning() {
  const { info, me, may, text, say, toText, toPage, focus } = useOpened();
  const { page } = useLooking();
  const { send, tell } = useThreadAsking();
  const [begun, setBegun] = useState<Begun | null>(() => {
    // One that was being begun when the page went, or could not be kept, is there again, at its words.
    const [left] = unsentBeginnings(me.id, info.id);
    return left ? placeOfUnsent(text.snapshot().state, left[1], left[0]) : null;
  });

  const newest = useRef(begun);
  useLayoutEffect(() => {
    newest.current = begun;
  }, [begun]);

  /** Focuses a thread that has been kept, unless one has gone elsewhere while it was sent. */
  const focusUnless = useCallback(
    (before: Focus, thread: string) => {
      const elsewhere = newest.current !== null && newest.current.id !== thread;
      if (focus.get() === before && !elsewhere) focus.set({ ...nothingInFocus, thread });
    },
    [focus],
  );

  const begin = (where: () => Begun) => {
    if (!may.remark) return say('In this manuscript you may read, not comment.');
    focus.set(nothingInFocus);
    setBegun(where());
  };
  /** Highlights the selection, and says nothing. */
  const highlight = async (tint: Tint) => {
    const { from, to, quote } = beginning(text.snapshot().state!);
    if (!quote) return say('Select the words that are to be highlighted.');
    const id = nanoid(12);
    const before = focus.get();
    tell('POST', '', { id, at: await placeForServer(text, { from, to }), tint }, () => focusUnless(before, id));
  };
  useCommands({
    // On the selection; at the caret on the word it stands in, or on the place.
    comment: () => begin(() => beginning(text.snapshot().state!)),
    whole: () => {
      if (page !== 'text') void toPage('text');
      begin(() => ({ id: nanoid(12), from: 0, to: 0, quote: '', whole: true }));
    },
    ...Object.fromEntries(tints.map((tint) => [highlightCommand(tint), () => void highlight(tint)])),
  });

  // While the comment is being written the text goes on under it.
  const following = begun !== null && !begun.whole;
  useEffect(() => {
    if (!following) return;
    return text.onMapping((mapping) =>
      setBegun((now) => now && { ...now, ...mappedRange(now, (pos, side) => mapping.map(pos, side)) }),
    );
  }, [following, text]);

  const keep = useCallback(
    async (written: Written) => {
      if (!begun) return;
      const { id } = begun;
      const before = focus.get();
      const about = begun.whole ? { whole: true } : { at: await placeForServer(text, begun) };
      const thread = { id, ...about, ...(written.toSelf && { toSelf: true }), comment: commentOf(written) };
      await send('POST', '', thread, () => {
        // The field may go with the keyboard in it. Whoever has gone on, to another comment or elsewhere, keeps theirs.
        if (newest.current?.id === id && document.activeElement?.closest('.begun')) toText();
        setBegun((now) => (now?.id === id ? null : now));
        focusUnless(before, id);
      });
    },
    [begun, text, send, focus, focusUnless, toText],
  );
  const leave = useCallback(() => {
    if (begun) keepUnsent(unsentKey(me.id, info.id, `new ${begun.id}`), null);
    setBegun(null);
    toText();
  }, [begun, me.id, info.id, toText]);
  return { begun, keep, leave };
}
