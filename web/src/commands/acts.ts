import { createContext, useContext, useEffect } from 'react';
import type { Command } from 'prosemirror-state';
import { useHandler } from '../kit/use-handler';
import { commandNamed } from './table';

/** The text as commands need it. */
export interface Sheet {
  edit(command: Command): void;
  /** Puts the keyboard into the text. */
  toText(): void;
}

/** Carries commands out: by their edit, or by the part of the screen that has taken them on. */
export class Acts {
  readonly #taken = new Map<string, () => void>();

  constructor(readonly sheet: Sheet) {}

  /** Takes commands on, until the returned function is called. */
  take(handlers: Readonly<Record<string, () => void>>): () => void {
    for (const [id, act] of Object.entries(handlers)) this.#taken.set(id, act);
    return () => {
      for (const [id, act] of Object.entries(handlers)) if (this.#taken.get(id) === act) this.#taken.delete(id);
    };
  }

  /** Carries a command out, and leaves the keyboard where the table says. @returns whether anybody could */
  do = (id: string): boolean => {
    const { edit, then } = commandNamed(id);
    const act = this.#taken.get(id);
    if (act) act();
    else if (edit) this.sheet.edit(edit);
    else return false;
    if (then === 'text') this.sheet.toText();
    return true;
  };

  /**
   * Carries a command out that was chosen in what lies over the page. What it does to the text is done at once, by the hand
   * and at the place of that moment; what takes the keyboard, once the menu has gone.
   * @param close closes the menu: does the second at once, the first when it has gone
   */
  choose = (id: string, close: (gone: () => void, atOnce?: () => void) => void): void => {
    const { edit } = commandNamed(id);
    if (!edit || this.#taken.has(id)) return close(() => void this.do(id));
    close(this.sheet.toText, () => this.sheet.edit(edit));
  };
}

export const ActsContext = createContext<Acts | null>(null);

export function useActs(): Acts {
  const acts = useContext(ActsContext);
  if (!acts) throw new Error('Commands belong to an open manuscript.');
  return acts;
}

/** Takes commands on for as long as a part is there; each does what its newest drawing would. */
export function useCommands(handlers: Readonly<Record<string, () => void>>): void {
  const acts = useActs();
  const names = Object.keys(handlers).join('\n');
  const run = useHandler((id: string) => handlers[id]?.());
  useEffect(
    () =>
      acts.take(
        Object.fromEntries(
          names
            .split('\n')
            .filter(Boolean)
            .map((id) => [id, () => run(id)]),
        ),
      ),
    [acts, names, run],
  );
}
