import { charted, mostRows, shownRows } from '../src/figures/charting';
import { countedRow } from '../src/figures/counted';
import type { Figure } from '@tea-pencil/core';
import type { Row } from '../src/ledger/rows';

/** What a chart shows is what its table says. */

// A browser has canvases; what they are filled with is looked at there.
beforeAll(() => {
  Object.assign(globalThis, {
    document: {
      createElement: () => ({
        getContext: () => new Proxy({}, { get: () => () => 'pattern', set: () => true }),
      }),
    },
  });
});

const figure = (name: Figure['name'], columns: string[], rows: Figure['rows']): Figure => ({ name, columns, rows });
const look = { mode: 'light' as const, hueOf: (person: string) => `hue of ${person}` };
const labelOf = ({ name }: { name: string }) => name;

test('a chart has a bar for each number of its table, in the hue of whose it is', () => {
  const authors = figure(
    'authors',
    ['to decide', 'accepted', 'rejected', 'withdrawn or removed'],
    [
      { name: 'Ann', person: 'ann', values: [1, 2, 3, 4] },
      { name: 'Ben', person: 'ben', values: [5, 6, 7, 8] },
    ],
  );
  const { data } = charted(authors, labelOf, look);
  expect(data.labels).toEqual(['Ann', 'Ben']);
  expect(data.datasets.map((set) => set.data)).toEqual([
    [1, 5],
    [2, 6],
    [3, 7],
    [4, 8],
  ]);
  for (const set of data.datasets) expect(set.borderColor).toEqual(['hue of ann', 'hue of ben']);
});

test('shares are of what was decided, and none where nothing was', () => {
  const verdicts = figure(
    'verdicts',
    ['accepted', 'rejected'],
    [
      { name: 'Ann', person: 'ann', values: [3, 1] },
      { name: 'Ben', person: 'ben', values: [0, 0] },
    ],
  );
  expect(charted(verdicts, labelOf, look).data.datasets.map((set) => set.data)).toEqual([
    [75, 0],
    [25, 0],
  ]);
});

test('a chart has no more rows than can be told apart, save those of time', () => {
  const rows = Array.from({ length: 40 }, (_, i) => ({ name: `Part ${i}`, values: [i, 0, 0, 0] }));
  const columns = ['to decide', 'accepted', 'rejected', 'withdrawn or removed'];
  expect(shownRows(figure('sections', columns, rows))).toEqual(rows.slice(0, mostRows));
  expect(charted(figure('sections', columns, rows), labelOf, look).data.labels).toHaveLength(mostRows);
  expect(shownRows(figure('growth', columns, rows))).toHaveLength(40);
});

test('a row of the ledger counts as what became of it', () => {
  const seen = { author: 'ann', kind: 'insertion', date: '2026-11-01T09:00:00Z', before: '', after: 'x' };
  const row = (decided: object | null) =>
    ({ seen: { ...seen, whereabouts: { heading: 'Tides' } }, decided }) as unknown as Row;
  const decidedAt = '2026-11-02T09:00:00Z';
  const states = [
    null,
    { verdict: 'accept', decidedAt },
    { verdict: 'reject', decidedAt },
    { verdict: null, decidedAt },
  ];
  expect(states.map((decided) => countedRow(row(decided)).state)).toEqual(['pending', 'accepted', 'rejected', 'gone']);
  expect(countedRow(row(states[1]!))).toMatchObject({ heading: 'Tides', decidedAt });
});
