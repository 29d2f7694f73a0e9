import {
  Autocomplete,
  Button,
  Chip,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Divider,
  Menu,
  MenuItem,
  TextField,
} from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { DeskLine, DeskPlace } from '@tea-pencil/wire';
import { request } from '../api/client';
import { keys } from '../api/keys';
import { useTrying } from '../api/use-asking';
import { usePop } from '../kit/focus';
import type { useTakeBack } from '../kit/use-take-back';
import { NameDialog } from './NameDialog';

interface Props {
  entry: DeskLine;
  /** Those one has given already. */
  labels: readonly string[];
  /** Says what was done, with a way back, though the line itself has gone. */
  sayDone: ReturnType<typeof useTakeBack>;
}

/** What one can do with a manuscript on one's desk. */
export function RowMenu({ entry, labels, sayDone }: Props) {
  const { id, title, role, archived, takesAway, sealed } = entry;
  const { open, close, props, transition } = usePop();
  const [dialog, setDialog] = useState<'name' | 'labels' | null>(null);
  const attempt = useTrying(keys.desk);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { enqueueSnackbar, closeSnackbar } = useSnackbar();
  const put = (place: DeskPlace) => attempt('PUT', `/manuscripts/${id}/desk`, place);
  const archive = async () => {
    if (await put({ archived: !archived }))
      sayDone(
        archived
          ? `“${title}” lies on your desk again.`
          : `“${title}” is put away from your desk; others have it as before.`,
        () => void put({ archived }),
      );
  };
  const remove = async () => {
    if (!(await attempt('DELETE', `/manuscripts/${id}`))) return;
    sayDone(
      `“${title}” is deleted for everyone. For thirty days its keepers can bring it back.`,
      () => void attempt('POST', `/deleted/${id}/back`),
    );
  };
  const copy = async () => {
    const key = enqueueSnackbar(`“${title}” is being copied …`, { persist: true });
    try {
      const made = await request<{ id: string }>('POST', `/manuscripts/${id}/copy`);
      await queries.invalidateQueries({ queryKey: keys.desk });
      closeSnackbar(key);
      sayDone(`There is a copy of “${title}”, yours alone.`, () => void navigate(`/m/${made.id}`), 'Open it');
    } catch (problem) {
      closeSnackbar(key);
      enqueueSnackbar((problem as Error).message);
    }
  };
  const keeper = role === 'keeper';
  return (
    <>
      <Button
        color="inherit"
        aria-label={`What can be done with ${title}`}
        aria-haspopup="menu"
        onClick={open}
        sx={{ px: 1, color: 'text.secondary', lineHeight: 1 }}
      >
        ⋯
      </Button>
      <Menu {...props} slotProps={{ transition, list: { 'aria-label': title } }}>
        {keeper && <MenuItem onClick={() => close(() => setDialog('name'))}>Rename …</MenuItem>}
        <MenuItem onClick={() => close(() => setDialog('labels'))}>Labels …</MenuItem>
        {takesAway && <MenuItem onClick={() => close(() => void copy())}>Copy</MenuItem>}
        <MenuItem onClick={() => close(() => void archive())}>{archived ? 'Back on the desk' : 'Put away'}</MenuItem>
        {keeper && <Divider />}
        {keeper && (
          <MenuItem disabled={sealed} onClick={() => close(() => void remove())}>
            {sealed ? 'Delete: lift the seal first' : 'Delete for everyone'}
          </MenuItem>
        )}
      </Menu>
      {dialog === 'name' && (
        <NameDialog
          title="Rename"
          value={title}
          button="Rename"
          onClose={() => setDialog(null)}
          onName={(next) => {
            setDialog(null);
            void attempt('PATCH', `/manuscripts/${id}`, { title: next });
          }}
        />
      )}
      {dialog === 'labels' && (
        <Labels
          entry={entry}
          known={labels}
          onClose={() => setDialog(null)}
          onKeep={(next) => {
            setDialog(null);
            void put({ labels: next });
          }}
        />
      )}
    </>
  );
}

interface LabelsProps {
  entry: DeskLine;
  known: readonly string[];
  onClose(): void;
  onKeep(labels: string[]): void;
}

/** One's own labels of a manuscript. */
function Labels({ entry, known, onClose, onKeep }: LabelsProps) {
  const [labels, setLabels] = useState([...entry.labels]);
  const [typed, setTyped] = useState('');
  const all = typed.trim() && !labels.includes(typed.trim()) ? [...labels, typed.trim()] : labels;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          onKeep(all);
        }}
      >
        <DialogTitle>Labels of “{entry.title}”</DialogTitle>
        <DialogContent>
          <Autocomplete
            multiple
            freeSolo
            options={known.filter((label) => !labels.includes(label))}
            value={labels}
            inputValue={typed}
            onInputChange={(_, next) => setTyped(next)}
            onChange={(_, next) =>
              setLabels([...new Set(next.map((label) => label.trim()).filter(Boolean))].slice(0, 20))
            }
            renderValue={(values, getItemProps) =>
              values.map((label, index) => {
                const { key, ...item } = getItemProps({ index });
                return <Chip key={key} size="small" label={label} {...item} />;
              })
            }
            renderInput={(input) => (
              <TextField
                {...input}
                autoFocus
                size="small"
                margin="dense"
                label="Labels"
                helperText="Your own: nobody else sees them. Enter ends one."
                slotProps={{ ...input.slotProps, htmlInput: { ...input.slotProps.htmlInput, maxLength: 40 } }}
              />
            )}
          />
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" variant="contained">
            Keep
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
