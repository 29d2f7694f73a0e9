import { useQueryClient } from '@tanstack/react-query';
import { nanoid } from 'nanoid';
import { useCallback, useEffect, useState } from 'react';
import { schema, type Change, type Thread } from '@tea-pencil/core';
import { request } from '../api/client';
import type { LiveText } from '../live/live-text';

export interface Begun {
  from: number;
  to: number;
  quote: string;
}

const longestQuote = 5000;

/** Beginning, answering and resolving threads. What the server refuses is said, and nothing written is lost. */
export function useTalk(
  manuscript: string,
  text: LiveText,
  mayRemark: boolean,
  say: (sentence: string) => void,
  onFocus: (thread: string | null) => void,
) {
  const queries = useQueryClient();
  const [begun, setBegun] = useState<Begun | null>(null);
  const path = `/manuscripts/${manuscript}/threads`;
  const again = useCallback(
    () => queries.invalidateQueries({ queryKey: ['threads', manuscript] }),
    [queries, manuscript],
  );
  const told = useCallback(
    (problem: unknown) => {
      say((problem as Error).message);
      throw problem;
    },
    [say],
  );

  /** Begins a comment on the selection; at the caret it takes the word the caret stands in. */
  const begin = useCallback(() => {
    if (!mayRemark) return say('In this manuscript you may read, not comment.');
    const { doc, selection } = text.snapshot().state!;
    const { empty, $from } = selection;
    let { from, to } = selection;
    if (empty) {
      const words = $from.parent.textBetween(0, $from.parent.content.size, '', '\ufffc');
      from -= /[\p{L}\p{N}’'-]*$/u.exec(words.slice(0, $from.parentOffset))![0].length;
      to += /^[\p{L}\p{N}’'-]*/u.exec(words.slice($from.parentOffset))![0].length;
      if (from === to) return say('Select the words your comment is about, or put the caret into one.');
    }
    onFocus(null);
    setBegun({ from, to, quote: doc.textBetween(from, to, ' ').slice(0, longestQuote) });
  }, [mayRemark, say, text, onFocus]);

  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (event.key !== 'F4') return;
      event.preventDefault();
      begin();
    };
    addEventListener('keydown', keys);
    return () => removeEventListener('keydown', keys);
  }, [begin]);

  // While the comment is being written the text goes on under it.
  useEffect(() => {
    if (!begun) return;
    return text.onMapping((mapping) =>
      setBegun((now) => now && { ...now, from: mapping.map(now.from, 1), to: mapping.map(now.to, -1) }),
    );
  }, [begun, text]);

  const keep = useCallback(
    async (words: string) => {
      if (!begun) return;
      const id = nanoid(12);
      await request('POST', path, { id, comment: nanoid(12), quote: begun.quote, text: words }).catch(told);
      const { tr } = text.snapshot().state!;
      if (begun.from < begun.to) {
        const anchor = schema.marks.anchor!.create({ thread: id });
        text.dispatch(
          tr.addMark(begun.from, begun.to, anchor).setMeta('intent', 'anchor').setMeta('addToHistory', false),
        );
      }
      setBegun(null);
      await again();
      onFocus(id);
    },
    [begun, path, told, text, again, onFocus],
  );
  const reply = useCallback(
    async (thread: string, words: string) => {
      await request('POST', `${path}/${thread}/comments`, { id: nanoid(12), text: words }).catch(told);
      await again();
    },
    [path, told, again],
  );
  /** Says something about a change: in the thread it has, or as the first of one. */
  const sayOn = useCallback(
    async ({ id, before, after }: Pick<Change, 'id' | 'before' | 'after'>, words: string) => {
      const threads = queries.getQueryData<Thread[]>(['threads', manuscript]) ?? [];
      const known = threads.find(({ change }) => change === id);
      if (known) return reply(known.id, words);
      const quote = (after || before).replaceAll('\n', ' ').trim().slice(0, longestQuote);
      const thread = { id: nanoid(12), comment: nanoid(12), change: id, quote, text: words };
      await request('POST', path, thread).catch(told);
      await again();
    },
    [queries, manuscript, reply, path, told, again],
  );
  const resolve = useCallback(
    (thread: string, resolved: boolean) => {
      request('PATCH', `${path}/${thread}`, { resolved })
        .then(again)
        .catch((problem: unknown) => say((problem as Error).message));
      if (resolved) onFocus(null);
    },
    [path, again, say, onFocus],
  );
  const leave = useCallback(() => setBegun(null), []);
  return { begun, begin, keep, leave, reply, sayOn, resolve };
}
