import { DateTimePicker, LocalizationProvider } from '@mui/x-date-pickers';
import { AdapterDateFns } from '@mui/x-date-pickers/AdapterDateFns';
import { localeFormat, isTwelve } from './locale-format';

interface Props {
  label: string;
  /** ISO 8601, or null for none. */
  value: string | null;
  onChange(value: string | null): void;
}

/** A moment to be chosen, written as the reader's locale writes one. */
export function Moment({ label, value, onChange }: Props) {
  return (
    <LocalizationProvider dateAdapter={AdapterDateFns}>
      <DateTimePicker
        value={value ? new Date(value) : null}
        format={localeFormat()}
        ampm={isTwelve()}
        onChange={(moment) => {
          if (!moment) onChange(null);
          else if (!Number.isNaN(moment.getTime())) onChange(moment.toISOString());
        }}
        slotProps={{
          textField: { size: 'small', 'aria-label': label, sx: { width: 210 } },
          field: { clearable: true },
        }}
      />
    </LocalizationProvider>
  );
}
