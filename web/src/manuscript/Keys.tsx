import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material';
import { useCommands } from '../commands/acts';
import { commands, keyWords, type Where } from '../commands/table';
import { usePopRule } from '../kit/focus';
import { useStore } from '../kit/store';
import { show, useOpened } from '../opened/opened';

const groups: [where: Where, title: string][] = [
  ['anywhere', 'Anywhere'],
  ['sheet', 'In the text'],
  ['read-through', 'In the read-through'],
  ['talk margin', 'In the talk margin'],
  ['last look', 'In the last look'],
];

/** The keys of one place, from the table of commands. */
function Group({ where, title }: { where: Where; title: string }) {
  return (
    <Box component="section" aria-label={title} sx={{ breakInside: 'avoid', mb: 2.5 }}>
      <Box sx={{ fontWeight: 600, mb: 1 }}>{title}</Box>
      {Object.entries(commands).map(
        ([id, { where: holds, key, says, name }]) =>
          key &&
          holds === where && (
            <Box key={id} sx={{ display: 'flex', gap: 1.5, py: 0.25 }}>
              <Box component="kbd" sx={{ width: 76, flex: 'none', font: 'inherit', fontWeight: 600 }}>
                {keyWords(key)}
              </Box>
              <span>{says ?? name}</span>
            </Box>
          ),
      )}
    </Box>
  );
}

/** All keys, each with what it does. */
export function Keys() {
  const opened = useOpened();
  const open = useStore(opened.panels, (all) => all.has('keys'));
  const { onExited } = usePopRule();
  useCommands({ keys: () => show(opened, 'keys') });
  const close = () => show(opened, 'keys', false);
  return (
    <Dialog
      open={open}
      onClose={close}
      maxWidth="md"
      fullWidth
      transitionDuration={0}
      slotProps={{ transition: { onExited } }}
    >
      <DialogTitle>Keys</DialogTitle>
      <DialogContent tabIndex={0} sx={{ columns: '250px 3', columnGap: 4 }}>
        {groups.map(([where, title]) => (
          <Group key={where} where={where} title={title} />
        ))}
      </DialogContent>
      <DialogActions>
        <Button variant="contained" onClick={close}>
          Done
        </Button>
      </DialogActions>
    </Dialog>
  );
}
