import { passagesOf, printOf, schema } from '@tea-pencil/core';
import type { LastLookState } from '@tea-pencil/wire';
import { chosenOf } from '../src/last-look/choosing';
import type { Found } from '../src/last-look/found';
import { proposalWords, remaining, sinceLast } from '../src/last-look/remaining';

/** Which findings remain, and how they are shown. */

const block = (text: string) => schema.nodes.paragraph.create(null, schema.text(text));
const found = (words: string, more: Partial<Found> = {}): Found => ({
  ...{ kind: 'spelling', from: 0, to: words.length, words, why: '', proposals: [], passage: 0, language: 'en-GB' },
  ...{ such: `spelling|en-GB|${words}`, key: `spelling|en-GB|${words}||`, block: block(words) },
  ...more,
});
const state = (more: Partial<LastLookState>): LastLookState => ({
  left: [],
  words: [],
  style: null,
  last: null,
  ...more,
});
const word = (text: string, language = 'en') => ({
  id: text,
  scope: 'house' as const,
  language,
  word: text,
  by: 'a',
  at: '',
});
const left = (key: string, all: boolean) => ({
  id: key,
  key,
  all,
  kind: 'spelling' as const,
  words: '',
  by: 'a',
  at: '',
});

test('a kept word is right with a capital and with what is put behind a name; in its language, and as it is kept', () => {
  const all = [
    found('tellin'),
    found('Tellin'),
    found('tellin’s'),
    found('tellins'),
    found('tellin', { language: 'de' }),
  ];
  expect(remaining(all, state({ words: [word('tellin')] })).map(({ words }) => words)).toEqual(['tellins', 'tellin']);
  expect(remaining([found('harrow'), found('Harrow')], state({ words: [word('Harrow')] }))).toHaveLength(1);
});

test('one finding is left, or all such; before anything is known all remain', () => {
  const all = [found('quoxel'), found('quoxel', { key: 'elsewhere' }), found('zibbet')];
  expect(remaining(all, undefined)).toHaveLength(3);
  expect(remaining(all, state({ left: [left(all[0]!.key, false)] }))).toHaveLength(2);
  expect(remaining(all, state({ left: [left(all[0]!.such, true)] })).map(({ words }) => words)).toEqual(['zibbet']);
});

test('what has changed since the last look, and what edits have brought in first', () => {
  const [old, fresh] = [found('old'), found('fresh', { change: 'c1' })];
  const last = { by: 'a', at: '', version: 1, prints: [printOf(passagesOf(old.block))] };
  expect(sinceLast([old, fresh], state({ last }))).toEqual([fresh]);
  expect(sinceLast([old, fresh], state({}))).toHaveLength(2);
  const look = { state: state({ last }), decisionOf: () => null };
  expect(chosenOf([old, fresh], { which: 'all', kind: null }, look)).toEqual({ broughtIn: [fresh], others: [old] });
  expect(chosenOf([old, fresh], { which: 'edits', kind: null }, look).others).toEqual([]);
  expect(chosenOf([old, fresh], { which: 'all', kind: 'spaces' }, look)).toEqual({ broughtIn: [], others: [] });
});

test('a proposal says what it is, also where its words do not show', () => {
  const texts = ['', ' ', '\u00a0', ' – ', 'the beach'].map((text) => proposalWords({ text }));
  expect(texts).toEqual(['Take it out', 'One space', 'A space that holds the line together', '“ – ”', 'the beach']);
  expect(proposalWords({ text: '', how: 'paragraph' })).toBe('Take it out');
  expect(proposalWords({ text: ')', says: 'at the end' })).toBe('at the end');
});
