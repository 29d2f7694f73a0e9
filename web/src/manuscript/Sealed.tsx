import { Tooltip } from '@mui/material';
import { useEffect, useRef } from 'react';
import { Link } from 'react-router';
import type { Seal } from '@tea-pencil/wire';
import { sealWords } from '../people/SealPart';
import { useOpened } from '../opened/opened';

/** Wax with the print of a signet in it. */
const Wax = () => (
  <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden>
    <circle cx="6" cy="6" r="5.6" fill="currentColor" />
    <path d="M6 3.2 8.4 6 6 8.8 3.6 6z" fill="none" stroke="var(--teaTint)" strokeWidth="1.1" />
  </svg>
);

/** That the manuscript is sealed, wherever in it one looks. */
export function SealMark({ seal, brief }: { seal: Seal; brief: boolean }) {
  const { info, me } = useOpened();
  const words = sealWords(seal);
  const mark = (
    <>
      <Wax />
      <span className={brief ? 'heard-only' : undefined}>Sealed</span>
    </>
  );
  return (
    <Tooltip title={words}>
      {me.guest ? (
        <span className="seal-mark">{mark}</span>
      ) : (
        <Link className="seal-mark" to={`/m/${info.id}/people`}>
          {mark}
        </Link>
      )}
    </Tooltip>
  );
}

/** Says when a seal is put on or lifted while one looks. */
export function SealTold() {
  const { info, say } = useOpened();
  const { seal } = info;
  const before = useRef(seal);
  useEffect(() => {
    const { current: was } = before;
    before.current = seal;
    if (!was && seal)
      say(
        `${seal.byName ?? 'Somebody'} has sealed this manuscript: everyone writes in pencil, and nothing is decided.`,
      );
    else if (was && !seal) say('The seal is lifted: those who may decide, decide again.');
  }, [seal, say]);
  return null;
}
