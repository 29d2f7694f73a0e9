import { Button, Menu, MenuItem, Tooltip } from '@mui/material';
import { useActs } from '../../commands/acts';
import { commandNamed } from '../../commands/table';
import { usePop } from '../../kit/focus';

interface Props {
  label: string;
  title: string;
  disabled: boolean;
  /** Names of commands in the table. */
  commands: readonly string[];
}

/** A menu of commands behind one quiet word. */
export function CommandMenu({ label, title, disabled, commands }: Props) {
  const acts = useActs();
  const { at, open, close, props, transition } = usePop();
  return (
    <>
      <Tooltip title={title}>
        <span>
          <Button
            color="inherit"
            aria-haspopup="menu"
            aria-expanded={!!at}
            disabled={disabled}
            onClick={open}
            sx={{ px: 0.9, py: 0.2, color: 'text.secondary' }}
          >
            {label}
          </Button>
        </span>
      </Tooltip>
      <Menu {...props} slotProps={{ transition }}>
        {commands.map((id) => (
          <MenuItem key={id} onClick={() => acts.choose(id, close)}>
            {commandNamed(id).name}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
