import { Divider, Menu, MenuItem } from '@mui/material';
import { useState, type ReactNode } from 'react';
import type { Rights, Role } from '@tea-pencil/wire';
import { rightsWords, roles, roleWords } from '../api/queries';
import { useChoosing } from '../kit/use-choosing';

interface Props {
  /** What the button is called for those who do not see where it stands. */
  label: string;
  rights: Rights;
  /** The roles that can be chosen. */
  offered?: readonly Role[];
  /** Whether taking away and inviting can be chosen too. */
  more?: boolean;
  /**
   * @param part what was chosen; the rest stays as it is
   * @returns done once `rights` tells of it, or it was refused
   */
  onChoose(part: Partial<Rights>): Promise<unknown> | void;
  /** What else can be done from here. */
  children?: (close: () => void) => ReactNode;
}

/** What each role lets one do, for whoever chooses. */
const says: Record<Role, string> = {
  reader: 'reads, and nothing else',
  remarker: 'also comments and answers',
  proposer: 'also edits in pencil, and withdraws what is theirs',
  decider: 'also uses ink, accepts and rejects',
  keeper: 'also looks after people and settings',
};

/** What somebody may do, as words that open into a choice. */
export function RightsChoice({ label, rights: kept, offered = roles, more = true, onChoose, children }: Props) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const close = () => setAt(null);
  const [rights, set] = useChoosing(kept, onChoose);
  return (
    <>
      <button
        type="button"
        className="choice-word"
        aria-label={label}
        aria-haspopup="menu"
        aria-expanded={!!at}
        onClick={({ currentTarget }) => setAt(currentTarget)}
      >
        {rightsWords(rights)}
      </button>
      <Menu
        anchorEl={at}
        open={!!at}
        onClose={close}
        transitionDuration={0}
        slotProps={{ list: { 'aria-label': label } }}
      >
        {offered.map((role) => (
          <MenuItem
            key={role}
            role="menuitemradio"
            aria-checked={role === rights.role}
            selected={role === rights.role}
            aria-label={roleWords[role]}
            onClick={() => {
              close();
              if (role !== rights.role) set({ role });
            }}
          >
            {roleWords[role]}
            <span className="second" style={{ marginLeft: 10 }}>
              {says[role]}
            </span>
          </MenuItem>
        ))}
        {more && <Divider />}
        {more && (
          <MenuItem
            role="menuitemcheckbox"
            aria-checked={rights.takesAway}
            onClick={() => {
              close();
              set({ takesAway: !rights.takesAway });
            }}
          >
            {rights.takesAway ? '✓ ' : ''}may take files away
          </MenuItem>
        )}
        {more && rights.role !== 'keeper' && (
          <MenuItem
            role="menuitemcheckbox"
            aria-checked={rights.invites}
            onClick={() => {
              close();
              set({ invites: !rights.invites });
            }}
          >
            {rights.invites ? '✓ ' : ''}may invite others, to no more than they may themselves
          </MenuItem>
        )}
        {children && <Divider />}
        {children?.(close)}
      </Menu>
    </>
  );
}
