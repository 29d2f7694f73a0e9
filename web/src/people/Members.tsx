import { Box, Button, MenuItem, Select, Tooltip } from '@mui/material';
import type { Account, Role } from '@tea-pencil/wire';
import { roles, roleWords, useAccounts, type Colleague, type ManuscriptInfo } from '../api/queries';
import { useTakeBack } from '../kit/use-take-back';
import { Line } from './Line';
import { useSetting } from '../api/use-setting';

interface ChoiceProps {
  name: string;
  role: Role | '';
  onChoose(role: Role): void;
}

function RoleChoice({ name, role, onChoose }: ChoiceProps) {
  return (
    <Select
      size="small"
      displayEmpty
      value={role}
      inputProps={{ 'aria-label': `What ${name} may do` }}
      sx={{ width: 150, fontSize: 13 }}
      onChange={(event) => onChoose(event.target.value as Role)}
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
}

/** Who may do what in the manuscript; a keeper changes it, and shares the manuscript with others here. */
export function Members({ info, keeper }: { info: ManuscriptInfo; keeper: boolean }) {
  const accounts = useAccounts();
  const set = useSetting(info.id);
  const sayDone = useTakeBack();
  const members = info.people.filter((person): person is Colleague & { role: Role } => person.role !== null);
  const others = (accounts.data ?? []).filter(({ id }) => !members.some((member) => member.id === id));
  const choose =
    ({ id }: Account) =>
    (role: Role) =>
      void set('PUT', `/members/${id}`, { role });
  const remove = async ({ id, name, role }: Colleague & { role: Role }) => {
    if (!(await set('DELETE', `/members/${id}`))) return;
    sayDone(`${name} is not one of its people any more. What they wrote stays.`, () => {
      void set('PUT', `/members/${id}`, { role });
    });
  };
  return (
    <>
      {members.map((member) => (
        <Line key={member.id} person={member.id} name={member.name} note={member.note}>
          {keeper ? (
            <RoleChoice name={member.name} role={member.role} onChoose={choose(member)} />
          ) : (
            <span>{roleWords[member.role]}</span>
          )}
          {keeper && (
            <Tooltip title="They cannot open it any more; what they wrote stays, under their name">
              <Button size="small" color="inherit" sx={{ ml: 0.5 }} onClick={() => void remove(member)}>
                Take off
              </Button>
            </Tooltip>
          )}
        </Line>
      ))}
      {keeper && others.length > 0 && <Box sx={{ mt: 2, mb: 0.5, fontWeight: 600 }}>Share it with</Box>}
      {keeper &&
        others.map((other) => (
          <Line key={other.id} person={other.id} name={other.name} note={other.note} hue={false}>
            <RoleChoice name={other.name} role="" onChoose={choose(other)} />
          </Line>
        ))}
      {!keeper && <Box sx={{ mt: 2, color: 'text.secondary' }}>Only a keeper can change what people may do.</Box>}
    </>
  );
}
