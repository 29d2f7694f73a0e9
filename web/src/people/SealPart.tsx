import { Box, Button, Checkbox, FormControlLabel, TextField } from '@mui/material';
import { useState } from 'react';
import type { Seal } from '@tea-pencil/wire';
import { keys } from '../api/keys';
import { useAsking } from '../api/use-asking';
import { Section } from '../kit/Section';
import { said } from '../kit/time';
import { useOpened } from '../opened/opened';

/** What a seal says, in a sentence. */
export function sealWords({ byName, at, mayWithdraw }: Seal): string {
  const by = byName === null ? `Sealed in the file it came from, ${said(at)}.` : `Sealed by ${byName}, ${said(at)}.`;
  const own = mayWithdraw ? ' One may withdraw what one has proposed oneself.' : '';
  return `${by} Everyone writes in pencil and nobody decides until the passphrase is given.${own}`;
}

/** Keeps everyone in pencil and decisions closed until a passphrase is given. */
export function SealPart() {
  const { info, may } = useOpened();
  const [open, setOpen] = useState(false);
  const { seal } = info;
  if (!seal && !may.keep) return null;
  const says = seal
    ? sealWords(seal)
    : 'A seal keeps everyone in pencil and decisions closed until its passphrase is given: to you too, and to every other keeper.';
  return (
    <Section title="Seal" says={says}>
      {may.keep && !open && (
        <Button variant="outlined" color="inherit" sx={{ bgcolor: 'background.paper' }} onClick={() => setOpen(true)}>
          {seal ? 'Lift the seal' : 'Seal it …'}
        </Button>
      )}
      {may.keep &&
        open &&
        (seal ? <Lifting onDone={() => setOpen(false)} /> : <Sealing onDone={() => setOpen(false)} />)}
    </Section>
  );
}

const field = {
  size: 'small' as const,
  fullWidth: true,
  sx: { mb: 1, '& .MuiInputBase-root': { bgcolor: 'background.paper' } },
};

function Sealing({ onDone }: { onDone(): void }) {
  const { info } = useOpened();
  const ask = useAsking(keys.manuscript(info.id));
  const [passphrase, setPassphrase] = useState('');
  const [shown, setShown] = useState(false);
  const [mayWithdraw, setMayWithdraw] = useState(true);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void ask('PUT', `/manuscripts/${info.id}/seal`, { passphrase, mayWithdraw }).then(onDone, () => undefined);
      }}
    >
      <TextField
        {...field}
        label="Passphrase"
        type={shown ? 'text' : 'password'}
        autoComplete="new-password"
        autoFocus
        value={passphrase}
        helperText="Keep it well. Nobody can lift the seal without it, whoever looks after this house neither."
        onChange={({ target }) => setPassphrase(target.value)}
        slotProps={{ htmlInput: { maxLength: 200 } }}
      />
      <Box sx={{ display: 'flex', flexDirection: 'column', mb: 1 }}>
        <FormControlLabel
          control={<Checkbox size="small" checked={shown} onChange={(_, show) => setShown(show)} />}
          label="Show what I type"
        />
        <FormControlLabel
          control={<Checkbox size="small" checked={mayWithdraw} onChange={(_, may) => setMayWithdraw(may)} />}
          label="Everyone may still withdraw what they have proposed themselves"
        />
      </Box>
      <Button type="submit" variant="contained" disabled={!passphrase} sx={{ mr: 1 }}>
        Seal it
      </Button>
      <Button color="inherit" onClick={onDone}>
        Cancel
      </Button>
    </form>
  );
}

function Lifting({ onDone }: { onDone(): void }) {
  const { info } = useOpened();
  const ask = useAsking(keys.manuscript(info.id));
  const [passphrase, setPassphrase] = useState('');
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void ask('POST', `/manuscripts/${info.id}/seal/lifted`, { passphrase }).then(onDone, () => setPassphrase(''));
      }}
    >
      <TextField
        {...field}
        label="Passphrase of the seal"
        type="password"
        autoComplete="off"
        autoFocus
        value={passphrase}
        onChange={({ target }) => setPassphrase(target.value)}
        slotProps={{ htmlInput: { maxLength: 200 } }}
      />
      <Button type="submit" variant="contained" disabled={!passphrase} sx={{ mr: 1 }}>
        Lift it for everyone
      </Button>
      <Button color="inherit" onClick={onDone}>
        Cancel
      </Button>
    </form>
  );
}
