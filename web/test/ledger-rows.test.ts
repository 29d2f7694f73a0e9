import { listChanges, remarkOf, schema, sentenceAround, type Change } from '@tea-pencil/core';
import { EditorState } from 'prosemirror-state';
import type { ManuscriptInfo } from '../src/api/queries';
import { csvOf, groupRows, rowsOf, sortRows, stateWords } from '../src/ledger/rows';
import { inHand } from '../src/live/intents';
import { talkOf } from '../src/reviewing/talk-of';

const people = [
  { id: 'ann', is: 'ann', name: 'Ann Low' },
  { id: 'cy', is: 'cy', name: 'Cy High' },
  { id: 'file-ann', is: 'ann', name: 'Ann Low' },
] as ManuscriptInfo['people'];
const info = { people } as ManuscriptInfo;

const lines = ['the tide comes in', 'the tide goes out', 'the sand is low'];
const doc = schema.nodes.doc.create(
  null,
  lines.map((line) => schema.nodes.paragraph.create(null, schema.text(line))),
);

/** Replaces a word in each of some paragraphs, in pencil. */
function replaced(edits: [line: number, word: string, by: string, author: string][]) {
  let state = EditorState.create({ doc });
  for (const [line, word, by, me] of edits) {
    let at = 0;
    state.doc.forEach((node, pos, i) => {
      if (i === line) at = pos + 1 + node.textContent.indexOf(word);
    });
    const tr = state.tr.insertText(by, at, at + word.length);
    state = state.apply(inHand(state, tr, { me, hand: 'pencil', mayInk: true })!);
  }
  return state.doc;
}
const changed = replaced([
  [0, 'tide', 'flood', 'ann'],
  [1, 'tide', 'flood', 'file-ann'],
  [2, 'low', 'wet', 'cy'],
]);
const changes = listChanges(changed);
const decided = {
  ...changes[0]!,
  id: 'old',
  number: 2,
  at: 3,
  verdict: 'accept' as const,
  state: 'accepted' as const,
  decidedBy: 'cy',
  decidedAt: '2026-11-02T10:00:00Z',
  decision: 'act',
  sentence: { before: [], after: [] },
};
const ledger = {
  numbers: changes.slice(0, 2).map(({ id }, i): [string, number] => [id, i * 2 + 1]),
  decided: [decided],
  arrived: [],
};
const rows = () => rowsOf(changes, ledger, new Map());

test('pending and decided changes are rows; the numbers of the server stand, a fresh change gets the next', () => {
  expect(rows().map(({ number, decided: past }) => [number, !!past])).toEqual([
    [1, false],
    [3, false],
    [4, false],
    [2, true],
  ]);
});

test('a change that is pending again is one row, not two', () => {
  const back = { ...decided, id: changes[0]!.id };
  expect(rowsOf(changes, { ...ledger, decided: [back] }, new Map())).toHaveLength(3);
});

test('rows are sorted by a column, and within it by place, both ways', () => {
  const by = (column: Parameters<typeof sortRows>[1], down = false) =>
    sortRows(rows(), column, down, info).map(({ number }) => number);
  expect(by('number')).toEqual([1, 2, 3, 4]);
  expect(by('number', true)).toEqual([4, 3, 2, 1]);
  expect(by('place')).toEqual([2, 1, 3, 4]);
  expect(by('author')).toEqual([2, 1, 3, 4]);
  expect(by('author', true)[0]).toBe(4);
});

test('alike changes of one author come together with how many they are; by author, whoever a file names is who they are', () => {
  const alike = groupRows(rows(), 'alike', info);
  expect(alike.map(({ title, rows: members }) => [title, members.length])).toEqual([
    ['tide → flood, 2 alike', 2],
    ['Not alike, 2', 2],
  ]);
  expect(groupRows(rows(), 'author', info).map(({ title }) => title)).toEqual(['Ann Low, 3', 'Cy High, 1']);
  expect(groupRows(rows(), 'section', info).map(({ title }) => title)).toEqual(['Before the first heading, 4']);
});

test('how a row stands is said from the reader’s side', () => {
  const last = rows().at(-1)!;
  expect(stateWords(last, info, 'cy')).toBe('accepted by you');
  expect(stateWords(last, info, 'ann')).toBe('accepted by Cy High');
  expect(stateWords({ ...last, decided: { ...decided, verdict: null, state: 'removed' } }, info, 'ann')).toBe(
    'removed with its words by Cy High',
  );
  expect(stateWords(rows()[0]!, info, 'ann')).toBe('to decide');
});

test('a note to oneself is in no file that is taken away; a comment for all is', () => {
  const comment = (words: string) => ({
    id: words,
    author: 'cy',
    date: '2026-11-02T10:00:00Z',
    body: remarkOf(words),
  });
  const thread = (id: string, toSelf: boolean) => ({
    id,
    author: 'cy',
    date: '2026-11-02T10:00:00Z',
    quote: '',
    change: changes[0]!.id,
    resolved: false,
    ...(toSelf && { toSelf }),
    comments: [comment(id)],
  });
  const threads = [thread('for all', false), thread('for me', true)] as unknown as Parameters<typeof talkOf>[1];
  const csv = csvOf(rowsOf(changes, ledger, talkOf(changes, threads, new Map())), changed, info);
  expect(csv).toContain('Cy High: for all');
  expect(csv).not.toContain('for me');
  expect(csv.trim().split(/\r?\n/)).toHaveLength(5);
});

test('threads are about the changes they begin on and those whose words they touch', () => {
  const [first, , third] = changes as [Change, Change, Change];
  const thread = (id: string, change?: string) =>
    ({ id, comments: [], ...(change && { change }) }) as unknown as Parameters<typeof talkOf>[1][number];
  const around = sentenceAround(changed, third);
  const found = talkOf(
    changes,
    [thread('a', first.id), thread('b'), thread('c')],
    new Map([
      ['b', [around]],
      // Touching at the edge alone is not on its words.
      ['c', [{ from: first.ranges[0]!.from - 2, to: first.ranges[0]!.from }]],
    ]),
  );
  expect([...found].map(([id, of]) => [id, of.map((one) => one.id)])).toEqual([
    [first.id, ['a']],
    [third.id, ['b']],
  ]);
});
