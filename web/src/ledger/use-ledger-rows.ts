import { useMemo } from 'react';
import { anchors, lensFilter, type Thread } from '@tea-pencil/core';
import { useLedger } from '../api/queries';
import { useDrawn, useLooking, useOpened } from '../opened/opened';
import { surroundingsOf, talkOf } from '../reviewing/talk-of';
import { useReviewed } from '../reviewing/use-reviewing';
import { rowsOf, type Row } from './rows';

const none: readonly Row[] = [];

/** Every change of the lens, pending and decided, once the server has told of those that are decided. */
export function useLedgerRows(threads: readonly Thread[]) {
  const { info } = useOpened();
  const { lens } = useLooking();
  const { doc } = useDrawn();
  const { changes } = useReviewed();
  const ledger = useLedger(info.id);
  const rows = useMemo(() => {
    if (!ledger.data) return none;
    const talk = talkOf(changes, threads, anchors(doc));
    const through = lensFilter(lens, surroundingsOf(info, talk));
    return rowsOf(changes, ledger.data, talk).filter(({ seen }) => through(seen));
  }, [ledger.data, changes, threads, doc, lens, info]);
  return { ledger, rows };
}
