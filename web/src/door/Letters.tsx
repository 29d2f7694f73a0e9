import { Button } from '@mui/material';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { Link, useParams } from 'react-router';
import { request } from '../api/client';
import { DoorPage } from './DoorPage';
import { Field, mailRule, passwordRule } from './Field';
import { useEntering } from './use-entering';

interface Asking {
  title: string;
  says: string;
  path: string;
  button: string;
  /** What is said once it is asked for, whether a letter goes out or not. */
  sent(mail: string): string;
}

/** Asks for a letter. */
function AskForLetter({ title, says, path, button, sent }: Asking) {
  const { register, handleSubmit, formState } = useForm<{ mail: string }>();
  const [asked, setAsked] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const ask = async ({ mail }: { mail: string }) => {
    setProblem(null);
    try {
      await request('POST', path, { mail: mail.trim() });
      setAsked(mail.trim());
    } catch (wrong) {
      setProblem((wrong as Error).message);
    }
  };
  return (
    <DoorPage
      title={title}
      says={<span role="status">{asked === null ? says : sent(asked)}</span>}
      problem={problem}
      onSubmit={(event) => void handleSubmit(ask)(event)}
    >
      {asked === null && (
        <>
          <Field
            label="Mail address"
            type="email"
            autoComplete="username"
            autoFocus
            wrong={formState.errors.mail}
            {...register('mail', { validate: mailRule })}
          />
          <Button type="submit" variant="contained" disabled={formState.isSubmitting} sx={{ mr: 2 }}>
            {button}
          </Button>
        </>
      )}
      <Link className="quiet-link" to="/sign-in">
        Back to signing in
      </Link>
    </DoorPage>
  );
}

export const Forgotten = () => (
  <AskForLetter
    title="A new password"
    says="A letter goes to the address you sign in with. By the link in it you set a new password."
    path="/password/forgotten"
    button="Send the letter"
    sent={(mail) =>
      `If somebody here signs in with ${mail}, a letter is on its way there. Its link holds for an hour. Where this house sends no mail, its keepers have it in their outbox.`
    }
  />
);

export const ComeIn = () => (
  <AskForLetter
    title="Come in"
    says="Who has a mail address of this house can come in by themselves. A letter goes there, with a link that lets you in."
    path="/come-in"
    button="Send the letter"
    sent={(mail) => `If ${mail} is an address of this house, a letter is on its way there. Its link holds for a week.`}
  />
);

/** Where the letter for a new password leads. */
export function NewPassword() {
  const { token = '' } = useParams();
  const { register, handleSubmit, formState } = useForm<{ password: string }>();
  const { problem, enter } = useEntering();
  return (
    <DoorPage
      title="A new password"
      says="Wherever you are signed in now, you are so no more once it is set."
      problem={problem}
      onSubmit={(event) =>
        void handleSubmit(({ password }) => enter('/password/reset', { token, password }, () => '/'))(event)
      }
    >
      <Field
        label="New password"
        type="password"
        autoComplete="new-password"
        autoFocus
        wrong={formState.errors.password}
        hint="At least eight letters; a few words are easy to remember."
        {...register('password', { validate: passwordRule })}
      />
      <Button type="submit" variant="contained" disabled={formState.isSubmitting} sx={{ mr: 2 }}>
        Set it and come in
      </Button>
      <Link className="quiet-link" to="/password">
        Ask for another letter
      </Link>
    </DoorPage>
  );
}
