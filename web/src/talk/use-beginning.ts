import { nanoid } from 'nanoid';
import { useCallback, useEffect, useState } from 'react';
import { mappedRange, tints, type Tint } from '@tea-pencil/core';
import { useCommands } from '../commands/acts';
import { highlightCommand } from '../commands/table';
import { useLooking, useOpened } from '../opened/opened';
import { beginning, placeForServer, placeOfUnsent } from './begin';
import type { Begun, Written } from './shapes';
import { keepUnsent, readUnsent, unsentKey } from './unsent';
import { commentOf, useThreadAsking } from './use-thread-acts';

/** Beginning a thread: on the selection, on the whole, or as a highlight without words. */
export function useBeginning(onFocus: (thread: string | null) => void) {
  const { info, me, may, text, say, toText, toPage } = useOpened();
  const { page } = useLooking();
  const { send, tell } = useThreadAsking();
  const key = unsentKey(me.id, info.id, 'new');
  const [begun, setBegun] = useState<Begun | null>(() => placeOfUnsent(text.snapshot().state, readUnsent(key)));

  const begin = (where: () => Begun) => {
    if (!may.remark) return say('In this manuscript you may read, not comment.');
    onFocus(null);
    setBegun(where());
  };
  /** Highlights the selection, and says nothing. */
  const highlight = async (tint: Tint) => {
    const { from, to, quote } = beginning(text.snapshot().state!);
    if (!quote) return say('Select the words that are to be highlighted.');
    const id = nanoid(12);
    tell('POST', '', { id, at: await placeForServer(text, { from, to }), tint }, () => onFocus(id));
  };
  useCommands({
    // On the selection; at the caret on the word it stands in, or on the place.
    comment: () => begin(() => beginning(text.snapshot().state!)),
    whole: () => {
      if (page !== 'text') void toPage('text');
      begin(() => ({ from: 0, to: 0, quote: '', whole: true }));
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
      const id = nanoid(12);
      const about = begun.whole ? { whole: true } : { at: await placeForServer(text, begun) };
      const thread = { id, ...about, ...(written.toSelf && { toSelf: true }), comment: commentOf(written) };
      await send('POST', '', thread, () => {
        setBegun(null);
        onFocus(id);
        // The field goes with the keyboard in it.
        toText();
      });
    },
    [begun, text, send, onFocus, toText],
  );
  const leave = useCallback(() => {
    keepUnsent(key, null);
    setBegun(null);
    toText();
  }, [key, toText]);
  return { begun, keep, leave };
}
