import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, MenuItem, Select } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { request } from '../api/client';
import { roles, roleWords, useAccounts, type ManuscriptInfo, type Role } from '../api/queries';

/** Who may do what in the manuscript; a keeper changes it and shares it with others here. */
export function PeopleDialog({ info, open, onClose }: { info: ManuscriptInfo; open: boolean; onClose(): void }) {
  const accounts = useAccounts();
  const queries = useQueryClient();
  const { enqueueSnackbar } = useSnackbar();
  const keeper = info.role === 'keeper';
  const outside = info.people.filter(({ login }) => !login);
  const others = (accounts.data ?? []).filter(
    ({ id }) => !info.people.some((person) => person.id === id && person.role),
  );

  const setRole = async (person: string, role: Role) => {
    try {
      await request('PUT', `/manuscripts/${info.id}/members/${person}`, { role });
      await queries.invalidateQueries({ queryKey: ['manuscript', info.id] });
    } catch (problem) {
      enqueueSnackbar((problem as Error).message);
    }
  };
  const choice = (id: string, name: string, role: Role | '') => (
    <Select
      size="small"
      displayEmpty
      value={role}
      inputProps={{ 'aria-label': `What ${name} may do` }}
      disabled={!keeper}
      sx={{ width: 170, fontSize: 13 }}
      onChange={(event) => void setRole(id, event.target.value as Role)}
    >
      {role === '' && (
        <MenuItem value="" disabled>
          not in it
        </MenuItem>
      )}
      {roles.map((each) => (
        <MenuItem key={each} value={each}>
          {roleWords[each]}
        </MenuItem>
      ))}
    </Select>
  );
  const line = (id: string, name: string, note: string | null, end: React.ReactNode, hue = true) => (
    <Box
      key={id}
      sx={{ display: 'flex', alignItems: 'center', py: 0.75, borderBottom: '1px solid', borderColor: 'divider' }}
    >
      {hue && <span className="dot" data-author={id} />}
      <Box sx={{ flex: 1 }}>
        {name} <span className="second">{note}</span>
      </Box>
      {end}
    </Box>
  );

  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>People of “{info.title}”</DialogTitle>
      <DialogContent>
        {info.people
          .filter(({ role }) => role)
          .map(({ id, name, note, role }) => line(id, name, note, choice(id, name, role!)))}
        {outside.map(({ id, name }) =>
          line(id, name, 'named in the file', <span className="second">no account here</span>),
        )}
        {keeper && others.length > 0 && <Box sx={{ mt: 2, mb: 0.5, fontWeight: 600 }}>Share it with</Box>}
        {keeper && others.map(({ id, name, note }) => line(id, name, note, choice(id, name, ''), false))}
        {!keeper && <Box sx={{ mt: 2, color: 'text.secondary' }}>Only a keeper can change what people may do.</Box>}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} variant="contained">
          Done
        </Button>
      </DialogActions>
    </Dialog>
  );
}
