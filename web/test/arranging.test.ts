import type { DeskLine } from '@tea-pencil/wire';
import { arranged, labelsOf, owedBy, usual } from '../src/desk/arranging';

/** In what order manuscripts lie on a desk. */

const line = (id: string, more: Partial<DeskLine> = {}): DeskLine => ({
  id,
  title: id,
  note: '',
  role: 'keeper',
  pending: 0,
  kinds: {},
  openThreads: 0,
  owed: [],
  spine: { parts: 1, strokes: [] },
  touchedAt: '2026-11-01T00:00:00.000Z',
  touchedBy: 'x',
  touchedByName: 'X',
  sealed: false,
  takesAway: true,
  archived: false,
  labels: [],
  ...more,
});
const owes = (answers: number, person = 'me') => ({ owed: [{ person, name: 'N', answers }] });
const ids = (lines: DeskLine[]) => lines.map(({ id }) => id);

test('answers that are waited for come first, then what can be decided, then what was touched last', () => {
  const lines = [
    line('old'),
    line('new', { touchedAt: '2026-11-20T00:00:00.000Z' }),
    line('decide, old', { pending: 1 }),
    line('decide, new', { pending: 900, touchedAt: '2026-11-20T00:00:00.000Z' }),
    line('one answer', owes(1)),
    line('two answers', owes(2)),
    line('another’s answer', owes(9, 'other')),
    line('not mine to decide', { pending: 5, role: 'proposer', touchedAt: '2026-11-10T00:00:00.000Z' }),
    line('sealed', { pending: 5, sealed: true, touchedAt: '2026-11-09T00:00:00.000Z' }),
  ];
  expect(ids(arranged(lines, usual, 'me'))).toEqual([
    'two answers',
    'one answer',
    'decide, new',
    'decide, old',
    'new',
    'not mine to decide',
    'sealed',
    'another’s answer',
    'old',
  ]);
  expect(owedBy(lines[5]!, 'me')).toBe(2);
});

test('by title numbers count as numbers; what is put away lies elsewhere; a label shows its own', () => {
  const lines = [
    line('10 · Gales', { labels: ['weather'] }),
    line('9 · Tides', { labels: ['weather', 'tides'] }),
    line('Foreword', { archived: true, labels: ['weather'] }),
  ];
  expect(ids(arranged(lines, { ...usual, order: 'title' }, 'me'))).toEqual(['9 · Tides', '10 · Gales']);
  expect(ids(arranged(lines, { ...usual, archived: true }, 'me'))).toEqual(['Foreword']);
  expect(ids(arranged(lines, { ...usual, label: 'tides' }, 'me'))).toEqual(['9 · Tides']);
  expect(labelsOf(lines)).toEqual([
    ['tides', 1],
    ['weather', 2],
  ]);
});

test('what was found is shown in the order in which it was found, put away or not', () => {
  const lines = [line('a'), line('b', { archived: true }), line('c')];
  expect(ids(arranged(lines, usual, 'me', ['c', 'b', 'gone']))).toEqual(['c', 'b']);
});

test('a hundred manuscripts in whatever order come out the same', () => {
  const lines = Array.from({ length: 100 }, (_, i) =>
    line(`m${i}`, { pending: i % 3, ...owes(i % 4), touchedAt: new Date(1e12 + (i % 7) * 1e6).toISOString() }),
  );
  const once = ids(arranged(lines, usual, 'me'));
  expect(ids(arranged([...lines].reverse(), usual, 'me'))).toEqual(once);
});
