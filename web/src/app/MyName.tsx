import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useForm } from 'react-hook-form';
import { request } from '../api/client';
import type { Account } from '../api/queries';

/** One's own name and initials. They are kept beside the texts, so a new name shows in what was written before too. */
export function MyName({ me, onClose }: { me: Account; onClose(): void }) {
  const queries = useQueryClient();
  const { enqueueSnackbar } = useSnackbar();
  const { register, handleSubmit, formState } = useForm({ defaultValues: { name: me.name, initials: me.initials } });
  const keep = handleSubmit(async (values) => {
    try {
      await request('PATCH', '/me', values);
      await queries.invalidateQueries();
      onClose();
    } catch (problem) {
      enqueueSnackbar((problem as Error).message);
    }
  });
  const { name, initials } = formState.errors;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form onSubmit={(event) => void keep(event)} noValidate>
        <DialogTitle>Name and initials</DialogTitle>
        <DialogContent>
          <TextField
            {...register('name', { validate: (value) => !!value.trim() || 'A name is needed.' })}
            label="Name"
            fullWidth
            autoFocus
            margin="dense"
            error={!!name}
            helperText={name?.message ?? 'It shows on everything you have written, earlier changes and comments too.'}
          />
          <TextField
            {...register('initials', {
              validate: (value) => (value.trim() && value.trim().length <= 3) || 'One to three letters.',
            })}
            label="Initials"
            margin="dense"
            error={!!initials}
            helperText={initials?.message}
          />
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={onClose}>
            Leave
          </Button>
          <Button type="submit" variant="contained" disabled={formState.isSubmitting}>
            Keep
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
