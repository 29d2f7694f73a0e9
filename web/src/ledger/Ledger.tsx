import { Box, LinearProgress } from '@mui/material';
import { useMemo, useState } from 'react';
import type { Thread, Verdict } from '@tea-pencil/core';
import type { DecidedChange, LedgerLook } from '@tea-pencil/wire';
import { useDecide } from '../deciding/use-deciding';
import { OneOfMany } from '../kit/ErrorBoundary';
import { Message } from '../kit/Message';
import { useOpened } from '../opened/opened';
import { useInAddress } from '../reviewing/use-lens';
import { useView } from '../reviewing/use-view';
import { useReviewed } from '../reviewing/use-reviewing';
import { InkPieces } from '../drafts/InkPieces';
import { LedgerRow } from './LedgerRow';
import { LedgerTabs } from './LedgerTabs';
import { Chosen } from './Chosen';
import { Columns } from './Columns';
import { layOf, plainLedger, shownColumns } from './columns';
import { groupings, Heading } from './Heading';
import { GroupLine, Lines, type Line } from './Lines';
import { useLedgerRows } from './use-ledger-rows';
import { groupRows, sortRows, type Column, type Row } from './rows';

interface Props {
  threads: readonly Thread[];
  /** Where it was scrolled to when it was left. */
  scroll: React.RefObject<number>;
  onGoTo(row: Row): void;
}

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
  const { info, text } = useOpened();
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
        <Lines
          lines={lines}
          scroll={scroll}
          template={lay.template}
          width={lay.width}
          head={
            <Columns
              look={look}
              onLook={setLook}
              sorting={sorting}
              onSort={sortBy}
              pending={pending}
              left={left}
              onChoose={choose}
            />
          }
          none={
            changes.length + ledger.data.decided.length
              ? 'No change is in this lens. Look at everything (F9) to see them all.'
              : 'No change has been made in this manuscript yet. What is recorded in pencil is listed here.'
          }
          draw={(line, index, style) =>
            'row' in line ? (
              <div key={line.row.id} role="none" style={style}>
                <OneOfMany what="This change" of={line.row}>
                  <LedgerRow
                    row={line.row}
                    shown={shown}
                    index={index}
                    chosen={chosen.has(line.row.id)}
                    together={ofDecision.get(line.row.decided?.decision ?? '')?.length ?? 1}
                    onChoose={(on) => choose([line.row.id], on)}
                    onGoTo={() => onGoTo(line.row)}
                  />
                </OneOfMany>
              </div>
            ) : (
              <GroupLine
                key={`group ${line.title}`}
                line={line}
                index={index}
                style={style}
                chosen={line.ids.length > 0 && line.ids.every((id) => chosen.has(id))}
                onChoose={(on) => choose(line.ids, on)}
              />
            )
          }
        />
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
