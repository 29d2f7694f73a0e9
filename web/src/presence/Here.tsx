import { Box, Menu, MenuItem, Tooltip } from '@mui/material';
import { memo, useState, type MouseEvent } from 'react';
import { roleWords } from '../api/queries';
import { usePopRule } from '../kit/focus';
import type { Other } from '../live/places';
import { useOpened } from '../opened/opened';
import { Portrait } from '../people/Portrait';
import { useOthers } from './use-others';

/** So many portraits have room in the bar; of more people, the last stand behind a number. */
const most = 3;

/** Who else has the manuscript open. Their menu offers to go where they are, and to read along. */
export const Here = memo(function Here() {
  const { info, me, along, goTo } = useOpened();
  const others = useOthers();
  const { onExited, ...rule } = usePopRule();
  const [open, setOpen] = useState<{ at: HTMLElement; people: readonly string[] } | null>(null);
  const places = new Map<string, Other>();
  for (const other of others) if (other.person !== me.id) places.set(other.person, other);
  // By name: whoever has done something last comes last among the others, and portraits do not change places for it.
  const here = info.people.filter(({ id }) => places.has(id)).sort((a, b) => a.name.localeCompare(b.name));
  const shown = here.length > most ? here.slice(0, most - 1) : here;
  const rest = here.slice(shown.length);
  const chosen = here.filter(({ id }) => open?.people.includes(id));
  const close = () => setOpen(null);
  const menuOf = (...people: { id: string }[]) => ({
    type: 'button' as const,
    'aria-haspopup': 'menu' as const,
    onClick: ({ currentTarget: at }: MouseEvent<HTMLElement>) => setOpen({ at, people: people.map(({ id }) => id) }),
  });
  return (
    <Box role="group" aria-label="Here now" sx={{ display: 'flex', pl: 0.75 }}>
      {shown.map((person) => (
        <Tooltip key={person.id} title={`${person.name} is here: ${person.role ? roleWords[person.role] : ''}`}>
          <button
            className="portrait here"
            data-author={person.id}
            aria-label={`${person.name} is here`}
            {...menuOf(person)}
          >
            <Portrait person={person} />
          </button>
        </Tooltip>
      ))}
      {rest.length > 0 && (
        <Tooltip title={`${rest.map(({ name }) => name).join(', ')} are here too`}>
          <button className="portrait here" aria-label={`${rest.length} others are here`} {...menuOf(...rest)}>
            +{rest.length}
          </button>
        </Tooltip>
      )}
      <Menu
        anchorEl={open?.at ?? null}
        open={!!open && chosen.length > 0}
        onClose={close}
        {...rule}
        slotProps={{ transition: { onExited } }}
      >
        {chosen.flatMap(({ id, name }) => [
          <MenuItem
            key={`${id} along`}
            onClick={() => {
              close();
              along.set(id);
            }}
          >
            {open?.people.length === 1 ? 'Read along' : `Read along with ${name}`}
          </MenuItem>,
          <MenuItem
            key={`${id} go`}
            onClick={() => {
              close();
              goTo(places.get(id)!.head);
            }}
          >
            {open?.people.length === 1 ? 'Go where they are' : `Go where ${name} is`}
          </MenuItem>,
        ])}
      </Menu>
    </Box>
  );
});
