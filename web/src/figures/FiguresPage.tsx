import { LinearProgress } from '@mui/material';
import { formatDistance } from 'date-fns';
import { counted, isEverything, type Thread } from '@tea-pencil/core';
import { Message } from '../kit/Message';
import { LedgerTabs } from '../ledger/LedgerTabs';
import { useLooking, useOpened } from '../opened/opened';
import { lensWords } from '../reviewing/words';
import { FigureView } from './FigureView';
import { useFigures } from './use-figures';
import { figureWords } from './words';

/** Figures: counts about the text and its changes, as charts and as tables. */
export default function FiguresPage({ threads }: { threads: readonly Thread[] }) {
  const { info, me } = useOpened();
  const { lens } = useLooking();
  const { made, problem, again } = useFigures(threads);
  if (problem) return <Message title="The figures cannot be shown" text={problem.message} again={again} />;
  if (!made) return <LinearProgress aria-label="The figures are being counted" />;
  const { figures, many, middle } = made;
  const shown = figures.filter(({ rows }) => rows.length > 0);
  return (
    <main className="parts">
      <h1 className="heard-only">Figures of “{info.title}”</h1>
      <div className="figures">
        <LedgerTabs />
        <p className="part-says">
          {many ? counted(many, 'change') : 'No change is counted'}
          {isEverything(lens) ? ', all there ever were' : `, in this lens: ${lensWords(lens, info, me.id)}`}.
          {middle !== null && ` Half of what is decided was decided within ${formatDistance(0, middle)}.`}
          {!isEverything(lens) && ' How the text grew goes by the people of the lens only.'}
        </p>
        {!shown.length && <p>Nothing has happened in this text yet, so there is nothing to count.</p>}
        <div className="figures-all">
          {shown.map((figure) => (
            <FigureView key={figure.name} figure={figure} words={figureWords[figure.name]} />
          ))}
        </div>
      </div>
    </main>
  );
}
