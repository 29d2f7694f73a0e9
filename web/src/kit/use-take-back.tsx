import { Button } from '@mui/material';
import { useSnackbar, type SnackbarKey } from 'notistack';
import { useCallback, useEffect, useRef } from 'react';

/** Says what was done, with a way to take it back, or to have it otherwise; the offer goes when that in which it was done is closed. */
export function useTakeBack(): (sentence: string, takeBack: () => void, label?: string) => void {
  const { enqueueSnackbar, closeSnackbar } = useSnackbar();
  const offered = useRef(new Set<SnackbarKey>());
  useEffect(() => {
    const { current: all } = offered;
    return () => all.forEach((key) => closeSnackbar(key));
  }, [closeSnackbar]);
  return useCallback(
    (sentence, takeBack, label = 'Take back') => {
      const key = enqueueSnackbar(sentence, {
        autoHideDuration: 9000,
        onExited: () => void offered.current.delete(key),
        action: (
          <Button
            color="inherit"
            size="small"
            onClick={() => {
              // While it leaves it can still be clicked.
              if (!offered.current.delete(key)) return;
              closeSnackbar(key);
              takeBack();
            }}
          >
            {label}
          </Button>
        ),
      });
      offered.current.add(key);
    },
    [enqueueSnackbar, closeSnackbar],
  );
}
