import type { ChangedThing } from '@tea-pencil/wire';

/** Words that the server did not take in, and why. */
export interface NotTaken {
  reason: string;
  words: string;
}

/** Who is told what the text cannot show by itself. */
export interface Hearer {
  notTaken(what: NotTaken): void;
  say(sentence: string): void;
  changed(what: ChangedThing): void;
  signedOut(): void;
}

/** Until somebody hears. */
export const nobody: Hearer = {
  notTaken: () => undefined,
  say: () => undefined,
  changed: () => undefined,
  signedOut: () => undefined,
};
