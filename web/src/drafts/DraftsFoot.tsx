import { Button, IconButton } from '@mui/material';
import { useMemo, type RefObject } from 'react';
import { counted } from '@tea-pencil/core';
import type { Drafts, SideBySide } from '@tea-pencil/wire';
import { useOpened } from '../opened/opened';
import { LayDown } from './LayDown';
import { TakeAwayDraft } from './TakeAwayDraft';
import type { Choice } from './use-choice';
import { nameOfState } from './words';

interface Props {
  all: Drafts;
  choice: Choice;
  data: SideBySide | undefined;
  /** The state that would come back. */
  shown: number;
  scroller: RefObject<HTMLDivElement | null>;
  lit: string | null;
  setLit(change: string | null): void;
  onBack(): void;
  onLaidDown(): void;
}

/** How many differences there are, and the ways from one to the next, back, and away. */
export function DraftsFoot({ all, choice, data, shown, scroller, lit, setLit, onBack, onLaidDown }: Props) {
  const { may } = useOpened();
  const counts = useMemo(() => {
    const differences = data?.differences ?? [];
    const of = (how: string) => differences.filter((one) => one.how === how).length;
    return { all: differences.length, recorded: of('pencil'), ink: of('ink') };
  }, [data]);
  const go = (direction: 1 | -1, inkOnly = false) => {
    const order = (data?.rows ?? []).flatMap((row) => ('same' in row ? [] : row.changes));
    const wanted = new Set(
      data?.differences.filter(({ how }) => !inkOnly || how === 'ink').map(({ change }) => change),
    );
    const list = order.filter((id) => wanted.has(id));
    if (!list.length) return;
    const here = lit === null ? -1 : list.indexOf(lit);
    const next = list[(here + direction + list.length + (here < 0 && direction < 0 ? 1 : 0)) % list.length]!;
    setLit(next);
    scroller.current?.querySelector(`[data-changes~="${CSS.escape(next)}"]`)?.scrollIntoView({ block: 'center' });
  };
  const name = nameOfState(all, shown, undefined);
  return (
    <footer className="foot">
      {data && (
        <>
          <strong>{counted(counts.all, 'difference')}</strong>
          {counts.recorded > 0 && <span className="second">{counts.recorded} recorded as changes</span>}
          {counts.ink > 0 && (
            <button type="button" className="ink-count" onClick={() => go(1, true)}>
              {counts.ink} made in ink
            </button>
          )}
        </>
      )}
      <span className="drafts-space" />
      {data && counts.all > 0 && (
        <>
          <IconButton size="small" aria-label="The difference before" onClick={() => go(-1)}>
            ↑
          </IconButton>
          <IconButton size="small" aria-label="The next difference" onClick={() => go(1)}>
            ↓
          </IconButton>
        </>
      )}
      {may.takeAway && <TakeAwayDraft version={shown} name={name} />}
      {may.decide && counts.ink > 0 && (
        <LayDown from={choice.before} to={choice.after} many={counts.ink} onDone={onLaidDown} />
      )}
      {(may.write || may.takeAway) && shown < all.version && (
        <Button variant="contained" onClick={onBack}>
          Bring “{name}” back …
        </Button>
      )}
    </footer>
  );
}
