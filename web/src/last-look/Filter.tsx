import { MenuItem, Select, Tooltip } from '@mui/material';
import { findingKinds, type FindingKind } from '@tea-pencil/core';
import { whichWords, type Choice, type Which } from './choosing';
import { useLastLook } from './context';
import { countKinds, kindWords } from './remaining';

/** Which of them, and of which kind. */
export function Filter({ choice, onChoose }: { choice: Choice; onChoose(choice: Choice): void }) {
  const look = useLastLook();
  const { findings, state } = look;
  const counts = countKinds(findings);
  const all: Which[] = state?.last ? ['all', 'edits', 'since'] : ['all', 'edits'];
  return (
    <div className="look-filter">
      <div role="group" aria-label="Which findings" className="tabs">
        {all.map((which) => (
          <Tooltip key={which} title={whichWords[which][1]}>
            <button
              type="button"
              className="tab"
              aria-pressed={choice.which === which}
              onClick={() => onChoose({ ...choice, which })}
            >
              {whichWords[which][0]}
            </button>
          </Tooltip>
        ))}
      </div>
      <Select
        variant="standard"
        disableUnderline
        displayEmpty
        value={choice.kind ?? ''}
        inputProps={{ 'aria-label': 'Of which kind' }}
        onChange={(event) => onChoose({ ...choice, kind: (event.target.value || null) as FindingKind | null })}
        sx={{ fontSize: 12.5 }}
      >
        <MenuItem value="">of every kind</MenuItem>
        {findingKinds.map(
          (kind) =>
            (counts.has(kind) || kind === choice.kind) && (
              <MenuItem key={kind} value={kind}>
                {kindWords[kind][0]} ({counts.get(kind) ?? 0})
              </MenuItem>
            ),
        )}
      </Select>
    </div>
  );
}
