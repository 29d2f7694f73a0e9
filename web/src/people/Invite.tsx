import { Autocomplete, Box, Button, TextField } from '@mui/material';
import { useState } from 'react';
import type { Rights } from '@tea-pencil/wire';
import { roles, useGroups, useKnown, useSharing } from '../api/queries';
import { keys } from '../api/keys';
import { useAsking } from '../api/use-asking';
import { isMail } from '../kit/mail';
import { Section } from '../kit/Section';
import { useOpened } from '../opened/opened';
import { StillInside } from '../reviewing/StillInside';
import { Groups } from './Groups';
import { RightsChoice } from './RightsChoice';

/** Who can be invited: somebody one knows, a group of one's own, or an address. */
type Offer =
  | { kind: 'person'; id: string; label: string; note: string | null }
  | { kind: 'group'; id: string; label: string; note: string }
  | { kind: 'mail'; id: string; label: string; note: string };

const byMail = (typed: string): Offer => ({
  kind: 'mail',
  id: typed,
  label: typed,
  note: 'by a letter, which leads here',
});
const usual: Rights = { role: 'remarker', takesAway: true, invites: false };

/** Whom one may know: who is not among the people yet, and groups. */
function useOffers(): Offer[] {
  const { info, me, may } = useOpened();
  const known = useKnown();
  const groups = useGroups();
  const sharing = useSharing(info.id);
  const here = new Set(info.people.flatMap(({ id, role }) => (role ? [id] : [])));
  const given = new Set(sharing.data?.groups.map(({ group }) => group));
  return [
    ...(known.data ?? [])
      .filter(({ id }) => !here.has(id) && id !== me.id)
      .map(({ id, name, note }): Offer => ({ kind: 'person', id, label: name, note })),
    ...(may.keep ? (groups.data ?? []) : [])
      .filter(({ id }) => !given.has(id))
      .map(({ id, name, people }): Offer => ({ kind: 'group', id, label: name, note: `group of ${people.length}` })),
  ];
}

interface WhomProps {
  offers: Offer[];
  chosen: Offer | null;
  setChosen(offer: Offer | null): void;
  typed: string;
  setTyped(words: string): void;
}

/** The field for whom to invite. */
function Whom({ offers, chosen, setChosen, typed, setTyped }: WhomProps) {
  return (
    <Autocomplete<Offer, false, false, true>
      freeSolo
      sx={{ mt: 1, bgcolor: 'background.paper' }}
      options={offers}
      value={chosen}
      inputValue={typed}
      getOptionLabel={(offer) => (typeof offer === 'string' ? offer : offer.label)}
      filterOptions={(all, { inputValue }) => {
        // A whole address need not be chosen, so no list of it lies over what one does next.
        const words = inputValue.trim().toLowerCase();
        return all.filter(({ label }) => label.toLowerCase().includes(words));
      }}
      isOptionEqualToValue={(a, b) => typeof b !== 'string' && a.id === b.id}
      onChange={(_, next) => setChosen(typeof next === 'string' ? (isMail(next) ? byMail(next.trim()) : null) : next)}
      onInputChange={(_, next, reason) => {
        setTyped(next);
        if (reason === 'input') setChosen(null);
      }}
      renderOption={({ key, ...props }, { label, note }) => (
        <Box component="li" key={key} {...props}>
          {label}
          {note && (
            <span className="second" style={{ marginLeft: 8 }}>
              {note}
            </span>
          )}
        </Box>
      )}
      renderInput={(props) => (
        <TextField
          {...props}
          size="small"
          placeholder="Name or mail address"
          slotProps={{
            ...props.slotProps,
            htmlInput: { ...props.slotProps.htmlInput, 'aria-label': 'Name or mail address' },
          }}
        />
      )}
    />
  );
}

/** Invites somebody by name, a group, or an address. */
export function Invite() {
  const { info, may, say } = useOpened();
  const ask = useAsking(keys.manuscript(info.id));
  const mine = roles.indexOf(info.role);
  const offered = may.keep ? roles : roles.slice(0, mine + 1);
  const [rights, setRights] = useState<Rights>({
    ...usual,
    role: offered.includes('remarker') ? 'remarker' : 'reader',
    takesAway: info.takesAway,
  });
  const [chosen, setChosen] = useState<Offer | null>(null);
  const [typed, setTyped] = useState('');
  const [message, setMessage] = useState<string | null>(null);
  const [looking, setLooking] = useState(false);
  const offers = useOffers();
  const whom = chosen ?? (isMail(typed) ? byMail(typed.trim()) : null);
  const invite = async () => {
    if (!whom) return;
    const words = message?.trim() ?? '';
    const path = `/manuscripts/${info.id}`;
    try {
      if (whom.kind === 'person') await ask('PUT', `${path}/members/${whom.id}`, { ...rights, message: words });
      else if (whom.kind === 'group') await ask('PUT', `${path}/groups/${whom.id}`, rights);
      else await ask('POST', `${path}/invitations`, { ...rights, mail: whom.id, message: words });
    } catch {
      return; // why not has been said
    }
    if (whom.kind === 'mail')
      say(
        `A letter goes to ${whom.id}. Where no mail is sent, you find it in Post, under “Outbox”, and can pass it on.`,
      );
    setChosen(null);
    setTyped('');
    setMessage(null);
  };
  return (
    <Section
      title="Invite"
      beside={
        may.keep && (
          <button type="button" className="plain-button" onClick={() => setLooking(true)}>
            Groups …
          </button>
        )
      }
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void invite();
        }}
      >
        <Whom {...{ offers, chosen, setChosen, typed, setTyped }} />
        {whom && <StillInside who={whom.kind === 'group' ? 'Each of them' : whom.label} />}
        <div className="choice-line">
          <RightsChoice
            label="What they may do"
            rights={rights}
            offered={offered}
            onChoose={(part) => setRights({ ...rights, ...part })}
          />
          {whom?.kind !== 'group' && message === null && (
            <>
              <span>·</span>
              <button type="button" className="choice-word" onClick={() => setMessage('')}>
                with a message
              </button>
            </>
          )}
        </div>
        {message !== null && (
          <TextField
            label="Message"
            multiline
            minRows={2}
            fullWidth
            size="small"
            autoFocus
            sx={{ mb: 1.5, '& .MuiInputBase-root': { bgcolor: 'background.paper' } }}
            value={message}
            onChange={({ target }) => setMessage(target.value)}
            slotProps={{ htmlInput: { maxLength: 2000 } }}
          />
        )}
        <Button type="submit" variant="contained" disabled={!whom}>
          Invite
        </Button>
      </form>
      {looking && <Groups onClose={() => setLooking(false)} />}
    </Section>
  );
}
