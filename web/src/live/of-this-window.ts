import { enqueueSnackbar } from 'notistack';
import type { LiveText } from './live-text';
import { Staying } from './staying';

/** The texts of this window. */
export const texts = new Staying<LiveText>((sentence) => void enqueueSnackbar(sentence));

// Someone whose words or decisions are not kept yet is asked before the window goes.
addEventListener('beforeunload', (event) => {
  if (texts.holdsWords()) event.preventDefault();
});
