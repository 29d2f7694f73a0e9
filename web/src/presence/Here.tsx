import { Box, Menu, MenuItem, Tooltip } from '@mui/material';
import { memo, useState } from 'react';
import { roleWords } from '../api/queries';
import { usePopRule } from '../kit/focus';
import type { Other } from '../live/places';
import { useOpened } from '../opened/opened';
import { Portrait } from '../people/Portrait';
import { useOthers } from './use-others';

/** Who else has the manuscript open. Their menu offers to go where they are, and to read along. */
export const Here = memo(function Here() {
  const { info, me, along, goTo } = useOpened();
  const others = useOthers();
  const { onExited, ...rule } = usePopRule();
  const [open, setOpen] = useState<{ at: HTMLElement; person: string } | null>(null);
  const windows = new Map<string, Other>();
  for (const other of others) if (other.person !== me.id) windows.set(other.person, other);
  const chosen = open && windows.get(open.person);
  const close = () => setOpen(null);
  return (
    <Box role="group" aria-label="Here now" sx={{ display: 'flex', pl: 0.75 }}>
      {[...windows.keys()].map((id) => {
        const person = info.people.find((one) => one.id === id);
        if (!person) return null;
        return (
          <Tooltip key={id} title={`${person.name} is here: ${person.role ? roleWords[person.role] : ''}`}>
            <button
              type="button"
              className="portrait here"
              data-author={id}
              aria-label={`${person.name} is here`}
              aria-haspopup="menu"
              onClick={(event) => setOpen({ at: event.currentTarget, person: id })}
            >
              <Portrait person={person} />
            </button>
          </Tooltip>
        );
      })}
      <Menu
        anchorEl={open?.at ?? null}
        open={!!open && !!chosen}
        onClose={close}
        {...rule}
        slotProps={{ transition: { onExited } }}
      >
        <MenuItem
          onClick={() => {
            close();
            if (chosen) along.set(chosen.client);
          }}
        >
          Read along
        </MenuItem>
        <MenuItem
          onClick={() => {
            close();
            if (chosen) goTo(chosen.head);
          }}
        >
          Go where they are
        </MenuItem>
      </Menu>
    </Box>
  );
});
