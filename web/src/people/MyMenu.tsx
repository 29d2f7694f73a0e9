import { IconButton, Menu, MenuItem, Tooltip } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { enqueueSnackbar } from 'notistack';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { request } from '../api/client';
import { usePop } from '../kit/focus';
import { typographicQuotes } from '../kit/preferences';
import { useStore } from '../kit/store';
import { unkept } from '../kit/unkept';
import { texts, writtenDown } from '../live/of-this-window';
import type { Self } from '@tea-pencil/wire';
import { hueOf } from '../theme/hues';
import { useMode } from '../theme/mode';
import { MyName } from './MyName';
import { Portrait } from './Portrait';

/** One's own portrait, with what concerns oneself: name, account, light or dark, signing out. */
export function MyMenu({ me, hue }: { me: Self; hue?: number | undefined }) {
  const { open, close, props, transition } = usePop();
  const [naming, setNaming] = useState(false);
  const { mode, setMode } = useMode();
  const quotes = useStore(typographicQuotes);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const isGuest = me.guest !== null;
  const warned = useRef(false);
  const signOut = async () => {
    if ((texts.holdsWords() || unkept.any()) && !warned.current) {
      warned.current = true;
      enqueueSnackbar(
        'Something you wrote is not kept yet and would be lost. Wait until it is, or sign out once more.',
      );
      return;
    }
    await request('POST', '/sign-out').catch(() => undefined);
    texts.forget();
    writtenDown.forget(me.id);
    unkept.forget();
    queries.clear();
    void navigate('/sign-in');
  };
  const go = (to: string) => () => close(() => void navigate(to));
  return (
    <>
      <Tooltip title={`You are ${me.name}`}>
        <IconButton size="small" aria-label={`${me.name}: name, theme and signing out`} onClick={open}>
          <span
            className="portrait"
            style={{ margin: 0, background: hue === undefined ? 'var(--graphite)' : hueOf(hue, mode).line }}
          >
            <Portrait person={me} />
          </span>
        </IconButton>
      </Tooltip>
      <Menu {...props} slotProps={{ transition }}>
        <MenuItem disabled>{isGuest ? `${me.name}, guest` : me.name}</MenuItem>
        <MenuItem onClick={() => close(() => setNaming(true))}>{isGuest ? 'My name' : 'Name and portrait'}</MenuItem>
        {!isGuest && <MenuItem onClick={go('/me')}>Password, sessions, leaving</MenuItem>}
        {!isGuest && <MenuItem onClick={go('/styles')}>House styles</MenuItem>}
        {me.keepsHouse && <MenuItem onClick={go('/house')}>The house and its people</MenuItem>}
        <MenuItem onClick={() => close(() => setMode(mode === 'light' ? 'dark' : 'light'))}>
          {mode === 'light' ? 'Dark theme' : 'Light theme'}
        </MenuItem>
        <MenuItem
          role="menuitemcheckbox"
          aria-checked={quotes}
          onClick={() => close(() => typographicQuotes.set(!quotes))}
        >
          {quotes ? 'Leave quotation marks straight' : 'Set quotation marks as the language does'}
        </MenuItem>
        <MenuItem onClick={() => void signOut()}>{isGuest ? 'Leave' : 'Sign out'}</MenuItem>
      </Menu>
      {naming && <MyName me={me} onClose={() => setNaming(false)} />}
    </>
  );
}
