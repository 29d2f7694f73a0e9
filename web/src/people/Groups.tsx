import {
  Autocomplete,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  LinearProgress,
  TextField,
} from '@mui/material';
import { useState } from 'react';
import { counted } from '@tea-pencil/core';
import type { Account, Group } from '@tea-pencil/wire';
import { useGroups, useKnown } from '../api/queries';
import { keys } from '../api/keys';
import { useAsking } from '../api/use-asking';
import { PartLine } from './PartLine';

/** The groups one has made: people under one name, to be given something together. */
export function Groups({ onClose }: { onClose(): void }) {
  const groups = useGroups();
  const [editing, setEditing] = useState<Group | 'new' | null>(null);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Groups</DialogTitle>
      <DialogContent>
        {groups.isPending && <LinearProgress aria-label="Your groups are being fetched" />}
        {groups.isError && <Box>{groups.error.message}</Box>}
        {editing === null ? (
          <>
            <Box className="second" sx={{ mb: 1 }}>
              People you often share with, under one name. Who comes into a group or goes from it, comes and goes in
              every manuscript that is shared with it.
            </Box>
            {(groups.data ?? []).map((group) => (
              <PartLine key={group.id} name={group.name} note={counted(group.people.length, 'person', 'people')}>
                <button type="button" className="plain-button" onClick={() => setEditing(group)}>
                  Change
                </button>
              </PartLine>
            ))}
            {groups.data?.length === 0 && <Box sx={{ py: 1 }}>You have made none yet.</Box>}
            <Button variant="outlined" color="inherit" sx={{ mt: 2 }} onClick={() => setEditing('new')}>
              New group
            </Button>
          </>
        ) : (
          <Editing group={editing === 'new' ? null : editing} onDone={() => setEditing(null)} />
        )}
      </DialogContent>
      {editing === null && (
        <DialogActions>
          <Button variant="contained" onClick={onClose}>
            Done
          </Button>
        </DialogActions>
      )}
    </Dialog>
  );
}

/** One group: how it is called, and who is in it. */
function Editing({ group, onDone }: { group: Group | null; onDone(): void }) {
  const known = useKnown();
  const ask = useAsking(keys.groups);
  const [name, setName] = useState(group?.name ?? '');
  const [people, setPeople] = useState<Account[]>(group?.people ?? []);
  const all = [...(known.data ?? []), ...people.filter(({ id }) => !known.data?.some((one) => one.id === id))];
  const done = (asked: Promise<unknown>) => asked.then(onDone, () => undefined);
  const body = { name: name.trim(), people: people.map(({ id }) => id) };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void done(group ? ask('PUT', `/groups/${group.id}`, body) : ask('POST', '/groups', body));
      }}
    >
      <TextField
        label="Its name"
        fullWidth
        size="small"
        autoFocus
        margin="dense"
        value={name}
        onChange={({ target }) => setName(target.value)}
      />
      <Autocomplete
        multiple
        options={all}
        value={people}
        onChange={(_, next) => setPeople(next)}
        getOptionLabel={({ name: called }) => called}
        isOptionEqualToValue={(a, b) => a.id === b.id}
        renderInput={(props) => (
          <TextField
            {...props}
            label="Who is in it"
            size="small"
            margin="dense"
            helperText="People with whom you have a manuscript."
          />
        )}
      />
      <Box sx={{ display: 'flex', gap: 1, mt: 2 }}>
        <Button type="submit" variant="contained" disabled={!name.trim()}>
          Keep
        </Button>
        <Button color="inherit" onClick={onDone}>
          Cancel
        </Button>
        <Box sx={{ flex: 1 }} />
        {group && (
          <Button color="inherit" onClick={() => void done(ask('DELETE', `/groups/${group.id}`))}>
            Delete the group
          </Button>
        )}
      </Box>
    </form>
  );
}
