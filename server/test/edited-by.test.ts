import fc from 'fast-check';
import { editedBy } from '../src/drafts/beside-task';

/** Where the log says that somebody put something in: letter by letter, and as the drafts find it. */

const step = fc.record({
  at: fc.nat(30),
  gone: fc.nat(4),
  come: fc.nat(4),
  author: fc.constantFrom('ann', 'ben'),
  intent: fc.constantFrom('pencil', 'ink'),
});

test('every letter that was put in is within a place of whoever put it in, and no other letter is', () => {
  fc.assert(
    fc.property(fc.array(step, { maxLength: 12 }), (script) => {
      /** A text as letters that know who has written them. */
      let text: (string | null)[] = Array.from({ length: 30 }, () => null);
      const steps = script.map(({ at, gone, come, author, intent }) => {
        const from = Math.min(at, text.length);
        const size = Math.min(gone, text.length - from);
        const letters = Array.from({ length: come }, () => `${author} ${intent}`);
        text = [...text.slice(0, from), ...letters, ...text.slice(from + size)];
        return { ranges: size || come ? [from, size, come] : [], author, intent };
      });
      const places = editedBy(steps);
      const found: (string | null)[] = text.map(() => null);
      for (const { from, to, author, intent } of places)
        for (let i = from; i < to; i++) found[i] = `${author} ${intent}`;
      // What one hand has written around letters of its own run may be one place; nobody’s letters are taken for another’s.
      text.forEach((who, i) => who !== null && expect(found[i]).toBe(who));
      for (let i = 1; i < places.length; i++) expect(places[i]!.from).toBeGreaterThanOrEqual(places[i - 1]!.to);
    }),
    { numRuns: 500 },
  );
});
