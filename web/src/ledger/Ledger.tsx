import { Box, Button, Checkbox, LinearProgress, Tooltip } from '@mui/material';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState, type CSSProperties } from 'react';
import { type Thread, type Verdict, counted } from '@tea-pencil/core';
import type { DecidedChange, LedgerLook } from '@tea-pencil/wire';
import { keepFile } from '../api/client';
import { LastDecision } from '../deciding/LastDecision';
import { useDecide } from '../deciding/use-deciding';
import { OneOfMany } from '../kit/ErrorBoundary';
import { Message } from '../kit/Message';
import { useWidth } from '../kit/width';
import { useDrawn, useOpened } from '../opened/opened';
import { useInAddress } from '../reviewing/use-lens';
import { useView } from '../reviewing/use-view';
import { useReviewed } from '../reviewing/use-reviewing';
import { InkPieces } from '../drafts/InkPieces';
import { LedgerRow } from './LedgerRow';
import { LedgerTabs } from './LedgerTabs';
import { Columns, ColumnsMenu } from './Columns';
import { layOf, plainLedger, shownColumns } from './columns';
import { useLedgerRows } from './use-ledger-rows';
import { csvOf, groupRows, sortRows, type Column, type Grouping, type Row } from './rows';

interface Props {
  threads: readonly Thread[];
  /** Where it was scrolled to when it was left. */
  scroll: React.RefObject<number>;
  onGoTo(row: Row): void;
}

const groupings: Grouping[] = ['alike', 'author', 'section', 'nothing'];

type Line = { title: string; ids: string[] } | { row: Row };

const save = (name: string, text: string) => keepFile(name, new Blob([text], { type: 'text/csv;charset=utf-8' }));

/** What was decided in each act. */
function byDecision(decided: readonly DecidedChange[]): ReadonlyMap<string, string[]> {
  const acts = new Map<string, string[]>();
  for (const { id, decision, verdict } of decided) {
    if (!decision || !verdict) continue;
    const known = acts.get(decision);
    if (known) known.push(id);
    else acts.set(decision, [id]);
  }
  return acts;
}

const withChosen = (decision: string, ids: readonly string[], chosen: ReadonlySet<string>): [string, string[]][] => {
  const some = ids.filter((id) => chosen.has(id));
  return some.length ? [[decision, some]] : [];
};

/** Every change, pending and decided, as a table. */
export function Ledger(props: Props) {
  const [asked] = useInAddress('look');
  if (asked !== 'ink') return <Changes {...props} />;
  return (
    <main className="ledger">
      <h1 className="heard-only">What was done in ink</h1>
      <Box sx={{ display: 'flex', py: 1.5 }}>
        <LedgerTabs />
      </Box>
      <InkPieces />
    </main>
  );
}

function Changes(props: Props) {
  const { threads, scroll, onGoTo } = props;
  const { info, may, text } = useOpened();
  const { changes } = useReviewed();
  const decide = useDecide();
  const { ledger, rows } = useLedgerRows(threads);
  const [sorting, setSorting] = useState<{ column: Column; down: boolean }>({ column: 'place', down: false });
  const [asked, setGrouping] = useInAddress('together');
  const grouping = groupings.find((by) => by === asked) ?? 'nothing';
  const { view, set: remember } = useView(info.id);
  const { ledger: look = plainLedger } = view;
  const setLook = (next: LedgerLook) => remember({ ledger: next });
  const lay = useMemo(() => layOf(look), [look]);
  const shown = useMemo(() => new Set<string>(shownColumns(look).map(({ name }) => name)), [look]);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const scroller = useRef<HTMLDivElement>(null);

  const groups = useMemo(
    () => groupRows(sortRows(rows, sorting.column, sorting.down, info), grouping, info),
    [rows, sorting, grouping, info],
  );
  const lines = useMemo(
    () =>
      groups.flatMap(({ title, rows: members }): Line[] => {
        const ids = members.flatMap(({ pending }) => (pending ? [pending.id] : []));
        return [...(title ? [{ title, ids }] : []), ...members.map((row) => ({ row }))];
      }),
    [groups],
  );
  // What has been decided meanwhile is not chosen any more.
  const pending = useMemo(() => rows.flatMap((row) => (row.pending ? [row.id] : [])), [rows]);
  const left = pending.filter((id) => chosen.has(id));
  const ofDecision = useMemo(() => byDecision(ledger.data?.decided ?? []), [ledger.data]);
  const back = new Map([...ofDecision].flatMap(([decision, ids]) => withChosen(decision, ids, chosen)));

  const rowHeight = useWidth() === 'phone' ? 134 : 42; // as a card, or a line
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => ('row' in lines[i]! ? rowHeight : 30),
    overscan: 12,
    initialOffset: () => scroll.current,
  });
  useEffect(() => virtual.measure(), [virtual, rowHeight]);
  useEffect(() => {
    const element = scroller.current;
    if (!element) return;
    element.scrollTop = scroll.current;
    const note = () => void (scroll.current = element.scrollTop);
    element.addEventListener('scroll', note, { passive: true });
    return () => element.removeEventListener('scroll', note);
  }, [scroll, ledger.isSuccess]);

  if (ledger.isPending) return <LinearProgress aria-label="The ledger is being fetched" />;
  if (ledger.isError)
    return (
      <Message title="The ledger cannot be shown" text={ledger.error.message} again={() => void ledger.refetch()} />
    );

  const choose = (ids: readonly string[], on: boolean) =>
    setChosen((now) => {
      const next = new Set(now);
      for (const id of ids)
        if (on) next.add(id);
        else next.delete(id);
      return next;
    });
  const sortBy = (column: Column) => setSorting((now) => ({ column, down: now.column === column ? !now.down : false }));
  const act = (verdict: Verdict) => {
    decide(verdict, left);
    setChosen(new Set());
  };
  const takeBack = async () => {
    setChosen(new Set());
    for (const [decision, ids] of back) await text.takeBack(decision, ids);
  };

  return (
    <>
      <Box component="main" className="ledger">
        <Heading
          rows={rows}
          groups={groups}
          grouping={grouping}
          onGrouping={(by) => setGrouping(by === 'nothing' ? null : by)}
          look={look}
          onLook={setLook}
        />
        <div ref={scroller} className="ledger-scroll" tabIndex={0} role="region" aria-label="The rows of the ledger">
          <div
            role="table"
            aria-label="Ledger"
            aria-rowcount={lines.length + 1}
            style={{ '--ledger-columns': lay.template, '--ledger-width': `${lay.width}px` } as CSSProperties}
          >
            <Columns
              look={look}
              onLook={setLook}
              sorting={sorting}
              onSort={sortBy}
              pending={pending}
              left={left}
              onChoose={choose}
            />
            <div role="rowgroup" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
              {virtual.getVirtualItems().map(({ index, start, size }) => {
                const line = lines[index]!;
                const style = { position: 'absolute' as const, top: start, left: 0, right: 0, height: size };
                if ('row' in line)
                  return (
                    <div key={line.row.id} role="none" style={style}>
                      <OneOfMany what="This change" of={line.row}>
                        <LedgerRow
                          row={line.row}
                          shown={shown}
                          index={index + 2}
                          chosen={chosen.has(line.row.id)}
                          together={ofDecision.get(line.row.decided?.decision ?? '')?.length ?? 1}
                          onChoose={(on) => choose([line.row.id], on)}
                          onGoTo={() => onGoTo(line.row)}
                        />
                      </OneOfMany>
                    </div>
                  );
                const all = line.ids.length > 0 && line.ids.every((id) => chosen.has(id));
                return (
                  <div
                    key={`group ${line.title}`}
                    role="row"
                    aria-rowindex={index + 2}
                    className="ledger-group"
                    style={style}
                  >
                    <span role="cell">
                      {may.decide && (
                        <Checkbox
                          size="small"
                          disabled={!line.ids.length}
                          checked={all}
                          onChange={(_, on) => choose(line.ids, on)}
                          slotProps={{ input: { 'aria-label': `Choose ${line.title}` } }}
                          sx={{ p: 0, mr: 1.5 }}
                        />
                      )}
                      {line.title}
                    </span>
                  </div>
                );
              })}
            </div>
          </div>
          {!rows.length && (
            <Box className="second" sx={{ p: 3, textAlign: 'center' }}>
              {changes.length + ledger.data.decided.length
                ? 'No change is in this lens. Look at everything (F9) to see them all.'
                : 'No change has been made in this manuscript yet. What is recorded in pencil is listed here.'}
            </Box>
          )}
        </div>
      </Box>
      <Chosen
        many={left.length}
        decided={[...back.values()].flat().length}
        onAct={act}
        onBack={() => void takeBack()}
      />
    </>
  );
}

/** How many rows there are and in which groups; and a way to take them away. */
function Heading({
  rows,
  groups,
  grouping,
  onGrouping,
  look,
  onLook,
}: {
  rows: readonly Row[];
  groups: readonly { rows: Row[] }[];
  grouping: Grouping;
  onGrouping(by: Grouping): void;
  look: LedgerLook;
  onLook(look: LedgerLook): void;
}) {
  const { info } = useOpened();
  const { doc } = useDrawn();
  const count = (test: (row: Row) => boolean) => rows.filter(test).length;
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: '4px 16px', py: 1.5 }}>
      <LedgerTabs />
      <Box component="h1" sx={{ fontSize: 15, fontWeight: 600, m: 0 }}>
        {counted(rows.length, 'change')}
      </Box>
      <span className="second" data-testid="states">
        {rows.filter(({ pending }) => pending).length} to decide,{' '}
        {count(({ decided }) => decided?.verdict === 'accept')} accepted,{' '}
        {count(({ decided }) => decided?.verdict === 'reject')} rejected
      </span>
      <Box sx={{ flex: 1 }} />
      <span className="second">Together by</span>
      <div role="group" aria-label="Together by" className="tabs" style={{ height: 30 }}>
        {groupings.map((by) => (
          <button key={by} type="button" className="tab" aria-pressed={grouping === by} onClick={() => onGrouping(by)}>
            {by}
          </button>
        ))}
      </div>
      <ColumnsMenu look={look} onLook={onLook} />
      <Tooltip title="These rows, in this order, for any program that works with tables">
        <span>
          <Button
            color="inherit"
            disabled={!rows.length}
            onClick={() => {
              const ordered = groups.flatMap((group) => group.rows);
              save(`${info.title} · ledger.csv`, csvOf(ordered, doc, info));
            }}
            sx={{ bgcolor: 'background.paper' }}
          >
            Take away as CSV
          </Button>
        </span>
      </Tooltip>
    </Box>
  );
}

/** At the foot: how many rows are chosen, and deciding them in one act. */
function Chosen({
  many,
  decided,
  onAct,
  onBack,
}: {
  many: number;
  /** How many of the rows that are chosen are decided. */
  decided: number;
  onAct(verdict: Verdict): void;
  onBack(): void;
}) {
  const { may } = useOpened();
  return (
    <Box component="footer" className="foot">
      <span>
        <strong data-testid="chosen">{many + decided}</strong> chosen
      </span>
      <span className="second">
        {many || decided ? '' : 'Choose rows to decide them in one act; a row’s place leads to its words.'}
      </span>
      <Box sx={{ flex: 1 }} />
      {!many && !decided && <LastDecision />}
      {may.decide && (
        <>
          {decided > 0 && (
            <Button color="inherit" onClick={onBack}>
              Take back {decided}
            </Button>
          )}
          <Button variant="outlined" color="inherit" disabled={!many} onClick={() => onAct('reject')}>
            Reject {many || ''}
          </Button>
          <Button variant="contained" disabled={!many} onClick={() => onAct('accept')}>
            Accept {many || ''}
          </Button>
        </>
      )}
    </Box>
  );
}
