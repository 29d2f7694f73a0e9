import { Box, Button, Divider, LinearProgress, Typography } from '@mui/material';
import { useEffect } from 'react';
import { useForm } from 'react-hook-form';
import { Link, useSearchParams } from 'react-router';
import type { Door } from '@tea-pencil/wire';
import { useDemoPeople, useDoor } from '../api/queries';
import { hueOf } from '../theme/hues';
import { useMode } from '../theme/mode';
import { Message } from '../kit/Message';
import { Begin } from './Begin';
import { DoorPage } from './DoorPage';
import { Field } from './Field';
import { useEntering, within } from './use-entering';

/** Why somebody with a work account did not come in. */
const notIn: Record<string, string> = {
  away: 'The provider of work accounts does not answer just now. Please try again in a moment.',
  refused: 'The sign-in with your work account was not finished. Please try again.',
  unverified: 'Your work account does not say that its mail address is yours, so it cannot be told who you are here.',
  unknown: 'Nobody with the address of your work account is here. Ask somebody in the house to invite that address.',
  locked: 'Your account is closed. Ask a keeper of the house.',
};

/** The way in; of an empty house, its beginning. */
export function SignIn() {
  const door = useDoor();
  useEffect(() => {
    document.title = 'Sign in · Tea Pencil';
  }, []);
  if (door.isPending) return <LinearProgress aria-label="One moment" />;
  if (door.isError)
    return <Message title="The server cannot be reached" text={door.error.message} again={() => void door.refetch()} />;
  return door.data.begun ? <Known door={door.data} /> : <Begin />;
}

function Known({ door }: { door: Door }) {
  const { register, handleSubmit, formState, setFocus } = useForm<{ login: string; password: string }>();
  const [parameters] = useSearchParams();
  const { problem, enter } = useEntering();
  const demo = useDemoPeople();
  const { mode } = useMode();
  const to = within(parameters.get('to'));
  const work = parameters.get('work');
  const come = async (path: string, body: object) => {
    if (!(await enter(path, body, () => to))) setFocus('password');
  };
  const { login, password } = formState.errors;
  const people = demo.data ?? [];
  return (
    <DoorPage
      title="Tea Pencil"
      says="One text, several hands, and nothing changed behind anyone’s back."
      problem={problem ?? (work && (notIn[work] ?? notIn.refused!))}
      onSubmit={(event) => void handleSubmit((fields) => come('/sign-in', fields))(event)}
      aside={
        people.length > 0 && (
          <Box sx={{ flex: '1 1 300px' }} component="section" aria-labelledby="demo-heading">
            <Typography id="demo-heading" component="h2" sx={{ fontWeight: 600, fontSize: 15, mt: 1 }}>
              Or come in as someone of the demo
            </Typography>
            <Typography variant="body2" sx={{ color: 'text.secondary', mb: 1.5 }}>
              A small press prepares <i className="serif">Between Two Tides</i>. Open a second browser to be two people
              at once.
            </Typography>
            <Divider />
            {people.map((person, i) => (
              <Button
                key={person.id}
                fullWidth
                onClick={() => void come('/sign-in/demo', { person: person.id })}
                sx={{
                  justifyContent: 'flex-start',
                  textAlign: 'left',
                  py: 1.1,
                  borderBottom: '1px solid',
                  borderColor: 'divider',
                  borderRadius: 0,
                  color: 'text.primary',
                  gap: 1,
                }}
              >
                <span className="dot" style={{ background: hueOf(i, mode).line }} />
                {person.name}
                <Box component="span" sx={{ color: 'text.secondary', fontWeight: 400 }}>
                  {person.note}
                </Box>
              </Button>
            ))}
          </Box>
        )
      }
    >
      <Field
        label="Mail address, or name to sign in with"
        autoComplete="username"
        wrong={login}
        {...register('login', { required: 'Please give your mail address or name.' })}
      />
      <Field
        label="Password"
        type="password"
        autoComplete="current-password"
        wrong={password}
        {...register('password', { required: 'Please give your password.' })}
      />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 1.5 }}>
        <Button type="submit" variant="contained" disabled={formState.isSubmitting}>
          Sign in
        </Button>
        {door.work && (
          <Button
            variant="outlined"
            color="inherit"
            component="a"
            href={`/api/sign-in/work?to=${encodeURIComponent(to)}`}
            sx={{ bgcolor: 'background.paper' }}
          >
            Sign in with {door.work}
          </Button>
        )}
      </Box>
      <Box sx={{ mt: 2.5, display: 'flex', flexDirection: 'column', alignItems: 'flex-start', gap: 0.5 }}>
        <Link className="quiet-link" to="/password">
          I have forgotten my password
        </Link>
        {door.bySelf && (
          <Link className="quiet-link" to="/come-in">
            I am new here and have a mail address of this house
          </Link>
        )}
      </Box>
    </DoorPage>
  );
}
