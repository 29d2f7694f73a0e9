import type { Transaction } from 'prosemirror-state';
import { intentOf } from './intents';

/** How long ink stays in hand before it goes back to pencil. */
export const inkMinutes = 10;
/** Ink for one edit goes back to pencil when the writer has paused that long, or has gone elsewhere. */
const oneEditPause = 5000;

/** Takes ink out of the hand again: after some minutes, or after one edit. */
export class PenClock {
  #timer: ReturnType<typeof setTimeout> | undefined;
  /** Whether ink was taken for one edit, and whether that has begun. */
  #oneEdit: 'wanted' | 'begun' | null = null;

  /** @param back called with the reason when the pencil comes back */
  constructor(private readonly back: (because: string) => void) {}

  stop(): void {
    clearTimeout(this.#timer);
    this.#oneEdit = null;
  }

  start(howLong: 'minutes' | 'one edit'): void {
    this.stop();
    if (howLong === 'one edit') this.#oneEdit = 'wanted';
    this.#in(inkMinutes * 60_000, `ink lasts ${inkMinutes} minutes.`);
  }

  /** Ink for one edit lasts while the writer goes on with it. */
  watch(tr: Transaction): void {
    if (!this.#oneEdit || tr.getMeta('remote') !== undefined) return;
    const because = 'ink was taken for one edit.';
    if (intentOf(tr) === 'ink' && tr.docChanged) {
      this.#oneEdit = 'begun';
      this.#in(oneEditPause, because);
    } else if (this.#oneEdit === 'begun' && tr.selectionSet) this.#in(0, because);
  }

  #in(time: number, because: string): void {
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => this.back(because), time);
  }
}
