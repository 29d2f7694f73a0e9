import { Button } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { counted } from '@tea-pencil/core';
import type { BroughtBack } from '@tea-pencil/wire';
import { request } from '../api/client';
import { useInk } from '../api/drafts';
import { keys } from '../api/keys';
import { useOpened } from '../opened/opened';
import { takeActBack } from './taking-back';

/** Lays pieces of ink down in pencil, and offers the way back. */
export function useLayingDown() {
  const { info, say, sayDone } = useOpened();
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (pieces: readonly number[]) => {
      const acts: string[] = [];
      let changes = 0;
      for (const from of pieces) {
        const made = await request<BroughtBack>('POST', `/manuscripts/${info.id}/ink/${from}/pencil`);
        if (made.act !== null) acts.unshift(made.act);
        changes += made.changes;
      }
      void queries.invalidateQueries({ queryKey: keys.drafts(info.id) });
      if (!acts.length) return say('Nothing of this ink is left in the text.');
      sayDone(`${counted(changes, 'change')} can be decided now; the text reads as before.`, () => {
        void (async () => {
          try {
            let otherwise: string | null = null;
            for (const act of acts) otherwise = (await takeActBack(info.id, act)) ?? otherwise;
            say(otherwise ?? 'It is ink again.');
          } catch (problem) {
            say((problem as Error).message);
          }
        })();
      });
    },
    onError: ({ message }) => say(message),
  });
}

/** All ink between two states. */
export function LayDown({ from, to, many, onDone }: { from: number; to: number; many: number; onDone(): void }) {
  const { info } = useOpened();
  const ink = useInk(info.id);
  const lay = useLayingDown();
  // The newest first: what was written on top comes off first.
  const pieces = (ink.data ?? []).filter((piece) => piece.to > from && piece.from < to && !piece.laidDown);
  if (!pieces.length) return null;
  return (
    <Button
      color="inherit"
      variant="outlined"
      loading={lay.isPending}
      onClick={() =>
        lay.mutate(
          pieces.map((piece) => piece.from),
          { onSuccess: onDone },
        )
      }
    >
      Lay the {many} down in pencil
    </Button>
  );
}
