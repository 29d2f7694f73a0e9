import { Box, MenuItem, Select, TextField } from '@mui/material';
import { useState } from 'react';
import { Choice } from '../kit/Choice';
import { orders, usual, type Arrangement, type Order } from './arranging';

const kept = 'desk order';

/** How one’s desk is arranged; its order is kept in this browser. */
export function useArrangement(): [Arrangement, (part: Partial<Arrangement>) => void] {
  const [arrangement, setArrangement] = useState<Arrangement>(() => ({
    ...usual,
    order: orders.find(([order]) => order === localStorage.getItem(kept))?.[0] ?? usual.order,
  }));
  const arrange = (part: Partial<Arrangement>) => {
    if (part.order) localStorage.setItem(kept, part.order);
    setArrangement((before) => ({ ...before, ...part }));
  };
  return [arrangement, arrange];
}

interface Props {
  typed: string;
  onType(words: string): void;
  /** Null while one looks for words: then they alone say what is shown. */
  arrangement: Arrangement | null;
  arrange(part: Partial<Arrangement>): void;
  /** The labels on the desk, and how many manuscripts bear each. */
  labels: readonly (readonly [label: string, howMany: number])[];
  /** How many manuscripts are put away. */
  away: number;
}

/** Above the manuscripts: looking for words, and which of them are shown in which order. */
export function DeskTools({ typed, onType, arrangement, arrange, labels, away }: Props) {
  return (
    <div className="desk-tools">
      <TextField
        size="small"
        placeholder="Words of a title or a text"
        value={typed}
        onChange={({ target }) => onType(target.value)}
        onKeyDown={({ key }) => key === 'Escape' && onType('')}
        sx={{ width: 280, '& .MuiInputBase-root': { bgcolor: 'background.paper' } }}
        slotProps={{
          htmlInput: { 'aria-label': 'Find manuscripts by their words', type: 'search', maxLength: 200 },
        }}
      />
      {arrangement && (
        <Select
          variant="standard"
          disableUnderline
          value={arrangement.order}
          inputProps={{ 'aria-label': 'Order of the manuscripts' }}
          sx={{ fontSize: 13 }}
          onChange={({ target }) => arrange({ order: target.value as Order })}
        >
          {orders.map(([order, says]) => (
            <MenuItem key={order} value={order}>
              {says}
            </MenuItem>
          ))}
        </Select>
      )}
      {arrangement && labels.length > 0 && (
        <Box role="group" aria-label="Labels" sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5 }}>
          {labels.map(([label, howMany]) => (
            <Choice
              key={label}
              chosen={arrangement.label === label}
              onChoose={() => arrange({ label: arrangement.label === label ? null : label, archived: false })}
            >
              {label} {howMany}
            </Choice>
          ))}
        </Box>
      )}
      <span style={{ flex: 1 }} />
      {arrangement && (away > 0 || arrangement.archived) && (
        <button
          type="button"
          className="plain-button"
          aria-pressed={arrangement.archived}
          onClick={() => arrange({ archived: !arrangement.archived, label: null })}
        >
          {arrangement.archived ? 'Back to the desk' : `${away} put away`}
        </button>
      )}
    </div>
  );
}
