import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from '@mui/material';
import type { ManuscriptInfo } from '../api/queries';
import { Outsiders, outsidersOf } from './Outsiders';
import { useSetting } from '../api/use-setting';
import { usePopRule } from '../kit/focus';

/** Asks a keeper once, after a file has come in, who the people are that it names. */
export function WhoIsWho({ info }: { info: ManuscriptInfo }) {
  const set = useSetting(info.id);
  const unasked = outsidersOf(info).filter(({ asked }) => !asked);
  const done = async () => {
    // Who they are has been said where it was chosen, and may be newer than what is shown here.
    for (const { id } of unasked) await set('PATCH', `/outside/${id}`, { asked: true });
  };
  const { onExited, ...rule } = usePopRule();
  return (
    <Dialog
      open={info.role === 'keeper' && unasked.length > 0}
      onClose={() => void done()}
      fullWidth
      maxWidth="sm"
      {...rule}
      slotProps={{ transition: { onExited } }}
    >
      <DialogTitle>Who is who?</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 1.5 }}>
          The file names people who are not known here. Where one of them is one of this manuscript’s people, say so:
          their changes and comments then go under that name. Under “People” it can be changed at any time.
        </Typography>
        <Outsiders info={info} />
      </DialogContent>
      <DialogActions>
        <Button variant="contained" onClick={() => void done()}>
          That is who they are
        </Button>
      </DialogActions>
    </Dialog>
  );
}
