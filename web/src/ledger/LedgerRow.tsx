import { Checkbox, Tooltip } from '@mui/material';
import { remarkText, type Piece, counted } from '@tea-pencil/core';
import { exactly, said } from '../kit/time';
import { useDrawn, useOpened } from '../opened/opened';
import { Pieces } from '../reviewing/Pieces';
import { nameIn } from '../reviewing/words';
import { sentenceOf, stateWords, type Row } from './rows';

interface Props {
  row: Row;
  index: number;
  /** The names of the columns that are seen. */
  shown: ReadonlySet<string>;
  chosen: boolean;
  /** How many changes were decided in the same act. */
  together: number;
  onChoose(on: boolean): void;
  onGoTo(): void;
}

/** How much of a sentence stands before what differs. */
const lead = 14;

function Side({ pieces, side, seen }: { pieces: readonly Piece[]; side: 'before' | 'after'; seen: Row['seen'] }) {
  const whole = textOf(pieces);
  return (
    <span role="cell" data-column={side} className="serif ledger-side" data-author={seen.author} title={whole}>
      <Pieces pieces={pieces} side={side} change={seen} lead={lead} />
    </span>
  );
}

const textOf = (pieces: readonly Piece[]) => pieces.map(({ text }) => text).join('');

/** What the words themselves do not show: "now italic", "heading 1, was body text". */
function Told({ said: words }: { said: string }) {
  return (
    <span role="cell" data-column="after" className="ledger-side ledger-told" title={words}>
      {words}
    </span>
  );
}

/** How a change stands; a decision can be taken back. */
function State({ row, together }: Pick<Props, 'row' | 'together'>) {
  const { info, me, may, text } = useOpened();
  const { decided } = row;
  const { decision = null, verdict = null, decidedAt } = decided ?? {};
  return (
    <span role="cell" data-column="state" className={decided ? 'second ledger-state' : 'ledger-state ledger-waits'}>
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
  );
}

/** One change in the ledger. */
export function LedgerRow(props: Props) {
  const { row, index, shown, chosen, together, onChoose, onGoTo } = props;
  const { info, may } = useOpened();
  const { doc } = useDrawn();
  const { seen, decided, threads, number } = row;
  const { before, after } = sentenceOf(row, doc);
  const comments = threads.flatMap((thread) => thread.comments);
  return (
    <div role="row" aria-rowindex={index} className={`ledger-row ${chosen ? 'chosen' : ''}`} data-row={row.id}>
      <span role="cell">
        {may.decide && (
          <Checkbox
            size="small"
            disabled={!row.pending && !decided?.decision}
            checked={chosen}
            onChange={(_, on) => onChoose(on)}
            slotProps={{ input: { 'aria-label': `Choose no. ${number}` } }}
            sx={{ p: 0 }}
          />
        )}
      </span>
      {shown.has('number') && (
        <span role="cell" data-column="number" className="second">
          {number}
        </span>
      )}
      {shown.has('place') && (
        <span role="cell" data-column="place">
          <button type="button" className="ledger-place ledger-where" onClick={onGoTo} title="Go to its words">
            {seen.whereabouts.heading && <span>{seen.whereabouts.heading},</span>}
            <span>
              ¶ {seen.whereabouts.paragraph}
              {seen.inNote && ', footnote'}
            </span>
          </button>
        </span>
      )}
      {shown.has('kind') && (
        <span role="cell" data-column="kind" title={row.said}>
          {seen.kind}
        </span>
      )}
      {shown.has('before') && <Side pieces={before} side="before" seen={seen} />}
      {shown.has('after') &&
        (textOf(before) === textOf(after) && !seen.grid ? (
          <Told said={row.said} />
        ) : (
          <Side pieces={after} side="after" seen={seen} />
        ))}
      {shown.has('author') && (
        <span role="cell" data-column="author">
          <span className="dot" data-author={seen.author} data-kind={seen.kind} />
          {nameIn(info, seen.author)}
        </span>
      )}
      {shown.has('made') && (
        <Tooltip title={exactly(seen.date)}>
          <span role="cell" data-column="made" className="second">
            {said(seen.date)}
          </span>
        </Tooltip>
      )}
      {shown.has('state') && <State row={row} together={together} />}
      {shown.has('talk') && (
        <span
          role="cell"
          data-column="talk"
          className="second"
          title={comments.map(({ body }) => remarkText(body, (id) => nameIn(info, id))).join('\n\n')}
        >
          {comments.length > 0 && counted(comments.length, 'comment')}
        </span>
      )}
    </div>
  );
}
