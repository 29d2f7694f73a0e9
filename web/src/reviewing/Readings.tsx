import { Tooltip } from '@mui/material';
import type { ReadAs } from '@tea-pencil/wire';
import { useLooking } from '../opened/opened';

const readings: [reading: ReadAs, label: string, explanation: string][] = [
  ['marked', 'Marked', 'The text with its marks'],
  ['fair', 'Fair', 'The text as if all changes were accepted; nothing is removed by looking'],
  ['before', 'Before', 'The text as if all changes were rejected; nothing is removed by looking'],
];

/** Which way the text is read. */
export function Readings() {
  const { look, setLook } = useLooking();
  return (
    <div role="group" aria-label="Reading" className="tabs">
      {readings.map(([reading, label, explanation]) => (
        <Tooltip key={reading} title={explanation}>
          <button
            type="button"
            className="tab"
            aria-pressed={look.reading === reading}
            onClick={() => setLook({ ...look, reading })}
          >
            {label}
          </button>
        </Tooltip>
      ))}
    </div>
  );
}
