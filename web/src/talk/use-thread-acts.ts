import { counted } from '@tea-pencil/core';
import { useQueryClient } from '@tanstack/react-query';
import { nanoid } from 'nanoid';
import { useMemo } from 'react';
import type { Change, Remark, Thread, Tint } from '@tea-pencil/core';
import { keys } from '../api/keys';
import { useAsking } from '../api/use-asking';
import { invited } from './inviting';
import { useOpened } from '../opened/opened';
import { placeForServer } from './begin';
import type { Written } from './shapes';

/** What of a written comment is sent. */
export const commentOf = ({ body, query, proposal }: Written) => ({
  id: nanoid(12),
  body,
  ...(query && { query }),
  ...(proposal && { proposal }),
});

/** Asks the server about threads; what it refuses is said. */
export function useThreadAsking() {
  const { id } = useOpened().info;
  const ask = useAsking(keys.threads(id));
  return useMemo(() => {
    const path = `/manuscripts/${id}/threads`;
    type Method = Parameters<typeof ask>[0];
    /** @throws what is refused */
    const send = async <T = void>(method: Method, at: string, body?: object, then?: () => void) => {
      await invited();
      return ask<T>(method, path + at, body, then);
    };
    /** The same, for what nobody waits for. */
    const tell = (...asked: Parameters<typeof send>) => void send(...asked).catch(() => undefined);
    return { send, tell };
  }, [id, ask]);
}

/** What can be done with what has been said: answering, changing, deleting, asking and proposing. */
export function useCommentActs() {
  const { info, sayDone } = useOpened();
  const queries = useQueryClient();
  const { send, tell } = useThreadAsking();
  return useMemo(() => {
    const reply = (thread: string, written: Written) => send('POST', `/${thread}/comments`, commentOf(written));
    const edit = (thread: string, comment: string, body: Remark) =>
      send('PATCH', `/${thread}/comments/${comment}`, { body });
    const remove = (thread: string, comment: string) => {
      const at = `/${thread}/comments/${comment}`;
      tell('PATCH', at, { deleted: true }, () =>
        sayDone('Your comment is deleted.', () => tell('PATCH', at, { deleted: false })),
      );
    };
    /** A query waits for no answer any more. */
    const answered = (thread: string, comment: string) => {
      const at = `/${thread}/comments/${comment}/query`;
      tell('PATCH', at, { settled: true }, () =>
        sayDone('It waits for no answer any more.', () => tell('PATCH', at, { settled: false })),
      );
    };
    /** Says something about a change: in the thread it has, or as the first of one. */
    const sayOn = ({ id }: Pick<Change, 'id'>, written: Written) => {
      const threads = queries.getQueryData<Thread[]>(keys.threads(info.id)) ?? [];
      const known = threads.find(({ change, toSelf }) => change === id && !!toSelf === !!written.toSelf);
      if (known) return reply(known.id, written);
      const alone = written.toSelf && { toSelf: true };
      return send('POST', '', { id: nanoid(12), change: id, ...alone, comment: commentOf(written) });
    };
    return { reply, edit, remove, answered, sayOn };
  }, [send, tell, sayDone, queries, info.id]);
}

/** What can be done with whole threads: resolving, tinting, bringing to other words, making a change of a proposal. */
export function useThreadActs(wordsNow: (thread: Thread) => string | null, onFocus: (thread: string | null) => void) {
  const { text, say, sayDone } = useOpened();
  const { send, tell } = useThreadAsking();
  return useMemo(() => {
    const setTint = (thread: string, tint: Tint) => tell('PATCH', `/${thread}`, { tint });
    const resolve = (thread: Thread, resolved: boolean) => {
      tell('PATCH', `/${thread.id}`, { resolved }, () => {
        if (!resolved) return;
        const unchanged =
          !!thread.quote && wordsNow(thread) === thread.quote && !thread.toSelf && thread.comments.length > 0;
        sayDone(unchanged ? 'Resolved. Its words read as they did when it was begun.' : 'Resolved.', () =>
          tell('PATCH', `/${thread.id}`, { resolved: false }),
        );
      });
      if (resolved) onFocus(null);
    };
    const resolveAll = async (ids: readonly string[]) => {
      const none = { turned: [] as string[] };
      const { turned } = await send<typeof none>('PATCH', '', { threads: ids, resolved: true }).catch(() => none);
      if (turned.length)
        sayDone(`Resolved ${counted(turned.length, 'thread')}.`, () =>
          tell('PATCH', '', { threads: turned, resolved: false }),
        );
    };
    /** Brings a thread whose words have gone to the selected ones. */
    const bringBack = async (thread: string) => {
      const { from, to } = text.snapshot().state!.selection;
      if (from === to) return say('Select the words in the text that the thread shall be about, and choose it again.');
      tell('PUT', `/${thread}/place`, await placeForServer(text, { from, to }));
    };
    /** Makes proposed wording a change. */
    const makeChange = (thread: string, comment: string) =>
      tell('POST', `/${thread}/comments/${comment}/change`, undefined, () => {
        say('It is a pending change now, in the name of who proposed it, and the thread is resolved.');
        onFocus(null);
      });
    return { setTint, resolve, resolveAll, bringBack, makeChange };
  }, [text, say, sayDone, send, tell, wordsNow, onFocus]);
}
