import fc from 'fast-check';
import { Mapping, StepMap } from 'prosemirror-transform';
import { composed, mapOf, rangesOf } from '../src/index.js';

/** Maps that follow one another over a text of some length, each of one or two ranges. */
const someMaps = fc
  .array(fc.array(fc.tuple(fc.nat(60), fc.nat(4), fc.nat(4)), { minLength: 1, maxLength: 2 }), { maxLength: 25 })
  .map((all) => {
    let size = 40;
    return all.map((ranges) => {
      const flat: number[] = [];
      let end = 0;
      let grown = 0;
      for (const [at, before, after] of [...ranges].sort((a, b) => a[0] - b[0])) {
        const start = Math.max(end, at % (size + 1));
        const old = Math.min(before, size - start);
        if (start > size || (flat.length && start === end)) continue;
        flat.push(start, old, after);
        grown += after - old;
        end = start + old;
      }
      size += grown;
      return new StepMap(flat);
    });
  });

test('what nothing touched is where all maps one after the other put it', () => {
  let moved = 0;
  fc.assert(
    fc.property(someMaps, (maps) => {
      const all = new Mapping(maps);
      const one = mapOf(composed(maps.map(rangesOf)));
      for (let pos = 0; pos < 40; pos++) {
        const [start, end] = [all.mapResult(pos, 1), all.mapResult(pos + 1, -1)];
        // A letter lives on when nothing was cut out of it or put into it.
        let alive = true;
        let [from, to] = [pos, pos + 1];
        for (const map of maps) {
          map.forEach((a, b) => void (alive &&= b <= from || a >= to));
          [from, to] = [map.map(from, 1), map.map(to, -1)];
        }
        if (!alive) continue;
        moved++;
        // Asserted where it fails only: there are some hundred thousand.
        const [mappedFrom, mappedTo] = [one.map(pos, 1), one.map(pos + 1, -1)];
        if (mappedFrom !== start.pos || mappedTo !== end.pos)
          expect([mappedFrom, mappedTo]).toEqual([start.pos, end.pos]);
      }
    }),
    { numRuns: 2000 },
  );
  expect(moved).toBeGreaterThan(1000);
});

test('composing goes by parts as well as at once, and what touches is one range', () => {
  fc.assert(
    fc.property(someMaps, fc.nat(25), (maps, cut) => {
      const all = maps.map(rangesOf);
      const whole = composed(all);
      const map = mapOf(whole);
      const parts = new Mapping([composed(all.slice(0, cut)), composed(all.slice(cut))].map(mapOf));
      for (let pos = 0; pos < 40; pos++) {
        const touched = whole.some((start, i) => i % 3 === 0 && pos >= start && pos <= start + whole[i + 1]!);
        if (!touched && parts.map(pos) !== map.map(pos)) expect(parts.map(pos)).toBe(map.map(pos));
      }
      for (let i = 3; i < whole.length; i += 3) expect(whole[i]!).toBeGreaterThan(whole[i - 3]! + whole[i - 2]!);
    }),
    { numRuns: 1000 },
  );
});

test('letters typed one after the other are one range, however many', () => {
  const typed = Array.from({ length: 5000 }, (_, i) => [10 + i, 0, 1]);
  expect(composed(typed)).toEqual([10, 0, 5000]);
});
