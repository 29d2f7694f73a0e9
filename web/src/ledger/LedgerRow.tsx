import { Checkbox, Tooltip } from '@mui/material';
import { remarkText, type Piece } from '@tea-pencil/core';
import { exactly, said } from '../kit/time';
import { useDrawn, useOpened } from '../opened/opened';
import { Pieces } from '../reviewing/Pieces';
import { nameIn } from '../reviewing/words';
import { sentenceOf, stateWords, type Row } from './rows';

interface Props {
  row: Row;
  index: number;
  chosen: boolean;
  /** How many changes were decided in the same act. */
  together: number;
  onChoose(on: boolean): void;
  onGoTo(): void;
}

/** How much of a sentence stands before what differs. */
const lead = 14;

function Side({ pieces, side, seen }: { pieces: readonly Piece[]; side: 'before' | 'after'; seen: Row['seen'] }) {
  const whole = pieces.map(({ text }) => text).join('');
  return (
    <span role="cell" className="serif ledger-side" data-author={seen.author} title={whole}>
      <Pieces pieces={pieces} side={side} kind={seen.kind} lead={lead} />
    </span>
  );
}

/** One change in the ledger. */
export function LedgerRow(props: Props) {
  const { row, index, chosen, together, onChoose, onGoTo } = props;
  const { info, me, may, text } = useOpened();
  const { doc } = useDrawn();
  const { seen, decided, threads, number } = row;
  const { before, after } = sentenceOf(row, doc);
  const name = info.people.find(({ id }) => id === seen.author)?.name ?? 'Someone';
  const comments = threads.flatMap((thread) => thread.comments);
  const { decision = null, verdict = null, decidedAt } = decided ?? {};
  return (
    <div role="row" aria-rowindex={index} className={`ledger-row ${chosen ? 'chosen' : ''}`} data-row={row.id}>
      <span role="cell">
        {may.decide && (
          <Checkbox
            size="small"
            disabled={!row.pending && !decision}
            checked={chosen}
            onChange={(_, on) => onChoose(on)}
            slotProps={{ input: { 'aria-label': `Choose no. ${number}` } }}
            sx={{ p: 0 }}
          />
        )}
      </span>
      <span role="cell" className="second">
        {number}
      </span>
      <span role="cell">
        <button type="button" className="ledger-place ledger-where" onClick={onGoTo} title="Go to its words">
          {seen.whereabouts.heading && <span>{seen.whereabouts.heading},</span>}
          <span>¶ {seen.whereabouts.paragraph}</span>
        </button>
      </span>
      <span role="cell" title={row.said}>
        {seen.kind}
      </span>
      <Side pieces={before} side="before" seen={seen} />
      <Side pieces={after} side="after" seen={seen} />
      <span role="cell">
        <span className="dot" data-author={seen.author} data-kind={seen.kind} />
        {name}
      </span>
      <Tooltip title={exactly(seen.date)}>
        <span role="cell" className="second">
          {said(seen.date)}
        </span>
      </Tooltip>
      <span role="cell" className={decided ? 'second ledger-state' : 'ledger-state ledger-waits'}>
        <Tooltip title={decidedAt ? exactly(decidedAt) : ''}>
          <span>
            {stateWords(row, info, me.id)}
            {decidedAt && `, ${said(decidedAt)}`}
          </span>
        </Tooltip>
        {may.decide && decision && verdict && (
          <span className="ledger-back">
            <button
              type="button"
              className="ledger-place"
              title="This change is pending again; what was decided with it stays"
              onClick={() => void text.takeBack(decision, [row.id])}
            >
              Take back
            </button>
            {together > 1 && (
              <button
                type="button"
                className="ledger-place"
                title={`All ${together} changes that were ${verdict}ed in the same act are pending again`}
                onClick={() => void text.takeBack(decision)}
              >
                all {together}
              </button>
            )}
          </span>
        )}
      </span>
      <span
        role="cell"
        className="second"
        title={comments.map(({ body }) => remarkText(body, (id) => nameIn(info, id))).join('\n\n')}
      >
        {comments.length > 0 && `${comments.length} ${comments.length === 1 ? 'comment' : 'comments'}`}
      </span>
    </div>
  );
}
