import { Tooltip } from '@mui/material';
import type { Look, ReadAs } from '@tea-pencil/wire';

const readings: [reading: ReadAs, label: string, explanation: string][] = [
  ['marked', 'Marked', 'The text with its marks'],
  ['fair', 'Fair', 'The text as if all changes were accepted; nothing is removed by looking'],
  ['before', 'Before', 'The text as if all changes were rejected; nothing is removed by looking'],
];

/** Which way the text is read. */
export function Readings({ look, onLook }: { look: Look; onLook(look: Look): void }) {
  return (
    <div role="group" aria-label="Reading" className="tabs">
      {readings.map(([reading, label, explanation]) => (
        <Tooltip key={reading} title={explanation}>
          <button
            type="button"
            className="tab"
            aria-pressed={look.reading === reading}
            onClick={() => onLook({ ...look, reading })}
          >
            {label}
          </button>
        </Tooltip>
      ))}
    </div>
  );
}
