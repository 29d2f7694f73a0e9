import { Box, Button, FormControlLabel, Menu, Switch } from '@mui/material';
import { useState } from 'react';
import type { ManuscriptInfo } from '../api/queries';
import { useMode } from '../theme/mode';
import { everyonesHues, howManyHues, hueOf, type OwnHues } from '../theme/hues';

interface Props {
  info: ManuscriptInfo;
  own: OwnHues;
  onOwn(own: OwnHues): void;
}

/** Hues for one's own eyes: other ones for some people, or hues that say the kind. */
export function OwnHuesChoice({ info, own, onOwn }: Props) {
  const { mode } = useMode();
  const [at, setAt] = useState<{ element: HTMLElement; person: string } | null>(null);
  const changed = own.says !== 'who' || Object.keys(own.people).length > 0;
  return (
    <>
      <FormControlLabel
        control={
          <Switch
            checked={own.says === 'kind'}
            onChange={(_, kind) => onOwn({ ...own, says: kind ? 'kind' : 'who' })}
          />
        }
        label="Hues say the kind of a change, not who made it"
      />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5 }}>
        {info.people
          .filter(({ id, is }) => id === is)
          .map(({ id, name, hue }) => (
            <Button
              key={id}
              color="inherit"
              disabled={own.says === 'kind'}
              aria-haspopup="menu"
              onClick={({ currentTarget }) => setAt({ element: currentTarget, person: id })}
              sx={{ fontWeight: 400, px: 1 }}
            >
              <span className="dot" style={{ background: hueOf(own.people[id] ?? hue, mode).line }} />
              {name}
            </Button>
          ))}
      </Box>
      <Menu
        anchorEl={at?.element}
        open={!!at}
        onClose={() => setAt(null)}
        transitionDuration={0}
        slotProps={{ list: { sx: { display: 'flex', px: 1 }, 'aria-label': 'A hue for your eyes' } }}
      >
        {Array.from({ length: howManyHues }, (_, hue) => (
          <button
            key={hue}
            type="button"
            role="menuitem"
            className="swatch"
            aria-label={`Hue ${hue + 1}`}
            style={{ background: hueOf(hue, mode).line }}
            onClick={() => {
              onOwn({ ...own, people: { ...own.people, [at!.person]: hue } });
              setAt(null);
            }}
          />
        ))}
      </Menu>
      {changed && (
        <Button color="inherit" onClick={() => onOwn(everyonesHues)} sx={{ color: 'text.secondary', px: 1 }}>
          As everyone has them
        </Button>
      )}
      <Box className="second">Kept in this browser only; nobody else sees it, and no file carries it.</Box>
    </>
  );
}
