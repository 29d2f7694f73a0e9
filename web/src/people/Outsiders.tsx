import { MenuItem, Select, TextField } from '@mui/material';
import { useState } from 'react';
import { unnamed } from '@tea-pencil/core';
import type { Colleague, ManuscriptInfo } from '../api/queries';
import { Line } from './Line';
import { useSetting } from '../api/use-setting';

/** The people of a manuscript whom only its file names. */
export const outsidersOf = ({ people }: ManuscriptInfo): Colleague[] =>
  people.filter(({ standing }) => standing === 'outside');

/** How a file calls someone it does not name. */
const isUnnamed = ({ calledInFile }: Colleague) => calledInFile === unnamed;

/** A name for someone who has none; kept when one goes on. */
function Naming({ person, onName }: { person: Colleague; onName(name: string): void }) {
  const [name, setName] = useState('');
  return (
    <TextField
      size="small"
      label="Their name"
      value={name}
      onChange={(event) => setName(event.target.value)}
      onBlur={() => name.trim() && onName(name.trim())}
      onKeyDown={(event) => event.key === 'Enter' && name.trim() && onName(name.trim())}
      sx={{ width: 150, mr: 1 }}
      slotProps={{ htmlInput: { 'aria-label': `Name for ${person.calledInFile}` } }}
    />
  );
}

/** Says for each person a file names whether they are one of the manuscript's people. It can be changed back. */
export function Outsiders({ info }: { info: ManuscriptInfo }) {
  const set = useSetting(info.id);
  const members = info.people.filter(({ role }) => role);
  return outsidersOf(info).map((person) => (
    <Line key={person.id} person={person.id} name={person.calledInFile} note="named in the file">
      {isUnnamed(person) && (
        <Naming person={person} onName={(name) => void set('PATCH', `/outside/${person.id}`, { name })} />
      )}
      <Select
        size="small"
        value={person.matchedTo ?? ''}
        displayEmpty
        inputProps={{ 'aria-label': `Who ${person.calledInFile} is` }}
        sx={{ width: 190, fontSize: 13 }}
        onChange={(event) => void set('PATCH', `/outside/${person.id}`, { matchedTo: event.target.value || null })}
      >
        <MenuItem value="">someone outside</MenuItem>
        {members.map(({ id, name }) => (
          <MenuItem key={id} value={id}>
            is {name}
          </MenuItem>
        ))}
      </Select>
    </Line>
  ));
}
