import { enqueueSnackbar } from 'notistack';
import { nanoid } from 'nanoid';
import type { LiveText } from './live-text';
import { Staying } from './staying';
import { WrittenDown } from './written-down';

const name = nanoid(12);
const lockOf = 'window of Tea Pencil ';

/** A window holds a lock as long as it lives (W3C, Web Locks API; only where the connection is secure, or the server is this machine). */
void navigator.locks?.request(`${lockOf}${name}`, () => new Promise(() => undefined));

async function living(): Promise<Set<string> | null> {
  const { held = [] } = (await navigator.locks?.query()) ?? { held: null };
  return (
    held && new Set(held.flatMap((lock) => (lock.name?.startsWith(lockOf) ? [lock.name.slice(lockOf.length)] : [])))
  );
}

/** What this window holds that is not kept yet. */
export const writtenDown = new WrittenDown(localStorage, name, living);

/** The texts of this window. */
export const texts = new Staying<LiveText>(
  (sentence) => void enqueueSnackbar(sentence),
  (text) => writtenDown.watch(text),
);

addEventListener('storage', writtenDown.heard);

// Someone whose words or decisions are not kept yet is asked before the window goes.
addEventListener('beforeunload', (event) => {
  if (texts.holdsWords()) event.preventDefault();
});

// A window that is not looked at may be ended at any time, and is not asked (W3C, Page Lifecycle).
addEventListener('pagehide', writtenDown.now);
document.addEventListener('visibilitychange', () => document.visibilityState === 'hidden' && writtenDown.now());
