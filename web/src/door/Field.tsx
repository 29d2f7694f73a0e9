import { TextField, type TextFieldProps } from '@mui/material';
import type { FieldError } from 'react-hook-form';
import { isMail } from '../kit/mail';

type Props = Omit<TextFieldProps, 'error'> & { wrong?: FieldError | undefined; hint?: string };

/** A line to be filled in, with what is wrong with it or what helps. */
export const Field = ({ wrong, hint, ...field }: Props) => (
  <TextField
    fullWidth
    size="small"
    error={!!wrong}
    helperText={wrong?.message ?? hint}
    sx={{ mb: 2, '& .MuiInputBase-root': { bgcolor: 'background.paper' } }}
    {...field}
  />
);

export const mailRule = (value: string) => isMail(value) || 'Please give a mail address.';

/** The least letters of a password; the server looks at the rest. */
const shortest = 8;
export const passwordRule = (value: string) =>
  [...value].length >= shortest || `A password has at least ${shortest} letters.`;
