import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField, Typography } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useRef } from 'react';
import { useForm } from 'react-hook-form';
import { FileChooser, pictureTypes } from '../kit/FileChooser';
import { putFile, request } from '../api/client';
import type { Self } from '@tea-pencil/wire';
import { isMail } from '../kit/mail';
import { Portrait } from './Portrait';

/** One's own name, initials and portrait. They are kept beside the texts, so they show in what was written before too. */
export function MyName({ me, onClose }: { me: Self; onClose(): void }) {
  const queries = useQueryClient();
  const { enqueueSnackbar } = useSnackbar();
  const files = useRef<HTMLInputElement>(null);
  const { register, handleSubmit, formState } = useForm({
    defaultValues: {
      name: me.name,
      initials: me.initials,
      note: me.note ?? '',
      mail: me.askedMail ?? me.mail ?? '',
    },
  });
  const doing = async (act: () => Promise<unknown>): Promise<boolean> => {
    try {
      await act();
      await queries.invalidateQueries();
      return true;
    } catch (problem) {
      enqueueSnackbar((problem as Error).message);
      return false;
    }
  };
  /** Names an address: mail goes there once the link in a letter to it has been opened. */
  const ask = (mail: string | null) => async () => {
    await request('PATCH', '/me', { mail });
    if (mail && mail !== me.mail)
      enqueueSnackbar(`A letter has gone to ${mail}. Open the link in it, and your mail comes there.`);
  };
  const isGuest = me.guest !== null;
  const keep = handleSubmit(async ({ mail: typed, note: said, ...names }) => {
    const mail = typed.trim() || null;
    const values = isGuest ? names : { ...names, note: said };
    const isNew = mail !== (me.askedMail ?? me.mail);
    if (!(await doing(() => request('PATCH', '/me', values)))) return;
    if (!isNew || (await doing(ask(mail)))) onClose();
  });
  const { name, initials, mail } = formState.errors;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form onSubmit={(event) => void keep(event)} noValidate>
        <DialogTitle>{isGuest ? 'My name' : 'Name and portrait'}</DialogTitle>
        <DialogContent>
          <Box sx={{ display: isGuest ? 'none' : 'flex', alignItems: 'center', gap: 1.5, mb: 1 }}>
            <span className="portrait" style={{ margin: 0, width: 44, height: 44, fontSize: 16 }}>
              <Portrait person={me} />
            </span>
            <Button color="inherit" onClick={() => files.current?.click()}>
              Set a picture
            </Button>
            {me.portrait && (
              <Button color="inherit" onClick={() => void doing(() => request('DELETE', '/me/portrait'))}>
                Initials instead
              </Button>
            )}
            <FileChooser
              ref={files}
              accept={pictureTypes}
              label="Portrait file"
              onChoose={([file]) => void doing(() => putFile('/me/portrait', file!))}
            />
          </Box>
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
          {!isGuest && (
            <TextField
              {...register('note')}
              label="What you are here"
              placeholder="copy editor"
              fullWidth
              margin="dense"
              helperText="Beside your name, for those who share a manuscript with you."
            />
          )}
          {!isGuest && (
            <TextField
              {...register('mail', {
                validate: (value) => !value.trim() || isMail(value) || 'No address that mail could be sent to.',
              })}
              label="Mail goes to"
              fullWidth
              margin="dense"
              error={!!mail}
              helperText={mail?.message ?? 'Only you and keepers of the house see it. Left empty, no mail comes.'}
            />
          )}
          {me.askedMail && (
            <Typography variant="body2" role="status" sx={{ mt: 1 }}>
              The link in the letter to {me.askedMail} has not been opened yet. Until it is,{' '}
              {me.mail ? `mail goes to ${me.mail}.` : 'no mail comes.'}{' '}
              <Button size="small" color="inherit" onClick={() => void doing(ask(me.askedMail))}>
                Send it again
              </Button>
            </Typography>
          )}
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" variant="contained" disabled={formState.isSubmitting}>
            Keep
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
