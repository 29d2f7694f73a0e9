import { MenuItem, Select } from '@mui/material';
import { languagesWith } from './languages';

interface Props {
  label: string;
  value: string | null;
  disabled?: boolean;
  /** What no language of its own is called, where there may be none. */
  none?: string;
  onChoose(tag: string | null): void;
}

/** A choice of a language. */
export function LanguageChoice({ label, value, disabled = false, none, onChoose }: Props) {
  return (
    <Select
      size="small"
      value={value ?? ''}
      displayEmpty
      disabled={disabled}
      inputProps={{ 'aria-label': label }}
      onChange={(event) => onChoose(event.target.value || null)}
      MenuProps={{ slotProps: { paper: { sx: { maxHeight: 360 } } } }}
      sx={{ fontSize: 13, minWidth: 190, '& .MuiSelect-select': { py: 0.5 } }}
    >
      {none && <MenuItem value="">{none}</MenuItem>}
      {languagesWith(value).map(({ tag, name }) => (
        <MenuItem key={tag} value={tag} lang={tag}>
          {name}
        </MenuItem>
      ))}
    </Select>
  );
}
