import { sameValue } from '@tea-pencil/core';
import { Store } from '../kit/store';
import type { NotTaken } from './hearer';
import { parsed, setDown, type Notes } from './notes';

type Items = readonly NotTaken[];

function itemsOf(text: string | null): Items {
  const items = parsed<NotTaken[]>(text);
  return Array.isArray(items) ? items : [];
}

/** Those of some items that are not among others. */
const without = (items: Items, others: Items): Items =>
  items.filter((item) => !others.some((other) => sameValue(item, other)));

/** A tray that all windows of one machine have in common: none writes over what another has put in it. */
export class SharedTray {
  readonly items: Store<Items>;
  /** What it was before the last change, and what of it is known to be written down. */
  #last: Items;
  #written: Items;

  constructor(
    readonly notes: Notes,
    readonly key: string,
  ) {
    this.#last = this.#written = itemsOf(notes.getItem(key));
    this.items = new Store(this.#last);
    this.items.subscribe(this.#write);
  }

  #write = (): void => {
    const now = this.items.get();
    if (now === this.#last) return;
    const there = itemsOf(this.notes.getItem(this.key));
    // What another window has closed meanwhile goes; what could not be written down stays in this one.
    const closed = [...without(this.#last, now), ...without(this.#written, there)];
    const all = [...without(there, closed), ...without(without(now, there), closed)];
    this.#last = all;
    this.#written = setDown(this.notes, this.key, all.length ? all : null) ? all : there;
    this.items.set(all);
  };

  /** Another window has changed it. */
  heard(oldValue: string | null, newValue: string | null): void {
    const [was, is] = [itemsOf(oldValue), itemsOf(newValue)];
    const now = this.items.get();
    const left = without(now, without(was, is));
    const come = without(without(is, was), left);
    this.#written = itemsOf(this.notes.getItem(this.key));
    this.#last = come.length || left.length < now.length ? [...left, ...come] : now;
    this.items.set(this.#last);
  }
}
