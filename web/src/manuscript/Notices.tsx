import { Alert, Box, Button } from '@mui/material';
import { useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { counted as counting, kinds, type Loss } from '@tea-pencil/core';
import type { ManuscriptInfo } from '@tea-pencil/wire';
import { useLasting } from '../kit/use-lasting';
import type { NotTaken } from '../live/hearer';
import type { Kept, Synced } from '../live/synced-text';

/** What is said across the top of a manuscript. */

const connection: Partial<Record<Kept, string>> = {
  offline:
    'The connection to the server is lost. You can go on writing; your words stay in this window and are sent when it is back.',
  waiting:
    'The server cannot keep anything just now. You can go on writing; your words stay in this window and are sent again by themselves.',
};

/** A connection that is back at its first try moves nothing: the state in the bar tells of it. In milliseconds. */
const firstTry = 2000;

/** Why what is written is not kept yet; where the server says why, in its words. */
export function Connection({ kept, problem }: Pick<Synced, 'kept' | 'problem'>) {
  const isLost = useLasting(kept === 'offline', firstTry);
  const words = (kept === 'waiting' && problem) || (kept !== 'offline' || isLost ? connection[kept] : undefined);
  return words ? (
    <Alert severity="warning" icon={false} square sx={{ py: 0, justifyContent: 'center' }}>
      {words}
    </Alert>
  ) : null;
}

/** How a notice looks that is no warning. */
export const quietNotice = {
  py: 0.25,
  bgcolor: 'background.paper',
  color: 'text.primary',
  borderBottom: '1px solid',
  borderColor: 'divider',
} as const;

/** After a file has come in: what of it stands in the text, what is kept beside it, and what could not be kept. */
export function JustIn({ losses, carried, cameAs }: Pick<ManuscriptInfo, 'losses' | 'carried' | 'cameAs'>) {
  const location = useLocation();
  const navigate = useNavigate();
  if (!(location.state as { justIn?: boolean } | null)?.justIn) return null;
  const close = () => void navigate(location.pathname, { replace: true, state: null });
  return (
    <Alert severity="info" icon={false} square onClose={close} sx={quietNotice}>
      The file came in {losses.length ? '' : 'whole '}with its text, changes and comments.
      {losses.length > 0 && <> Not kept: {counted(losses)}.</>}
      {carried.length > 0 && (
        <Box component="details" sx={{ '& summary': { cursor: 'pointer' } }}>
          <summary>
            Carried as it came, and there again in copies as {kinds[cameAs ?? 'docx'].title}:{' '}
            {counting(
              carried.reduce((sum, { howMany }) => sum + howMany, 0),
              'thing',
            )}
          </summary>
          <Box sx={{ maxWidth: '90ch' }}>{counted(carried)}.</Box>
        </Box>
      )}
    </Alert>
  );
}

const times = (n: number) => (n === 1 ? 'once' : `${n.toLocaleString('en')} times`);
const counted = (losses: readonly Loss[]) =>
  losses.map(({ what, where, howMany }) => `${what} (${where}), ${times(howMany)}`).join('; ');

/** A text that had come to harm says so until one has read it. */
export function Mended({ id, mends }: { id: string; mends: Loss[] }) {
  const key = `mended ${id}`;
  const [read, setRead] = useState(() => Number(localStorage.getItem(key) ?? 0));
  if (mends.length <= read) return null;
  const close = () => {
    localStorage.setItem(key, String(mends.length));
    setRead(mends.length);
  };
  return (
    <Alert severity="warning" icon={false} square onClose={close} sx={{ py: 0.25 }}>
      This text had come to harm where it is kept, and was mended as well as could be: {counted(mends)}. Whatever was
      written before is still in its log.
    </Alert>
  );
}

/** What was not taken in, to be copied. */
export function Tray({ items, onClose }: { items: readonly NotTaken[]; onClose(): void }) {
  if (!items.length) return null;
  return (
    <Alert
      severity="warning"
      icon={false}
      square
      className="tray"
      action={
        <Button color="inherit" size="small" onClick={onClose}>
          Close
        </Button>
      }
    >
      <strong>Not taken in.</strong>
      {items.map(({ reason, words }, i) => (
        <Box key={i} sx={{ mt: 0.5 }}>
          {reason} {words && 'Your words, to copy:'}{' '}
          {words && (
            <Box className="serif tray-words" tabIndex={0} role="group" aria-label="Your words">
              {words}
            </Box>
          )}
        </Box>
      ))}
    </Alert>
  );
}
