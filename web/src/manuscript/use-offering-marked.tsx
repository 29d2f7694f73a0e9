import { Button } from '@mui/material';
import { useSnackbar } from 'notistack';
import { useEffect, useRef } from 'react';
import { useHandler } from '../kit/use-handler';
import { useLooking, useOpened } from '../opened/opened';

/** Offers to write in Marked where somebody would write in another reading. */
export function useOfferingMarked(): () => void {
  const { toText } = useOpened();
  const { look, setLook } = useLooking();
  const { enqueueSnackbar, closeSnackbar } = useSnackbar();
  /** Whether someone goes to Marked in order to write. */
  const writeNext = useRef(false);
  useEffect(() => {
    if (look.reading !== 'marked' || !writeNext.current) return;
    writeNext.current = false;
    toText();
  }, [look.reading, toText]);
  return useHandler(() => {
    enqueueSnackbar(`This is the ${look.reading} reading; nothing can be written in it.`, {
      key: 'reading',
      preventDuplicate: true,
      action: (key) => (
        <Button
          color="inherit"
          size="small"
          onClick={() => {
            closeSnackbar(key);
            writeNext.current = true;
            setLook({ ...look, reading: 'marked' });
          }}
        >
          Write in Marked
        </Button>
      ),
    });
  });
}
