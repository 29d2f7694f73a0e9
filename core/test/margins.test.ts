import fc from 'fast-check';
import { placeNotes, type Note } from '../src/index.js';

/** The least total displacement, found by trying every arrangement on a small grid. */
function bruteForce(notes: Note[], gap: number, top: number): number {
  const best = (i: number, from: number): number => {
    if (i === notes.length) return 0;
    let least = Infinity;
    for (let at = from; at <= top; at++) {
      least = Math.min(
        least,
        notes[i]!.weight! * Math.abs(at - notes[i]!.wanted) + best(i + 1, at + notes[i]!.height + gap),
      );
    }
    return least;
  };
  return best(0, -20);
}

// Outside check: exhaustive search.
test('notes do not overlap and stand as near to their lines as they can', () => {
  const note = fc.record({
    wanted: fc.integer({ min: 0, max: 8 }),
    height: fc.integer({ min: 1, max: 3 }),
    weight: fc.integer({ min: 1, max: 4 }),
  });
  fc.assert(
    fc.property(fc.array(note, { minLength: 1, maxLength: 3 }), fc.integer({ min: 0, max: 1 }), (notes, gap) => {
      const tops = placeNotes(notes, gap, -20);
      tops.forEach((top, i) => i && expect(top).toBeGreaterThanOrEqual(tops[i - 1]! + notes[i - 1]!.height + gap));
      const total = tops.reduce((sum, top, i) => sum + notes[i]!.weight * Math.abs(top - notes[i]!.wanted), 0);
      expect(total).toBe(bruteForce(notes, gap, 20));
    }),
    { numRuns: 150 },
  );
});

test('no note begins above the least', () => {
  expect(
    placeNotes(
      [
        { wanted: -50, height: 10 },
        { wanted: -50, height: 10 },
      ],
      2,
      0,
    ),
  ).toEqual([0, 12]);
});
