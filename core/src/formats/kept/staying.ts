/** Which blocks of a file stay as they are when it is written again, and where the others come between them. */

/** Which of the blocks stay as they are: none of a group of which one has changed. */
export function staying(found: (number | null)[], groups: readonly (readonly number[])[]): (number | null)[] {
  const stay = [...found];
  for (let changed = true; changed;) {
    changed = false;
    for (const group of groups) {
      if (group.every((k) => stay[k] === null) || group.every((k) => stay[k] !== null)) continue;
      for (const k of group) stay[k] = null;
      changed = true;
    }
  }
  return stay;
}

/** For each block where it came from: where it stayed; else, of those between two that stayed, the next one in order. */
export function placesOf(stay: readonly (number | null)[], howMany: number): (number | null)[] {
  const places = [...stay];
  let last = -1;
  let waiting: number[] = [];
  const fill = (to: number) => {
    waiting.forEach((k, n) => {
      if (last + 1 + n < to) places[k] = last + 1 + n;
    });
    waiting = [];
  };
  stay.forEach((i, k) => {
    if (i === null) waiting.push(k);
    else if (i > last) {
      fill(i);
      last = i;
    }
  });
  fill(howMany);
  return places;
}
