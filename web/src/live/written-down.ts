import { Store } from '../kit/store';
import { said } from '../kit/time';
import type { NotTaken } from './hearer';

/** A text of which what is not kept yet is written down. */
export interface Writable {
  readonly manuscript: string;
  readonly me: string;
  subscribe(listener: () => void): () => void;
  snapshot(): { kept: string };
  hasUnkept(): boolean;
  unkeptWords(): string;
}

/** What of the browser's own store is needed. */
export type Notes = Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>;

/** How long after a change it is written down; what is kept by then never is. */
const pause = 1000;

/** What is set down under a key, as JSON; null where there is none, or none that can be read. */
function read<T>(notes: Notes, key: string): T | null {
  try {
    return JSON.parse(notes.getItem(key) ?? 'null') as T | null;
  } catch {
    return null;
  }
}

/**
 * Words that are not kept yet are written down, on this machine and for this person, and survive their window: where it
 * ends before they are kept (it is closed without a connection, or comes down), they are handed over to be copied.
 */
export class WrittenDown {
  readonly #writing = new Set<() => void>();
  readonly #trays = new Map<string, Store<readonly NotTaken[]>>();

  /**
   * @param notes the browser's own store
   * @param window what this window is called among those of this machine
   * @param living the windows that have not ended; null where that cannot be known
   */
  constructor(
    readonly notes: Notes,
    readonly window: string,
    readonly living: () => Promise<ReadonlySet<string> | null>,
  ) {}

  /** Writes down what waits in a text, until the returned function is called: nothing waits in it any more. */
  watch(text: Writable): () => void {
    const key = `waiting ${text.me} ${text.manuscript} ${this.window}`;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const write = () => {
      clearTimeout(timer);
      timer = undefined;
      const words = text.snapshot().kept !== 'gone' && text.hasUnkept() ? text.unkeptWords() : '';
      this.#set(key, words ? { words, at: new Date().toISOString() } : null);
    };
    const unfollow = text.subscribe(() => (timer ??= setTimeout(write, pause)));
    this.#writing.add(write);
    return () => {
      clearTimeout(timer);
      unfollow();
      this.#writing.delete(write);
      this.#set(key, null);
    };
  }

  /** Writes down at once: the window may be about to end. */
  now = (): void => {
    for (const write of this.#writing) write();
  };

  /** What waits to be copied; it is kept until it has been. */
  trayOf(me: string, manuscript: string): Store<readonly NotTaken[]> {
    const key = `tray ${me} ${manuscript}`;
    let tray = this.#trays.get(key);
    if (!tray) {
      const items = read<NotTaken[]>(this.notes, key);
      const made = new Store<readonly NotTaken[]>(Array.isArray(items) ? items : []);
      made.subscribe(() => this.#set(key, made.get().length ? made.get() : null));
      this.#trays.set(key, (tray = made));
    }
    return tray;
  }

  /** What windows that have ended had not kept is put in the tray. */
  async collect(me: string, manuscript: string): Promise<void> {
    const prefix = `waiting ${me} ${manuscript} `;
    const living = this.#keys(prefix).length ? await this.living() : null;
    if (!living) return;
    const found = this.#keys(prefix).flatMap((key): NotTaken[] => {
      const left = read<{ words: string; at: string }>(this.notes, key);
      const window = key.slice(prefix.length);
      if (window === this.window || living.has(window)) return [];
      this.#set(key, null);
      if (!left?.words) return [];
      const reason = `Written ${said(left.at)} in a window that ended before this was kept; see whether it stands in the text.`;
      return [{ reason, words: left.words }];
    });
    const tray = this.trayOf(me, manuscript);
    if (found.length) tray.set([...tray.get(), ...found]);
  }

  /** Nothing of somebody stays who has signed out. */
  forget(me: string): void {
    for (const key of [...this.#keys(`waiting ${me} `), ...this.#keys(`tray ${me} `)]) this.#set(key, null);
    for (const [key, tray] of this.#trays) if (key.startsWith(`tray ${me} `)) tray.set([]);
  }

  #keys(prefix: string): string[] {
    const { notes } = this;
    const all = Array.from({ length: notes.length }, (_, i) => notes.key(i) ?? '');
    return all.filter((key) => key.startsWith(prefix));
  }

  #set(key: string, value: unknown): void {
    try {
      if (value !== null) this.notes.setItem(key, JSON.stringify(value));
      else if (this.notes.getItem(key) !== null) this.notes.removeItem(key);
    } catch {
      // A full or closed store keeps nothing; what is written stays in the window.
    }
  }
}
