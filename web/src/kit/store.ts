import { useSyncExternalStore } from 'react';
import { Listeners } from './listeners';

/** A value that parts of the screen share and that changes often. Each part subscribes to the slice it shows. */
export class Store<T> {
  #value: T;
  readonly #listeners = new Listeners();

  constructor(value: T) {
    this.#value = value;
  }

  get = (): T => this.#value;

  set = (value: T): void => {
    if (Object.is(value, this.#value)) return;
    this.#value = value;
    this.#listeners.tell();
  };

  subscribe = this.#listeners.add;
}

/** The value of a store, or a slice of it, as it is now and whenever it changes. */
export function useStore<T>(store: Store<T>): T;
export function useStore<T, S>(store: Store<T>, slice: (value: T) => S): S;
export function useStore<T, S>(store: Store<T>, slice?: (value: T) => S): T | S {
  return useSyncExternalStore(store.subscribe, () => (slice ? slice(store.get()) : store.get()));
}
