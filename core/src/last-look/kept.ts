/** Doing nothing twice: values that stay the same for as long as what they come from does. */

/** Something found in view of other things: the same again for as long as those are the same. */
export class Kept<T> {
  #of: readonly unknown[] | null = null;
  #value!: T;

  get(of: readonly unknown[], find: () => T): T {
    const same = this.#of?.every((one, i) => one === of[i]);
    if (!same) [this.#of, this.#value] = [of, find()];
    return this.#value;
  }
}

/** Several values together: the same object for as long as each is the same. */
export class Together<T extends object> {
  #last: T | null = null;

  same(now: T): T {
    const last = this.#last;
    const names = Object.keys(now) as (keyof T)[];
    return last && names.every((name) => last[name] === now[name]) ? last : (this.#last = now);
  }
}
