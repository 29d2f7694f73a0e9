import { Box, Button, Tooltip } from '@mui/material';
import { useMemo } from 'react';
import { countChanges, isEverything, counted } from '@tea-pencil/core';
import { whoIs } from '../api/queries';
import { useActs } from '../commands/acts';
import { isAtLeast, useWidth } from '../kit/width';
import { useDrawn, useLooking, useOpened, type Looking } from '../opened/opened';
import { useReviewed, type Reviewing } from '../reviewing/use-reviewing';
import { kindNames } from '../reviewing/words';
import { WordCount } from '../reviewing/WordCount';
import { LastDecision } from './LastDecision';
import { DecideTogether } from './DecideTogether';

interface Props {
  /** Whether all is shown, and what one looked at before can be gone back to. */
  mayGoBack: boolean;
  /** How many open threads the lens leaves out. */
  threadsOutside: number;
}

/** First names, where they tell people apart. */
function shortNames(names: readonly string[]): (name: string) => string {
  const first = (name: string) => name.split(' ')[0]!;
  const firsts = names.map(first);
  return (name) => (firsts.filter((one) => one === first(name)).length > 1 ? name : first(name));
}

/** Why some changes are not seen. */
function unseenWords({ lens, look }: Looking, { folded, unseen }: Reviewing): string {
  const what = counted(unseen, 'change');
  if (look.reading !== 'marked') return `${what} not shown in this reading`;
  if (isEverything(lens)) return `${what} folded`;
  return folded.length ? `${what} outside this lens or folded` : `${what} outside this lens`;
}

/** At the foot of the window: how many changes of the lens wait, whose they are, and what is not seen. */
export function Foot({ mayGoBack, threadsOutside }: Props) {
  const { info, may } = useOpened();
  const width = useWidth();
  const state = useDrawn();
  const acts = useActs();
  const looking = useLooking();
  const reviewing = useReviewed();
  const { lens, leftAt, ownHues } = looking;
  const { inLens, unseen } = reviewing;
  // Whether a read-through was left half-way.
  const leftOff = !!leftAt && leftAt.done + leftAt.skipped.length > 0;
  const counts = useMemo(() => countChanges(inLens, (author) => whoIs(info, author)), [inLens, info]);
  const by = info.people
    .map(({ id, name }) => ({ id, name, n: counts.byAuthor.get(id) ?? 0 }))
    .filter(({ n }) => n)
    .sort((a, b) => b.n - a.n);
  const short = shortNames(by.map(({ name }) => name));
  const kinds = [...counts.byKind].map(([kind, n]) => `${n} ${kindNames[kind]}`).join(', ');
  return (
    <Box component="footer" className="foot">
      <Tooltip title={kinds || 'Nothing waits'}>
        <span style={{ whiteSpace: 'nowrap' }}>
          <strong data-testid="pending">{counts.changes}</strong> to decide{!isEverything(lens) && ' in this lens'}
        </span>
      </Tooltip>
      <Box className="second foot-people">
        {ownHues.says === 'who'
          ? by.map(({ id, name, n }) => (
              <span key={id} title={name}>
                <span className="dot" data-author={id} style={{ width: 7, height: 7 }} />
                {short(name)} {n}
              </span>
            ))
          : [...counts.byKind].map(([kind, n]) => (
              <span key={kind}>
                <span className="dot" data-author="" data-kind={kind} style={{ width: 7, height: 7 }} />
                {kindNames[kind]} {n}
              </span>
            ))}
      </Box>
      {counts.changes > 0 && (
        <Tooltip title="Words that these changes add and remove">
          <span className="second" style={{ whiteSpace: 'nowrap' }} data-testid="words">
            {counted(counts.wordsAdded, 'word')} in, {counts.wordsRemoved.toLocaleString()} out
          </span>
        </Tooltip>
      )}
      {isAtLeast(width, 'middle') && <WordCount state={state} />}
      <LastDecision />
      <Box sx={{ flex: 1 }} />
      {unseen > 0 && (
        <span className="unseen-count" role="status">
          {unseenWords(looking, reviewing)}
        </span>
      )}
      {threadsOutside > 0 && <span className="unseen-count">{counted(threadsOutside, 'thread')} outside it</span>}
      {(unseen > 0 || threadsOutside > 0 || mayGoBack || looking.look.flow !== 'both') && (
        <Button color="inherit" onClick={() => acts.do('show all')} sx={{ whiteSpace: 'nowrap', px: 1 }}>
          {mayGoBack ? 'As before' : 'Show all'}
          <span className="keycap">F9</span>
        </Button>
      )}
      {may.decide && <DecideTogether />}
      <Tooltip title={leftOff ? 'Goes on where you left off' : 'From change to change, deciding each'}>
        <span>
          <Button
            variant="contained"
            disabled={!counts.changes}
            onClick={() => acts.do('read through')}
            sx={{ whiteSpace: 'nowrap' }}
          >
            {leftOff ? 'Go on reading through' : 'Read through'}
            <span className="keycap">F8</span>
          </Button>
        </span>
      </Tooltip>
    </Box>
  );
}
