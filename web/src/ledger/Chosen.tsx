import { Box, Button } from '@mui/material';
import type { Verdict } from '@tea-pencil/core';
import { LastDecision } from '../deciding/LastDecision';
import { useOpened } from '../opened/opened';

/** At the foot: how many rows are chosen, and deciding them in one act. */
export function Chosen({
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
