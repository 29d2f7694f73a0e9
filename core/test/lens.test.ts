import { execFileSync } from 'node:child_process';
import fc from 'fast-check';
import {
  alikeKey,
  changeKinds,
  countChanges,
  everything,
  isAlike,
  isEverything,
  lensFilter,
  lensFromQuery,
  lensToQuery,
  listChanges,
  type Lens,
  type Seen,
  type Surroundings,
} from '../src/index.js';
import { authors, documentOf, recorded, someDocument, someEdit } from './support/editing.js';

const text = fc.constantFrom('one', 'One & two', 'ü=+&?#', 'x (2)');
const someLens: fc.Arbitrary<Lens> = fc.record({
  authors: fc.subarray(authors),
  kinds: fc.subarray([...changeKinds]),
  state: fc.constantFrom('pending', 'decided', 'both'),
  since: fc.constantFrom(null, '2026-11-02T09:00:00Z'),
  part: fc.option(text, { nil: null }),
  alike: fc.option(text, { nil: null }),
  discussed: fc.boolean(),
  naming: fc.option(fc.constantFrom(...authors), { nil: null }),
  owing: fc.option(fc.constantFrom(...authors), { nil: null }),
});

test('a lens goes through the address unharmed', () => {
  fc.assert(
    fc.property(someLens, (lens) => {
      // Outside check: what the WHATWG URL of Node makes of it.
      const { search } = new URL(`https://harrow.example/m/x?${lensToQuery(lens)}`);
      const back = lensFromQuery(search);
      expect({ ...back, authors: [...back.authors].sort() }).toEqual({ ...lens, authors: [...lens.authors].sort() });
      expect(isEverything(lens)).toBe(lensToQuery(lens) === '');
    }),
  );
});

test('what an address says that is no lens is left out', () => {
  const query = 'by=&kind=comma&kind=move&state=gone&since=then&discussed=maybe&by=ann';
  expect(lensFromQuery(query)).toEqual({ ...everything, kinds: ['move'], authors: ['ann'] });
});

const some = (id: string, more: Partial<Seen> = {}): Seen => ({
  id,
  kind: 'deletion',
  author: 'ann',
  date: '2026-11-02T09:00:00Z',
  before: id,
  after: '',
  was: {},
  now: {},
  whereabouts: { heading: 'Low water', section: ['The shore', 'Low water'], paragraph: 3 },
  ...more,
});

const around: Surroundings = {
  is: (author) => (author === 'file-ann' ? 'ann' : author),
  discussed: new Set(['c1', 'c3']),
  naming: (person) => new Set(person === 'cyd' ? ['c3'] : []),
  owing: (person) => new Set(person === 'ben' ? ['c1', 'c2'] : []),
};

test('each way of narrowing lets through what it names', () => {
  const all = [
    some('c1'),
    some('c2', { author: 'ben', kind: 'move', date: '2026-11-01T09:00:00Z' }),
    some('c3', { author: 'file-ann', decided: true }),
    some('c4', { whereabouts: { heading: 'Nets', section: ['Nets'], paragraph: 9 } }),
  ];
  const through = (narrow: Partial<Lens>) =>
    all.filter(lensFilter({ ...everything, ...narrow }, around)).map(({ id }) => id);
  expect(through({})).toEqual(['c1', 'c2', 'c3', 'c4']);
  expect(through({ authors: ['ann'] })).toEqual(['c1', 'c3', 'c4']);
  expect(through({ authors: ['file-ann'] })).toEqual(['c1', 'c3', 'c4']);
  expect(through({ kinds: ['move'] })).toEqual(['c2']);
  expect(through({ state: 'decided' })).toEqual(['c3']);
  expect(through({ state: 'pending' })).toEqual(['c1', 'c2', 'c4']);
  expect(through({ since: '2026-11-02T08:59:59Z' })).toEqual(['c1', 'c3', 'c4']);
  expect(through({ part: 'The shore' })).toEqual(['c1', 'c2', 'c3']);
  expect(through({ part: 'Low water', authors: ['ben'] })).toEqual(['c2']);
  expect(through({ discussed: true })).toEqual(['c1', 'c3']);
  expect(through({ naming: 'cyd' })).toEqual(['c3']);
  expect(through({ naming: 'ben' })).toEqual([]);
  expect(through({ owing: 'ben', authors: ['ann'] })).toEqual(['c1']);
  expect(through({ alike: alikeKey(all[0]!) })).toEqual(['c1']);
});

const scripts = fc.array(someEdit(3), { minLength: 1, maxLength: 12 });

// Outside check: every pair, by brute force.
test('two changes have the same key where they are the same edit, and nowhere else', () => {
  fc.assert(
    fc.property(someDocument, scripts, (doc, script) => {
      const changes = listChanges(recorded(doc, script));
      for (const a of changes) for (const b of changes) expect(alikeKey(a) === alikeKey(b)).toBe(isAlike(a, b));
    }),
    { numRuns: 200 },
  );
});

test('counts by author and by kind add up to all', () => {
  fc.assert(
    fc.property(someDocument, scripts, (doc, script) => {
      const changes = listChanges(recorded(doc, script));
      const counts = countChanges(changes, (author) => (author === 'ben' ? 'ann' : author));
      const sum = (numbers: Iterable<number>) => [...numbers].reduce((a, b) => a + b, 0);
      expect(sum(counts.byAuthor.values())).toBe(changes.length);
      expect(sum(counts.byKind.values())).toBe(changes.length);
      expect(counts.byAuthor.get('ann') ?? 0).toBe(changes.filter(({ author }) => author !== 'cyd').length);
      for (const kind of changeKinds)
        expect(counts.byKind.get(kind) ?? 0).toBe(changes.filter((change) => change.kind === kind).length);
    }),
    { numRuns: 200 },
  );
});

// Outside check: wc of the system (POSIX, "wc": a word is a string delimited by white space).
test('words added and removed are those that wc counts', () => {
  const wc = (words: string) => Number(execFileSync('wc', ['-w'], { input: words }).toString());
  const doc = documentOf('mermaids purses, the horned cases', 'in which skates lay  their eggs');
  const changes = listChanges(
    recorded(doc, [
      { by: 0, kind: 'cut', from: 1, to: 16, text: '', which: 0 },
      { by: 1, kind: 'type', from: 40, to: 46, text: 'the tide, twice', which: 0 },
    ]),
  );
  const { wordsAdded, wordsRemoved } = countChanges(changes);
  expect(wordsRemoved).toBe(wc(changes.map(({ before }) => before).join(' ')));
  expect(wordsAdded).toBe(wc(changes.map(({ after }) => after).join(' ')));
  expect(wordsAdded).toBeGreaterThan(0);
});
