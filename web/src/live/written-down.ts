import type { Store } from '../kit/store';
import { said } from '../kit/time';
import type { NotTaken } from './hearer';
import { parsed, setDown, type Notes } from './notes';
import { SharedTray } from './shared-tray';

/** A text of which what is not kept yet is written down. */
export interface Writable {
  readonly manuscript: string;
  readonly me: string;
  subscribe(listener: () => void): () => void;
  snapshot(): { kept: string };
  hasUnkept(): boolean;
  unkeptWords(): string;
}

/** How long after a change it is written down; what is kept by then never is. */
const pause = 1000;

/**
 * Words that are not kept yet are written down, on this machine and for this person, and survive their window: where it
 * ends before they are kept (it is closed without a connection, or comes down), they are handed over to be copied.
 */
export class WrittenDown {
  readonly #writing = new Set<() => void>();
  readonly #trays = new Map<string, SharedTray>();

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
      setDown(this.notes, key, words ? { words, at: new Date().toISOString() } : null);
    };
    const unfollow = text.subscribe(() => (timer ??= setTimeout(write, pause)));
    this.#writing.add(write);
    return () => {
      clearTimeout(timer);
      unfollow();
      this.#writing.delete(write);
      setDown(this.notes, key, null);
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
    if (!tray) this.#trays.set(key, (tray = new SharedTray(this.notes, key)));
    return tray.items;
  }

  /** Another window of this machine has written something down (WHATWG HTML, Web storage, the storage event). */
  heard = ({ key, oldValue, newValue }: Pick<StorageEvent, 'key' | 'oldValue' | 'newValue'>): void =>
    this.#trays.get(key ?? '')?.heard(oldValue, newValue);

  /** What windows that have ended had not kept is put in the tray. */
  async collect(me: string, manuscript: string): Promise<void> {
    const prefix = `waiting ${me} ${manuscript} `;
    const living = this.#keys(prefix).length ? await this.living() : null;
    if (!living) return;
    const found = this.#keys(prefix).flatMap((key): NotTaken[] => {
      const left = parsed<{ words: string; at: string }>(this.notes.getItem(key));
      const window = key.slice(prefix.length);
      if (window === this.window || living.has(window)) return [];
      setDown(this.notes, key, null);
      if (!left?.words) return [];
      const reason = `Written ${said(left.at)} in a window that ended before this was kept; see whether it stands in the text.`;
      return [{ reason, words: left.words }];
    });
    const tray = this.trayOf(me, manuscript);
    if (found.length) tray.set([...tray.get(), ...found]);
  }

  /** Nothing of somebody stays who has signed out. */
  forget(me: string): void {
    for (const key of [...this.#keys(`waiting ${me} `), ...this.#keys(`tray ${me} `)]) setDown(this.notes, key, null);
    for (const [key, tray] of this.#trays) if (key.startsWith(`tray ${me} `)) tray.items.set([]);
  }

  #keys(prefix: string): string[] {
    const { notes } = this;
    const all = Array.from({ length: notes.length }, (_, i) => notes.key(i) ?? '');
    return all.filter((key) => key.startsWith(prefix));
  }
}
