import { Box, Button, LinearProgress, MenuItem, Select, TextField } from '@mui/material';
import { useSnackbar } from 'notistack';
import { useEffect, useState } from 'react';
import { counted } from '@tea-pencil/core';
import type { House, HousePerson } from '@tea-pencil/wire';
import { roleWords, useHouse, useMe } from '../api/queries';
import { keys } from '../api/keys';
import { useTrying } from '../api/use-asking';
import { isMail } from '../kit/mail';
import { Message } from '../kit/Message';
import { Section } from '../kit/Section';
import { said, upTo } from '../kit/time';
import { useTakeBack } from '../kit/use-take-back';
import { PartLine } from '../people/PartLine';
import { TopBar } from '../people/TopBar';

/** The house and its people, for those who look after them. */
export default function HousePage() {
  const house = useHouse();
  useEffect(() => {
    document.title = 'House · Tea Pencil';
  }, []);
  if (house.isError && !house.data)
    return (
      <Message title="The house cannot be shown" text={house.error.message} again={() => void house.refetch()} home />
    );
  return (
    <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
      <TopBar title="House" />
      <main className="parts">
        <h1 className="heard-only">The house and its people</h1>
        {house.isPending && <LinearProgress aria-label="The house is being fetched" />}
        {house.data && (
          <div className="parts-columns">
            <div>
              <People people={house.data.people} />
              <Unkept unkept={house.data.unkept} />
            </div>
            <div>
              <InviteToHouse />
              <Invitations invitations={house.data.invitations} />
              <ByThemselves key={house.data.domains.join()} domains={house.data.domains} />
              <Links links={house.data.links} />
            </div>
          </div>
        )}
      </main>
    </Box>
  );
}

function People({ people }: { people: readonly HousePerson[] }) {
  return (
    <Section title="People" says={`${counted(people.length, 'account')} in this house.`}>
      <div className="part-lines">
        {people.map((person) => (
          <Person key={person.id} person={person} />
        ))}
      </div>
    </Section>
  );
}

function Person({ person }: { person: HousePerson }) {
  const act = useTrying(keys.house);
  const sayDone = useTakeBack();
  const me = useMe();
  const { id, name, mail, keepsHouse, locked, seenAt, manuscripts } = person;
  const isMe = me.data?.id === id;
  const set = (what: { keepsHouse?: boolean; locked?: boolean }) => act('PATCH', `/house/people/${id}`, what);
  const lock = async () => {
    if (await set({ locked: true }))
      sayDone(
        `${name} cannot come in any more, and is signed out everywhere. What they wrote stays.`,
        () => void set({ locked: false }),
      );
  };
  const note = [
    mail,
    keepsHouse && 'keeper of the house',
    locked && 'locked',
    seenAt ? `came in ${said(seenAt)}` : 'never came in',
    counted(manuscripts, 'manuscript'),
  ]
    .filter(Boolean)
    .join(' · ');
  return (
    <PartLine name={isMe ? `${name} (you)` : name} below={note}>
      <button type="button" className="plain-button" onClick={() => void set({ keepsHouse: !keepsHouse })}>
        {keepsHouse ? 'No keeper any more' : 'Make keeper'}
      </button>
      {!isMe && (
        <button type="button" className="plain-button" onClick={() => void (locked ? set({ locked: false }) : lock())}>
          {locked ? 'Open again' : 'Lock'}
        </button>
      )}
    </PartLine>
  );
}

/** Manuscripts that nobody keeps any more. */
function Unkept({ unkept }: Pick<House, 'unkept'>) {
  const act = useTrying(keys.house);
  const house = useHouse();
  if (!unkept.length) return null;
  return (
    <Section
      title="Without a keeper"
      says="Whoever kept these has left, or is locked. Make somebody their keeper, so that they can be shared and closed again."
    >
      <div className="part-lines">
        {unkept.map(({ id, title, members }) => {
          const others = (house.data?.people ?? []).filter(
            (one) => !one.locked && !members.some((member) => member.id === one.id),
          );
          return (
            <PartLine
              key={id}
              name={title}
              note={members.length ? `its people: ${members.map(({ name }) => name).join(', ')}` : 'nobody is in it'}
            >
              <Select
                size="small"
                displayEmpty
                value=""
                inputProps={{ 'aria-label': `Keeper of ${title}` }}
                sx={{ fontSize: 13, minWidth: 190, bgcolor: 'background.paper' }}
                onChange={({ target }) => void act('PUT', `/house/unkept/${id}`, { person: target.value })}
              >
                <MenuItem value="" disabled>
                  make … its keeper
                </MenuItem>
                {[...members, ...others].map((person) => (
                  <MenuItem key={person.id} value={person.id}>
                    {person.name}
                  </MenuItem>
                ))}
              </Select>
            </PartLine>
          );
        })}
      </div>
    </Section>
  );
}

function InviteToHouse() {
  const act = useTrying(keys.house);
  const { enqueueSnackbar } = useSnackbar();
  const [mail, setMail] = useState('');
  const [message, setMessage] = useState('');
  const invite = async () => {
    if (!(await act('POST', '/house/invitations', { mail: mail.trim(), message: message.trim() }))) return;
    enqueueSnackbar(
      `A letter goes to ${mail.trim()}. Where no mail is sent, you find it in Post, under “Outbox”, and can pass it on.`,
    );
    setMail('');
    setMessage('');
  };
  return (
    <Section
      title="Invite into the house"
      says="Nobody makes an account unless invited. To a manuscript its keepers invite."
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void invite();
        }}
      >
        <TextField
          label="Mail address"
          type="email"
          size="small"
          fullWidth
          sx={{ mb: 1.5, '& .MuiInputBase-root': { bgcolor: 'background.paper' } }}
          value={mail}
          onChange={({ target }) => setMail(target.value)}
        />
        <TextField
          label="Message"
          multiline
          minRows={2}
          size="small"
          fullWidth
          sx={{ mb: 1.5, '& .MuiInputBase-root': { bgcolor: 'background.paper' } }}
          value={message}
          onChange={({ target }) => setMessage(target.value)}
          slotProps={{ htmlInput: { maxLength: 2000 } }}
        />
        <Button type="submit" variant="contained" disabled={!isMail(mail)}>
          Invite
        </Button>
      </form>
    </Section>
  );
}

function Invitations({ invitations }: Pick<House, 'invitations'>) {
  const act = useTrying(keys.house);
  if (!invitations.length) return null;
  return (
    <Section title="Open invitations">
      <div className="part-lines">
        {invitations.map(({ id, mail, title, byName, endsAt }) => (
          <PartLine
            key={id}
            name={mail}
            below={[
              title ? `to “${title}”` : 'to the house',
              byName ? `by ${byName}` : 'by themselves',
              `until ${upTo(endsAt)}`,
            ].join(', ')}
          >
            <button
              type="button"
              className="plain-button"
              onClick={() => void act('DELETE', `/house/invitations/${id}`)}
            >
              Withdraw
            </button>
          </PartLine>
        ))}
      </div>
    </Section>
  );
}

/** Mail domains whose people need no invitation. */
function ByThemselves({ domains }: Pick<House, 'domains'>) {
  const act = useTrying(keys.house);
  const [typed, setTyped] = useState(domains.join(', '));
  const asked = typed.split(/[\s,;]+/).filter(Boolean);
  const changed = asked.join() !== domains.join();
  return (
    <Section
      title="Who comes in by themselves"
      says="Whoever has a mail address of one of these domains gets a letter that lets them in, when they ask for it. Nobody is told which they are."
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void act('PATCH', '/house', { domains: asked });
        }}
      >
        <TextField
          label="Mail domains"
          placeholder="harrow-press.example"
          size="small"
          fullWidth
          sx={{ mb: 1.5, '& .MuiInputBase-root': { bgcolor: 'background.paper' } }}
          value={typed}
          onChange={({ target }) => setTyped(target.value)}
          helperText={asked.length ? undefined : 'None: everyone is invited.'}
        />
        <Button
          type="submit"
          variant="outlined"
          color="inherit"
          disabled={!changed}
          sx={{ bgcolor: 'background.paper' }}
        >
          Keep
        </Button>
      </form>
    </Section>
  );
}

function Links({ links }: Pick<House, 'links'>) {
  const act = useTrying(keys.house);
  if (!links.length) return null;
  return (
    <Section title="Open links for guests">
      <div className="part-lines">
        {links.map(({ id, name, title, byName, role, endsAt, guests }) => (
          <PartLine
            key={id}
            name={name}
            below={[
              `to “${title}”`,
              `by ${byName}`,
              roleWords[role],
              counted(guests, 'guest'),
              endsAt && `until ${upTo(endsAt)}`,
            ]
              .filter(Boolean)
              .join(', ')}
          >
            <button
              type="button"
              className="plain-button"
              aria-label={`End the link “${name}”`}
              onClick={() => void act('DELETE', `/house/links/${id}`)}
            >
              End it
            </button>
          </PartLine>
        ))}
      </div>
    </Section>
  );
}
