import { Button } from '@mui/material';
import { useSnackbar } from 'notistack';
import { useCallback } from 'react';

/** Says what was done, with a way to take it back. */
export function useTakeBack(): (sentence: string, takeBack: () => void) => void {
  const { enqueueSnackbar, closeSnackbar } = useSnackbar();
  return useCallback(
    (sentence, takeBack) =>
      void enqueueSnackbar(sentence, {
        autoHideDuration: 9000,
        action: (key) => (
          <Button
            color="inherit"
            size="small"
            onClick={() => {
              closeSnackbar(key);
              takeBack();
            }}
          >
            Take back
          </Button>
        ),
      }),
    [enqueueSnackbar, closeSnackbar],
  );
}
