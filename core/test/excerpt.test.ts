import fc from 'fast-check';
import { firstWords, lastWords } from '../src/index';

const line = 'It comes ashore in one bank and buries the wrack line of the week before.';

test('what there is no room for is cut between words', () => {
  expect(lastWords(line, 18)).toBe('…the week before.');
  expect(firstWords(line, 18)).toBe('It comes ashore…');
  expect([lastWords(line, line.length), firstWords(line, Infinity)]).toEqual([line, line]);
});

test('an excerpt is an end of its text, no longer than asked, and never half a letter', () => {
  fc.assert(
    fc.property(fc.string({ unit: fc.constantFrom('a', ' ', '🦀', 'é') }), fc.nat(20), (text, most) => {
      const [end, beginning] = [lastWords(text, most).replace(/^…/, ''), firstWords(text, most).replace(/…$/, '')];
      expect(text.endsWith(end) && text.startsWith(beginning)).toBe(true);
      expect(Math.max(end.length, beginning.length)).toBeLessThanOrEqual(most);
      expect([end, beginning].every((part) => !/\p{Cs}/u.test(part))).toBe(true);
    }),
  );
});
