import { useCallback } from 'react';
import type { Drafts } from '@tea-pencil/wire';
import { useInAddress } from '../reviewing/use-lens';

/** How drafts are looked at: two beside each other, or one alone. */
export type Looking = 'beside' | 'one';

const numberOf = (value: string | null) => (value !== null && /^\d{1,9}$/.test(value) ? Number(value) : null);

/** Which two states are looked at; they stand in the address, so that they can be sent to a colleague. */
export function useChoice({ drafts, version }: Drafts) {
  const [from, setFrom] = useInAddress('from');
  const [to, setTo] = useInAddress('to');
  const [asked, setAsked] = useInAddress('look');
  const after = Math.min(version, numberOf(to) ?? version);
  // At first the newest state beside the last that somebody has kept, else beside the first.
  const last = drafts.find((draft) => draft.reason === 'hand' && draft.version < after) ?? drafts.at(-1);
  const before = Math.min(after, numberOf(from) ?? last?.version ?? 0);
  const choose = useCallback(
    (one: number, other: number) => {
      setFrom(String(Math.min(one, other)));
      setTo(Math.max(one, other) === version ? null : String(Math.max(one, other)));
    },
    [setFrom, setTo, version],
  );
  const looking: Looking = asked === 'one' ? 'one' : 'beside';
  return { before, after, choose, looking, setLooking: (next: Looking) => setAsked(next === 'one' ? 'one' : null) };
}
export type Choice = ReturnType<typeof useChoice>;
