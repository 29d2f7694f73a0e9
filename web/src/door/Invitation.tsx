import { Box, Button, LinearProgress } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useForm } from 'react-hook-form';
import { Link, useParams } from 'react-router';
import type { InvitationTold, Self } from '@tea-pencil/wire';
import { request } from '../api/client';
import { roleWords, useMe } from '../api/queries';
import { Message } from '../kit/Message';
import { DoorPage } from './DoorPage';
import { Field, passwordRule } from './Field';
import { useEntering } from './use-entering';

/** Where an invitation leads: in, as who one is or as somebody new. */
export function Invitation() {
  const { token = '' } = useParams();
  const me = useMe();
  const told = useQuery({
    queryKey: ['invitation', token],
    queryFn: () => request<InvitationTold>('POST', '/invitations/told', { token }),
    retry: false,
  });
  useEffect(() => {
    document.title = 'An invitation · Tea Pencil';
  }, []);
  if (told.isPending || me.isPending) return <LinearProgress aria-label="The invitation is being opened" />;
  if (told.isError) return <Message title="This invitation does not hold" text={told.error.message} home />;
  return <Accepting told={told.data} me={me.data ?? null} token={token} />;
}

const goTo = ({ manuscript }: { manuscript: string | null }) => (manuscript ? `/m/${manuscript}` : '/');

/** What it is, in a sentence. */
function sentence({ title, by, role }: InvitationTold): string {
  const what = title === null ? 'into this house' : `to “${title}”`;
  const who = by === null ? `You can come ${what}` : `${by} invites you ${what}`;
  return role
    ? `${who}: ${roleWords[role] === 'keeper' ? 'you will be one of its keepers' : `you ${roleWords[role]}`}.`
    : `${who}.`;
}

function Accepting({ told, me, token }: { told: InvitationTold; me: Self | null; token: string }) {
  const { problem, enter } = useEntering();
  const here = `/invitation/${token}`;
  const isIn = me !== null && !me.guest;
  const accept = (comer: object = {}) => enter('/invitations/accepted', { token, ...comer }, goTo);
  if (isIn || told.known)
    return (
      <DoorPage
        title="You are invited"
        says={
          <>
            {sentence(told)} The invitation went to {told.mail}
            {isIn ? `; you are signed in as ${me.name}.` : ', with which you have an account.'}
          </>
        }
        problem={problem}
        onSubmit={(event) => {
          event.preventDefault();
          void accept();
        }}
      >
        <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center' }}>
          {isIn ? (
            <Button type="submit" variant="contained">
              Come in
            </Button>
          ) : (
            <Button variant="contained" component={Link} to={`/sign-in?to=${encodeURIComponent(here)}`}>
              Sign in
            </Button>
          )}
          {isIn && (
            <Link className="quiet-link" to="/">
              To the desk
            </Link>
          )}
        </Box>
      </DoorPage>
    );
  return <Newcomer told={told} problem={problem} accept={accept} />;
}

interface NewcomerProps {
  told: InvitationTold;
  problem: string | null;
  accept(comer: object): Promise<boolean>;
}

function Newcomer({ told, problem, accept }: NewcomerProps) {
  const { register, handleSubmit, formState } = useForm<{ name: string; password: string }>();
  const { name, password } = formState.errors;
  return (
    <DoorPage
      title="You are invited"
      says={sentence(told)}
      problem={problem}
      onSubmit={(event) => void handleSubmit((comer) => accept(comer))(event)}
    >
      <Field label="Mail address" value={told.mail} disabled hint="You sign in with it." autoComplete="username" />
      <Field
        label="Your name"
        autoComplete="name"
        autoFocus
        wrong={name}
        hint="It stands at everything you write."
        {...register('name', { validate: (value) => !!value.trim() || 'Please give your name.' })}
      />
      <Field
        label="Password"
        type="password"
        autoComplete="new-password"
        wrong={password}
        hint="At least eight letters; a few words are easy to remember."
        {...register('password', { validate: passwordRule })}
      />
      <Button type="submit" variant="contained" disabled={formState.isSubmitting}>
        Come in
      </Button>
    </DoorPage>
  );
}
