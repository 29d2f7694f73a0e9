import { keys } from '../api/keys';
import { useQueryClient } from '@tanstack/react-query';
import { nanoid } from 'nanoid';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { mappedRange, type Change, type Remark, type Thread, type Tint } from '@tea-pencil/core';
import { request } from '../api/client';
import { useTakeBack } from '../kit/use-take-back';
import type { LiveText } from '../live/live-text';
import { draftKey, keepDraft, readDraft } from './unsent';
import { beginning, placeForServer, placeOfDraft } from './begin';
import type { Written } from './Writing';

/** A comment that is being begun: on words, at a place, or on the whole. */
export interface Begun {
  from: number;
  to: number;
  quote: string;
  whole: boolean;
}

interface Wanted {
  manuscript: string;
  me: string;
  text: LiveText;
  mayRemark: boolean;
  /** The words of a thread as they read now. */
  wordsNow(thread: Thread): string | null;
  say(sentence: string): void;
  onFocus(thread: string | null): void;
}

const commentOf = ({ body, query, proposal }: Written) => ({
  id: nanoid(12),
  body,
  ...(query && { query }),
  ...(proposal && { proposal }),
});

/** All that can be done with talk. What the server refuses is said, and nothing written is lost. */
export function useTalk({ manuscript, me, text, mayRemark, wordsNow, say, onFocus }: Wanted) {
  const queries = useQueryClient();
  const sayDone = useTakeBack();
  const newKey = draftKey(me, manuscript, 'new');
  const [begun, setBegun] = useState<Begun | null>(() => placeOfDraft(text.snapshot().state, readDraft(newKey)));
  const path = `/manuscripts/${manuscript}/threads`;
  const again = useCallback(
    () => queries.invalidateQueries({ queryKey: keys.threads(manuscript) }),
    [queries, manuscript],
  );
  /**
   * Asks the server; what it refuses is said and thrown on.
   * @param then what is done as soon as it is kept, before the threads are asked for again
   */
  const send = useCallback(
    async <T = void>(method: string, at: string, body?: object, then?: () => void): Promise<T> => {
      try {
        const answer = await request<T>(method, path + at, body);
        then?.();
        await again();
        return answer;
      } catch (problem) {
        say((problem as Error).message);
        throw problem;
      }
    },
    [path, again, say],
  );
  /** The same, for what nobody waits for. */
  const tell = useCallback(
    (method: string, at: string, body?: object, then?: () => void) =>
      void send(method, at, body).then(then, () => undefined),
    [send],
  );

  /** Begins a comment on the selection; at the caret on the word it stands in, or on the place. */
  const begin = useCallback(() => {
    if (!mayRemark) return say('In this manuscript you may read, not comment.');
    onFocus(null);
    setBegun(beginning(text.snapshot().state!));
  }, [mayRemark, say, text, onFocus]);
  const beginOnWhole = useCallback(() => {
    if (!mayRemark) return say('In this manuscript you may read, not comment.');
    onFocus(null);
    setBegun({ from: 0, to: 0, quote: '', whole: true });
  }, [mayRemark, say, onFocus]);

  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (event.key !== 'F4' || event.shiftKey) return;
      event.preventDefault();
      begin();
    };
    addEventListener('keydown', keys);
    return () => removeEventListener('keydown', keys);
  }, [begin]);

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
      });
    },
    [begun, text, send, onFocus],
  );
  const leave = useCallback(() => {
    keepDraft(newKey, null);
    setBegun(null);
  }, [newKey]);

  /** Highlights the selection, and says nothing. */
  const highlight = useCallback(
    async (tint: Tint) => {
      const { from, to, quote } = beginning(text.snapshot().state!);
      if (!quote) return say('Select the words that are to be highlighted.');
      const id = nanoid(12);
      tell('POST', '', { id, at: await placeForServer(text, { from, to }), tint }, () => onFocus(id));
    },
    [text, say, tell, onFocus],
  );
  const setTint = useCallback((thread: string, tint: Tint) => tell('PATCH', `/${thread}`, { tint }), [tell]);

  const reply = useCallback(
    (thread: string, written: Written) => send('POST', `/${thread}/comments`, commentOf(written)),
    [send],
  );
  const edit = useCallback(
    (thread: string, comment: string, body: Remark) => send('PATCH', `/${thread}/comments/${comment}`, { body }),
    [send],
  );
  const remove = useCallback(
    (thread: string, comment: string) => {
      const at = `/${thread}/comments/${comment}`;
      tell('PATCH', at, { deleted: true }, () =>
        sayDone('Your comment is deleted.', () => tell('PATCH', at, { deleted: false })),
      );
    },
    [tell, sayDone],
  );
  const settle = useCallback(
    (thread: string, comment: string) => {
      const at = `/${thread}/comments/${comment}/query`;
      tell('PATCH', at, { settled: true }, () =>
        sayDone('It waits for no answer any more.', () => tell('PATCH', at, { settled: false })),
      );
    },
    [tell, sayDone],
  );

  /** Says something about a change: in the thread it has, or as the first of one. */
  const sayOn = useCallback(
    async ({ id }: Pick<Change, 'id'>, written: Written) => {
      const threads = queries.getQueryData<Thread[]>(keys.threads(manuscript)) ?? [];
      const known = threads.find(({ change, toSelf }) => change === id && !!toSelf === !!written.toSelf);
      if (known) return reply(known.id, written);
      const alone = written.toSelf && { toSelf: true };
      await send('POST', '', { id: nanoid(12), change: id, ...alone, comment: commentOf(written) });
    },
    [queries, manuscript, reply, send],
  );

  const resolve = useCallback(
    (thread: Thread, resolved: boolean) => {
      tell('PATCH', `/${thread.id}`, { resolved }, () => {
        if (!resolved) return;
        const unchanged =
          !!thread.quote && wordsNow(thread) === thread.quote && !thread.toSelf && thread.comments.length > 0;
        sayDone(unchanged ? 'Resolved. Its words read as they did when it was begun.' : 'Resolved.', () =>
          tell('PATCH', `/${thread.id}`, { resolved: false }),
        );
      });
      if (resolved) onFocus(null);
    },
    [tell, wordsNow, sayDone, onFocus],
  );
  const resolveAll = useCallback(
    async (ids: readonly string[]) => {
      const { turned } = await send<{ turned: string[] }>('PATCH', '', { threads: ids, resolved: true }).catch(() => ({
        turned: [],
      }));
      if (turned.length)
        sayDone(`Resolved ${turned.length === 1 ? 'one thread' : `${turned.length} threads`}.`, () =>
          tell('PATCH', '', { threads: turned, resolved: false }),
        );
    },
    [send, sayDone, tell],
  );

  /** Brings a thread whose words have gone to the selected ones. */
  const bringBack = useCallback(
    async (thread: string) => {
      const { from, to } = text.snapshot().state!.selection;
      if (from === to) return say('Select the words in the text that the thread shall be about, and choose it again.');
      tell('PUT', `/${thread}/place`, await placeForServer(text, { from, to }));
    },
    [text, say, tell],
  );
  /** Makes proposed wording a change. */
  const makeChange = useCallback(
    (thread: string, comment: string) =>
      tell('POST', `/${thread}/comments/${comment}/change`, undefined, () => {
        say('It is a pending change now, in the name of who proposed it, and the thread is resolved.');
        onFocus(null);
      }),
    [tell, say, onFocus],
  );

  return useMemo(
    () => ({
      begun,
      begin,
      beginOnWhole,
      keep,
      leave,
      highlight,
      setTint,
      reply,
      edit,
      remove,
      settle,
      sayOn,
      resolve,
      resolveAll,
      bringBack,
      makeChange,
    }),
    [
      begun,
      begin,
      beginOnWhole,
      keep,
      leave,
      highlight,
      setTint,
      reply,
      edit,
      remove,
      settle,
      sayOn,
      resolve,
      resolveAll,
      bringBack,
      makeChange,
    ],
  );
}

export type Talk = ReturnType<typeof useTalk>;
