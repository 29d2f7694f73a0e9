import type { Draft, Drafts, Moment, TimeLine } from '@tea-pencil/wire';
import { barsOf, stopsOf } from '../src/drafts/time-line';
import { deedOf, nameOfDraft, nameOfState, sinceWords } from '../src/drafts/words';

/** How drafts are called, and where they stand on the time line. */

const draft = (more: Partial<Draft> = {}): Draft => ({
  id: 'd',
  version: 4,
  at: '2026-11-02T09:00:00.000Z',
  name: null,
  reason: 'hand',
  before: null,
  keptBy: 'ines',
  note: '',
  facts: null,
  ...more,
});
const all = (drafts: Draft[], version = 10): Drafts => ({
  drafts,
  gone: [],
  version,
  at: '2026-11-03T09:00:00.000Z',
  began: '2026-11-01T09:00:00.000Z',
});
const nameOf = (id: string) => id.toUpperCase();

test('a draft is called by its name, by what it was kept before, or by why it was kept', () => {
  expect(nameOfDraft(draft({ name: 'round one' }))).toBe('round one');
  expect(nameOfDraft(draft({ reason: 'decisions', before: 'accepting 36 changes' }))).toBe(
    'before accepting 36 changes',
  );
  expect(nameOfDraft(draft({ reason: 'quiet' }))).toBe('in a quiet moment');
  const named = draft({ id: 'n', name: 'round one' });
  expect(nameOfState(all([draft(), named]), 4, undefined)).toBe('round one');
  expect(nameOfState(all([named], 4), 4, undefined)).toBe('as it is now');
});

test('what came and went, and what somebody did', () => {
  const facts = { words: 9, pending: 0, wordsCome: 1, wordsGone: 2, changesCome: 0, changesGone: 3, authors: [] };
  expect(sinceWords(draft({ facts }))).toBe('1 word came, 2 words went, 3 changes went');
  expect(sinceWords(draft())).toBe('being counted …');
  const moment: Moment = { version: 3, from: '', at: '', author: 'ines', intent: 'ink', come: 12, gone: 1 };
  expect(deedOf(moment, nameOf)).toBe('INES wrote in ink: 12 letters in, 1 letter out.');
  expect(deedOf({ ...moment, intent: 'decision' }, nameOf)).toBe('INES decided changes, or took decisions back.');
  expect(deedOf({ ...moment, intent: null }, nameOf)).toBe('Nothing had been done yet.');
});

const hour = 3_600_000;
const line: TimeLine = {
  from: '2026-11-01T09:00:00.000Z',
  to: '2026-11-03T09:00:00.000Z',
  width: hour,
  stretches: [
    { at: hour, version: 3, author: 'ines', intent: 'pencil', come: 40, gone: 0 },
    { at: hour, version: 5, author: 'maren', intent: 'ink', come: 0, gone: 10 },
    { at: 30 * hour, version: 10, author: 'ines', intent: 'decision', come: 0, gone: 0 },
  ],
};

test('the slider stops where something ends, in the order of the log, from the first to the newest', () => {
  // A draft whose clock was wrong stands where its version does.
  const stops = stopsOf(all([draft({ version: 4, at: '2026-12-24T09:00:00.000Z' })]), line, 48 * hour);
  expect(stops.map(({ version }) => version)).toEqual([0, 3, 4, 5, 10]);
  const places = stops.map(({ at }) => at);
  expect(places).toEqual([...new Set(places)].sort((a, b) => a - b));
  expect([places[0], places.at(-1)]).toEqual([0, 10_000]);
});

test('bars stand where somebody wrote; those of one stretch beside each other, and decisions have none', () => {
  const bars = barsOf(line, 48 * hour);
  expect(bars.map(({ author, ink }) => [author, ink])).toEqual([
    ['ines', false],
    ['maren', true],
  ]);
  expect(bars[1]!.x).toBeGreaterThan(bars[0]!.x);
  expect([bars[0]!.gone, bars[1]!.come]).toEqual([0, 0]);
});
