import { Button } from '@mui/material';
import { useForm } from 'react-hook-form';
import { DoorPage } from './DoorPage';
import { Field, mailRule, passwordRule } from './Field';
import { useEntering } from './use-entering';

interface Fields {
  name: string;
  mail: string;
  password: string;
}

/** An empty house: whoever is first begins it, and looks after it from then on. */
export function Begin() {
  const { register, handleSubmit, formState } = useForm<Fields>();
  const { problem, enter } = useEntering();
  const { name, mail, password } = formState.errors;
  return (
    <DoorPage
      title="Begin"
      says="Nobody is in this house yet. You will be the first, and look after its people; others come in when somebody invites them."
      problem={problem}
      onSubmit={(event) =>
        void handleSubmit(({ mail: typed, ...fields }) =>
          enter('/begin', { ...fields, mail: typed.trim() }, () => '/'),
        )(event)
      }
    >
      <Field
        label="Your name"
        autoComplete="name"
        autoFocus
        wrong={name}
        hint="It stands at everything you write."
        {...register('name', { validate: (value) => !!value.trim() || 'Please give your name.' })}
      />
      <Field
        label="Mail address"
        type="email"
        autoComplete="username"
        wrong={mail}
        hint="You sign in with it. Nobody else sees it but keepers of the house."
        {...register('mail', { validate: mailRule })}
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
        Begin
      </Button>
    </DoorPage>
  );
}
