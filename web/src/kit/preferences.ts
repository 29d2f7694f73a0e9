import { Store } from './store';

/** What somebody prefers in this browser, whichever manuscript is open. */

/** A switch that is on until it is turned off. */
function remembered(key: string): Store<boolean> {
  const store = new Store(localStorage.getItem(key) !== 'off');
  store.subscribe(() => localStorage.setItem(key, store.get() ? 'on' : 'off'));
  return store;
}

/** Whether straight quotation marks that are typed become those of the language. */
export const typographicQuotes = remembered('typographic-quotes');

/** Whether words that no dictionary has are set off in the text. */
export const unknownWords = remembered('unknown-words');
