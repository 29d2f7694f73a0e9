import { Box, Button, FormControlLabel, LinearProgress, Radio, RadioGroup, TextField } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useEffect, useState } from 'react';
import { useForm } from 'react-hook-form';
import { useNavigate } from 'react-router';
import type { Self } from '@tea-pencil/wire';
import { request } from '../api/client';
import { keys } from '../api/keys';
import { useMe, useSessions } from '../api/queries';
import { useAsking } from '../api/use-asking';
import { Field, passwordRule } from '../door/Field';
import { Section } from '../kit/Section';
import { exactly, said } from '../kit/time';
import { MyName } from './MyName';
import { PartLine } from './PartLine';
import { TopBar } from './TopBar';

/** One's own account: what others see of it, how one comes in, and leaving. */
export default function AccountPage() {
  const me = useMe();
  useEffect(() => {
    document.title = 'Your account · Tea Pencil';
  }, []);
  return (
    <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
      <TopBar title="Your account" />
      <main className="parts">
        <h1 className="heard-only">Your account</h1>
        {me.data ? (
          <div className="parts-columns single">
            <Shown me={me.data} />
            <Password me={me.data} />
            <SignedInAt />
            <Leaving me={me.data} />
          </div>
        ) : (
          <LinearProgress aria-label="Your account is being fetched" />
        )}
      </main>
    </Box>
  );
}

/** What others see, and where mail goes. */
function Shown({ me }: { me: Self }) {
  const [naming, setNaming] = useState(false);
  const mail =
    me.mail ?? (me.askedMail ? `${me.askedMail}, once you have opened the letter that went there` : 'nowhere');
  return (
    <Section title={me.name} says={`${me.note ? `${me.note}. ` : ''}Your mail goes to ${mail}.`}>
      <Button variant="outlined" color="inherit" sx={{ bgcolor: 'background.paper' }} onClick={() => setNaming(true)}>
        Name, portrait and address
      </Button>
      {naming && <MyName me={me} onClose={() => setNaming(false)} />}
    </Section>
  );
}

function Password({ me }: { me: Self }) {
  const queries = useQueryClient();
  const { enqueueSnackbar } = useSnackbar();
  const { register, handleSubmit, formState, reset, setError } = useForm({ defaultValues: { old: '', fresh: '' } });
  const keep = handleSubmit(async (fields) => {
    try {
      await request('PUT', '/me/password', fields);
      enqueueSnackbar('Your password is changed. Wherever else you were signed in, you are so no more.');
      reset();
      await queries.invalidateQueries({ queryKey: keys.sessions });
      await queries.invalidateQueries({ queryKey: keys.me });
    } catch (problem) {
      setError('old', { message: (problem as Error).message });
    }
  });
  const { old, fresh } = formState.errors;
  return (
    <Section
      title="Password"
      says={
        me.hasPassword
          ? undefined
          : 'You come in with your work account. With a password you can come in without it too.'
      }
    >
      <Box component="form" noValidate sx={{ maxWidth: 380, mt: 1 }} onSubmit={(event) => void keep(event)}>
        {me.hasPassword && (
          <Field
            label="Your password now"
            type="password"
            autoComplete="current-password"
            wrong={old}
            {...register('old', { required: 'Please give your password.' })}
          />
        )}
        <Field
          label="New password"
          type="password"
          autoComplete="new-password"
          wrong={fresh}
          hint="At least eight letters; a few words are easy to remember."
          {...register('fresh', { validate: passwordRule })}
        />
        <Button type="submit" variant="contained" disabled={formState.isSubmitting}>
          {me.hasPassword ? 'Change it' : 'Set it'}
        </Button>
      </Box>
    </Section>
  );
}

function SignedInAt() {
  const sessions = useSessions();
  const ask = useAsking(keys.sessions);
  return (
    <Section title="Where you are signed in" says={sessions.isError ? sessions.error.message : undefined}>
      <div className="part-lines">
        {(sessions.data ?? []).map(({ id, browser, begunAt, seenAt, here }) => (
          <PartLine
            key={id}
            name={browser}
            note={
              <span title={exactly(seenAt)}>
                {[here ? 'this one' : `last used ${said(seenAt)}`, begunAt && `since ${said(begunAt)}`]
                  .filter(Boolean)
                  .join(', ')}
              </span>
            }
          >
            {!here && (
              <button
                type="button"
                className="plain-button"
                aria-label={`End the session of ${browser}, last used ${said(seenAt)}`}
                onClick={() => void ask('DELETE', `/me/sessions/${id}`).catch(() => undefined)}
              >
                End
              </button>
            )}
          </PartLine>
        ))}
      </div>
    </Section>
  );
}

/** Leaving the house; what one wrote stays. */
function Leaving({ me }: { me: Self }) {
  const [open, setOpen] = useState(false);
  const [named, setNamed] = useState(true);
  const [password, setPassword] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const leave = async () => {
    try {
      await request('POST', '/me/leave', { password, named });
      queries.clear();
      void navigate('/sign-in');
    } catch (wrong) {
      setProblem((wrong as Error).message);
    }
  };
  return (
    <Section
      title="Leave the house"
      says="Your account ends, and cannot be brought back. What you wrote, proposed and said stays where it is."
    >
      {open ? (
        <Box
          component="form"
          sx={{ maxWidth: 460 }}
          onSubmit={(event) => {
            event.preventDefault();
            void leave();
          }}
        >
          <RadioGroup
            value={named ? 'name' : 'nobody'}
            onChange={(_, value) => setNamed(value === 'name')}
            aria-label="Under which name it stays"
          >
            <FormControlLabel
              value="name"
              control={<Radio size="small" />}
              label={`It stays under my name, ${me.name}`}
            />
            <FormControlLabel
              value="nobody"
              control={<Radio size="small" />}
              label="It stays under “Someone who left”"
            />
          </RadioGroup>
          {me.hasPassword && (
            <TextField
              label="Your password"
              type="password"
              autoComplete="current-password"
              size="small"
              fullWidth
              sx={{ my: 1, '& .MuiInputBase-root': { bgcolor: 'background.paper' } }}
              value={password}
              onChange={({ target }) => setPassword(target.value)}
            />
          )}
          {problem && (
            <Box role="alert" sx={{ mb: 1, color: 'secondary.main' }}>
              {problem}
            </Box>
          )}
          <Button type="submit" variant="contained" sx={{ mr: 1 }}>
            Leave for good
          </Button>
          <Button color="inherit" onClick={() => setOpen(false)}>
            Stay
          </Button>
        </Box>
      ) : (
        <Button color="inherit" sx={{ bgcolor: 'background.paper' }} onClick={() => setOpen(true)}>
          Leave the house …
        </Button>
      )}
    </Section>
  );
}
