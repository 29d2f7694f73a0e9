import { Box, Button, MenuItem, Select, TextField } from '@mui/material';
import { useState } from 'react';
import { counted } from '@tea-pencil/core';
import type { GuestLink, Role } from '@tea-pencil/wire';
import { roleWords, useSharing } from '../api/queries';
import { keys } from '../api/keys';
import { useAsking } from '../api/use-asking';
import { useSetting } from '../api/use-setting';
import { Moment } from '../kit/Moment';
import { Section } from '../kit/Section';
import { exactly, upTo } from '../kit/time';
import { useOpened } from '../opened/opened';
import { StillInside } from '../reviewing/StillInside';
import { PartLine } from './PartLine';

const endings = { ended: 'ended', over: 'its time is over', 'used up': 'used up' } as const;

/** Who came by a link, in words. */
function cameBy({ guests, mostUses }: GuestLink): string {
  const most = mostUses === null ? '' : ` of ${mostUses}`;
  if (!guests.length)
    return mostUses === null ? 'nobody has come by it yet' : `nobody has come yet, at most ${mostUses}`;
  const names = guests.slice(-3).map(({ name }) => `“${name}”`);
  return `${counted(guests.length, 'guest')}${most} came by it: ${guests.length > 3 ? '…, ' : ''}${names.join(', ')}`;
}

/** Links by which people without an account come to this one manuscript. */
export function GuestLinks() {
  const { info } = useOpened();
  const sharing = useSharing(info.id);
  const set = useSetting(info.id);
  const [making, setMaking] = useState(false);
  const [address, setAddress] = useState<string | null>(null);
  const links = sharing.data?.links ?? [];
  return (
    <Section
      title="Links for guests"
      says={
        links.length
          ? undefined
          : 'Who comes by a link needs no account, sees this manuscript and nothing else, and takes nothing away.'
      }
    >
      {links.length > 0 && (
        <div className="part-lines">
          {links.map((link) => (
            <PartLine
              key={link.id}
              name={link.name}
              below={
                <>
                  {[
                    roleWords[link.role],
                    link.passphrase && 'passphrase',
                    link.ended ? endings[link.ended] : link.endsAt && `until ${upTo(link.endsAt)}`,
                  ]
                    .filter(Boolean)
                    .join(' · ')}
                  <div title={link.guests.map(({ name, cameAt }) => `${name}: ${exactly(cameAt)}`).join('\n')}>
                    {cameBy(link)}
                  </div>
                </>
              }
            >
              {!link.ended && (
                <button
                  type="button"
                  className="plain-button"
                  aria-label={`End the link “${link.name}”`}
                  onClick={() => void set('DELETE', `/links/${link.id}`)}
                >
                  End it
                </button>
              )}
            </PartLine>
          ))}
        </div>
      )}
      {address && <Address address={address} onClose={() => setAddress(null)} />}
      {making ? (
        <NewLink
          onMade={(made) => {
            setMaking(false);
            setAddress(made);
          }}
          onCancel={() => setMaking(false)}
        />
      ) : (
        <Button color="inherit" sx={{ mt: 1.5, bgcolor: 'background.paper' }} onClick={() => setMaking(true)}>
          New link …
        </Button>
      )}
    </Section>
  );
}

/** The address of a link that was just made: it is told this once. */
function Address({ address, onClose }: { address: string; onClose(): void }) {
  const [copied, setCopied] = useState(false);
  const copy = () =>
    navigator.clipboard.writeText(address).then(
      () => setCopied(true),
      () => setCopied(false),
    );
  return (
    <Box role="status" sx={{ mt: 1.5 }}>
      Send this address to your guests. It is shown now and never again; if it is lost, end the link and make another.
      <code className="secret-address" data-testid="guest-address">
        {address}
      </code>
      <Button variant="outlined" color="inherit" onClick={() => void copy()} sx={{ mr: 1 }}>
        {copied ? 'Copied' : 'Copy'}
      </Button>
      <Button color="inherit" onClick={onClose}>
        Done
      </Button>
    </Box>
  );
}

function NewLink({ onMade, onCancel }: { onMade(address: string): void; onCancel(): void }) {
  const { info } = useOpened();
  const ask = useAsking(keys.manuscript(info.id));
  const [name, setName] = useState('');
  const [role, setRole] = useState<Role>('remarker');
  const [passphrase, setPassphrase] = useState('');
  const [endsAt, setEndsAt] = useState<string | null>(null);
  const [mostUses, setMostUses] = useState('');
  const make = async () => {
    const asked = {
      name: name.trim(),
      role,
      passphrase: passphrase || null,
      endsAt,
      mostUses: mostUses ? Number(mostUses) : null,
    };
    try {
      onMade((await ask<{ address: string }>('POST', `/manuscripts/${info.id}/links`, asked)).address);
    } catch {
      return; // why not has been said
    }
  };
  const field = {
    size: 'small' as const,
    fullWidth: true,
    sx: { mb: 1.5, '& .MuiInputBase-root': { bgcolor: 'background.paper' } },
  };
  return (
    <Box
      component="form"
      sx={{ mt: 2 }}
      onSubmit={(event) => {
        event.preventDefault();
        void make();
      }}
    >
      <TextField
        {...field}
        label="For whom"
        placeholder="For the harbour office"
        autoFocus
        value={name}
        onChange={({ target }) => setName(target.value)}
        slotProps={{ htmlInput: { maxLength: 100 } }}
      />
      <Select
        size="small"
        value={role}
        inputProps={{ 'aria-label': 'What guests may do' }}
        sx={{ mb: 1.5, '& .MuiInputBase-root': { bgcolor: 'background.paper' }, fontSize: 13, width: '100%' }}
        onChange={({ target }) => setRole(target.value)}
      >
        {(['reader', 'remarker', 'proposer'] as const).map((one) => (
          <MenuItem key={one} value={one}>
            {roleWords[one]}
          </MenuItem>
        ))}
      </Select>
      <TextField
        {...field}
        label="Passphrase, if you want one"
        type="password"
        autoComplete="new-password"
        value={passphrase}
        helperText="Tell it to your guests by another way than the link."
        onChange={({ target }) => setPassphrase(target.value)}
        slotProps={{ htmlInput: { maxLength: 200 } }}
      />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 1, mb: 1.5 }}>
        <span className="second">until</span>
        <Moment label="Until when the link holds" value={endsAt} onChange={setEndsAt} />
        <TextField
          size="small"
          label="At most so many guests"
          type="number"
          value={mostUses}
          sx={{ width: 190, '& .MuiInputBase-root': { bgcolor: 'background.paper' } }}
          onChange={({ target }) => setMostUses(target.value)}
          slotProps={{ htmlInput: { min: 1, max: 10000 } }}
        />
      </Box>
      <StillInside who="Who comes by it" />
      <Button type="submit" variant="contained" disabled={!name.trim()} sx={{ mr: 1 }}>
        Make the link
      </Button>
      <Button color="inherit" onClick={onCancel}>
        Cancel
      </Button>
    </Box>
  );
}
