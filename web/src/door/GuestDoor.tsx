import { Button, LinearProgress } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useForm } from 'react-hook-form';
import { Link, useParams } from 'react-router';
import type { LinkTold } from '@tea-pencil/wire';
import { request } from '../api/client';
import { roleWords, useMe } from '../api/queries';
import { Message } from '../kit/Message';
import { DoorPage } from './DoorPage';
import { Field } from './Field';
import { useEntering } from './use-entering';

/** Where a guest link leads: to one manuscript, under a name that one gives. */
export function GuestDoor() {
  const { token = '' } = useParams();
  const me = useMe();
  const told = useQuery({
    queryKey: ['link', token],
    queryFn: () => request<LinkTold>('POST', '/links/told', { token }),
    retry: false,
  });
  useEffect(() => {
    document.title = 'For a guest · Tea Pencil';
  }, []);
  if (told.isPending || me.isPending) return <LinearProgress aria-label="The link is being opened" />;
  if (told.isError) return <Message title="This link does not lead in" text={told.error.message} />;
  if (me.data && !me.data.guest)
    return (
      <Message
        title={`You are signed in as ${me.data.name}`}
        text="This link lets somebody without an account in. Ask whoever sent it to share the manuscript with you under your own name; or sign out, and come in as a guest."
        home
      />
    );
  return <Entering told={told.data} token={token} earlier={me.data?.guest?.manuscript ?? null} />;
}

interface Props {
  told: LinkTold;
  token: string;
  /** The manuscript in which one is a guest already, in this browser. */
  earlier: string | null;
}

function Entering({ told, token, earlier }: Props) {
  const { register, handleSubmit, formState } = useForm<{ name: string; passphrase: string }>();
  const { problem, enter } = useEntering();
  const { title, by, role, passphrase: asked } = told;
  const says = asked
    ? 'This link leads to a manuscript, and asks for a passphrase. Whoever sent it to you knows it.'
    : `${by} lets you see “${title}”: you ${roleWords[role]}. You need no account.`;
  return (
    <DoorPage
      title="Come in as a guest"
      says={says}
      problem={problem}
      onSubmit={(event) =>
        void handleSubmit(({ name, passphrase }) =>
          enter<{ manuscript: string }>(
            '/links/entered',
            { token, name, passphrase: asked ? passphrase : null },
            ({ manuscript }) => `/m/${manuscript}`,
          ),
        )(event)
      }
    >
      <Field
        label="Your name"
        autoComplete="name"
        autoFocus
        wrong={formState.errors.name}
        hint="It stands at your changes and remarks; the others see that you are a guest."
        {...register('name', { validate: (value) => !!value.trim() || 'Please give a name.' })}
      />
      {asked && (
        <Field
          label="Passphrase of the link"
          type="password"
          autoComplete="off"
          wrong={formState.errors.passphrase}
          {...register('passphrase', { required: 'Please give the passphrase.' })}
        />
      )}
      <Button type="submit" variant="contained" disabled={formState.isSubmitting} sx={{ mr: 2 }}>
        Come in
      </Button>
      {earlier && (
        <Link className="quiet-link" to={`/m/${earlier}`}>
          Back to where you are a guest already
        </Link>
      )}
    </DoorPage>
  );
}
