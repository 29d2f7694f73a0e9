import { Button, Checkbox, FormControlLabel, Popover, Tooltip } from '@mui/material';
import { useRef } from 'react';
import type { LedgerLook } from '@tea-pencil/wire';
import { usePop } from '../kit/focus';
import { useOpened } from '../opened/opened';
import { toggled } from '../reviewing/words';
import { columns, least, narrowest, plainLedger, shownColumns, widened, widest, type ColumnName } from './columns';
import type { Column } from './rows';

interface Props {
  look: LedgerLook;
  onLook(look: LedgerLook): void;
}

/** The border of a column, which is drawn, or moved by the arrow keys (WAI-ARIA, window splitter). */
function Border({ name, label, look, onLook }: Props & { name: ColumnName; label: string }) {
  const border = useRef<HTMLSpanElement>(null);
  const from = useRef<{ x: number; width: number } | null>(null);
  const now = () => border.current?.parentElement?.getBoundingClientRect().width ?? narrowest;
  const to = (width: number) => onLook(widened(look, name, width));
  // Keys may come faster than what they do is drawn.
  const byKeys = useRef<number | null>(null);
  return (
    <span
      ref={border}
      role="separator"
      aria-orientation="vertical"
      aria-label={`Width of ${label}`}
      aria-valuenow={look.widths[name] ?? columns.find((one) => one.name === name)?.width ?? least}
      aria-valuemin={narrowest}
      aria-valuemax={widest}
      tabIndex={0}
      className="ledger-border"
      title="Draw to widen; twice for its usual width"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        byKeys.current = null;
        from.current = { x: event.clientX, width: now() };
      }}
      onPointerMove={({ clientX }) => from.current && to(from.current.width + clientX - from.current.x)}
      onPointerUp={() => (from.current = null)}
      onDoubleClick={() => {
        const { [name]: _, ...widths } = look.widths;
        onLook({ ...look, widths });
      }}
      onKeyDown={(event) => {
        const by = { ArrowLeft: -10, ArrowRight: 10 }[event.key];
        if (!by) return;
        event.preventDefault();
        byKeys.current = Math.min(widest, Math.max(narrowest, (byKeys.current ?? now()) + by));
        to(byKeys.current);
      }}
      onBlur={() => (byKeys.current = null)}
    />
  );
}

/** The heads of the columns, by which the rows are sorted. */
export function Columns({
  look,
  onLook,
  sorting,
  onSort,
  pending,
  left,
  onChoose,
}: Props & {
  sorting: { column: Column; down: boolean };
  onSort(column: Column): void;
  pending: readonly string[];
  left: readonly string[];
  onChoose(ids: readonly string[], on: boolean): void;
}) {
  const { may } = useOpened();
  return (
    <div role="row" className="ledger-row ledger-head" aria-rowindex={1}>
      <span role="columnheader">
        {may.decide && (
          <Checkbox
            size="small"
            disabled={!pending.length}
            checked={!!pending.length && left.length === pending.length}
            indeterminate={left.length > 0 && left.length < pending.length}
            onChange={(_, on) => onChoose(pending, on)}
            slotProps={{ input: { 'aria-label': 'Choose all that wait' } }}
            sx={{ p: 0 }}
          />
        )}
      </span>
      {shownColumns(look).map(({ name, label, sorts }) => (
        <span
          key={name}
          role="columnheader"
          data-column={name}
          aria-sort={sorts !== sorting.column ? undefined : sorting.down ? 'descending' : 'ascending'}
        >
          {sorts ? (
            <button type="button" className="ledger-sort" onClick={() => onSort(sorts)}>
              {label}
              {sorts === sorting.column && (sorting.down ? ' ↓' : ' ↑')}
            </button>
          ) : (
            label
          )}
          <Border {...{ name, label, look, onLook }} />
        </span>
      ))}
    </div>
  );
}

/** Which columns are seen. */
export function ColumnsMenu({ look, onLook }: Props) {
  const { open, props, transition } = usePop();
  const shown = new Set(shownColumns(look).map(({ name }) => name));
  return (
    <>
      <Tooltip title="Which columns are seen; their borders can be drawn">
        <Button color="inherit" aria-haspopup="dialog" onClick={open} className="ledger-columns">
          Columns
        </Button>
      </Tooltip>
      <Popover
        {...props}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{
          transition,
          paper: { role: 'dialog', 'aria-label': 'Columns', sx: { p: 1.5, display: 'grid' } },
        }}
      >
        {columns.map(({ name, label }) => (
          <FormControlLabel
            key={name}
            label={label}
            slotProps={{ typography: { sx: { fontSize: 13 } } }}
            control={
              <Checkbox
                size="small"
                sx={{ py: 0.4 }}
                checked={shown.has(name)}
                onChange={() => onLook({ ...look, hidden: toggled(look.hidden, name) })}
              />
            }
          />
        ))}
        <Button color="inherit" size="small" onClick={() => onLook(plainLedger)} sx={{ mt: 0.5 }}>
          As usual
        </Button>
      </Popover>
    </>
  );
}
