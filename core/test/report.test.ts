import { execFileSync } from 'node:child_process';
import fc from 'fast-check';
import { EditorState } from 'prosemirror-state';
import {
  formats,
  frequentEdits,
  frequentWords,
  inSentence,
  isSound,
  listChanges,
  plainText,
  praises,
  remarkOf,
  reportOf,
  type Thread,
  type ToReport,
} from '../src/index.js';
import { documentOf, recorded, someTextEdit, stamps } from './support/editing.js';
import { record } from '../src/index.js';
import type { Node } from 'prosemirror-model';

/** The changes of a text as a report takes them. */
const toReport = (doc: Node) =>
  listChanges(doc).map((change) => ({
    ...change,
    heading: null,
    state: 'pending' as const,
    decidedAt: null,
    sentence: inSentence(doc, change),
  }));

/** A text after edits: each finds words and has others in their place, as a change of its own. */
function edited(lines: readonly string[], edits: readonly [words: string, instead: string][]): Node {
  let state = EditorState.create({ doc: documentOf(...lines) });
  const stamp = stamps();
  for (const [words, instead] of edits) {
    let found = -1;
    state.doc.descendants((node, pos) => {
      const at = node.isText && !node.marks.length ? node.text!.indexOf(words) : -1;
      if (found < 0 && at >= 0) found = pos + at;
      return found < 0;
    });
    const { tr } = state;
    const common = [...words].findIndex((letter, i) => letter !== instead[i]);
    const same = common < 0 ? words.length : common;
    tr.insertText(instead.slice(same), found + same, found + words.length);
    state = state.apply(record(state, tr, { ...stamp(0), apart: true }));
  }
  return state.doc;
}

test('what was done again and again is told by the word it stands beside, each edit once, the most frequent first', () => {
  const lines = [
    'The weed which dries is red. The crab which hides is green. The shell which breaks is white.',
    'The net which tears is old. The tide and the moon. The kelp and the wind. Very cold. Very wet.',
  ];
  const doc = edited(lines, [
    ['weed which', 'weed, which'],
    ['crab which', 'crab, which'],
    ['shell which', 'shell, which'],
    ['net which', 'net, which'],
    ['tide and', 'tide, and'],
    ['kelp and', 'kelp, and'],
  ]);
  const frequent = frequentEdits(toReport(doc));
  expect(frequent.map((one) => [one.many, frequentWords(one)])).toEqual([
    [4, 'comma in, before “which”'],
    [2, 'comma in'],
  ]);
  const [first] = frequent;
  expect(first!.examples[0]!.after.map(({ text }) => text).join('')).toContain('weed, which');
});

test('of any text no edit is counted twice, and nothing is told that was made once', () => {
  fc.assert(
    fc.property(fc.array(someTextEdit(3), { maxLength: 12 }), fc.integer({ min: 1, max: 12 }), (script, most) => {
      const changes = toReport(recorded(documentOf('the tide x y', 'ab the tide, ab', 'x y ab'), script));
      const frequent = frequentEdits(changes, most);
      expect(frequent.length).toBeLessThanOrEqual(most);
      expect(frequent.reduce((sum, { many }) => sum + many, 0)).toBeLessThanOrEqual(changes.length);
      for (const { many, examples } of frequent) {
        expect(many).toBeGreaterThan(1);
        expect(examples.length).toBeGreaterThan(0);
      }
    }),
  );
});

const date = '2026-11-20T10:00:00Z';
const thread = (id: string, more: Partial<Thread>, words: string, query?: string): Thread => ({
  ...{ id, author: 'ann', date, quote: 'the weed', resolved: false },
  comments: [{ id: `c-${id}`, author: 'ann', date, body: remarkOf(words), ...(query && { query: { to: query } }) }],
  ...more,
});
const threads: Thread[] = [
  thread('t1', {}, 'Which weed?', 'ben'),
  thread('t2', { tint: 'sage', quote: 'written there twice a day' }, 'Well seen.'),
  thread('t3', { toSelf: true, tint: 'sage', quote: 'SECRET' }, 'SECRET too'),
  thread('t4', { resolved: true }, 'Done?', 'ben'),
  thread('t5', { tint: 'sky' }, 'A remark.'),
];
const report = (doc: Node): ToReport => ({
  title: 'The wrack line',
  date,
  changes: toReport(doc),
  threads,
  praise: new Set(threads.filter(praises).map(({ id }) => id)),
  is: (author) => author,
  nameOf: (person) => ({ ann: 'Ann Author', ben: 'Ben Author' })[person] ?? 'someone',
});

test('a report tells the counts, what is asked and what is praised, and no note to oneself', () => {
  const doc = edited(
    ['The weed which dries. The crab which hides.'],
    [
      ['weed which', 'weed, which'],
      ['crab which', 'crab, which'],
    ],
  );
  const made = reportOf(report(doc));
  expect(isSound(made, date)).toBe(true);
  expect(listChanges(made)).toEqual([]);
  const words = plainText(made);
  expect(words).toContain('Report on “The wrack line”');
  expect(words).toContain('2 changes by Ann Author 2:');
  expect(words).toMatch(/insertions\n2/);
  expect(words).toContain('“the weed” Ann Author asks Ben Author: Which weed?');
  expect(words).toContain('“written there twice a day” Well seen. (Ann Author)');
  for (const absent of ['SECRET', 'Done?', 'A remark.']) expect(words).not.toContain(absent);
  expect(plainText(reportOf({ ...report(doc), changes: [], threads: [] }))).toContain(
    'Nothing has been changed in this text.',
  );
});

// Outside check: pandoc (Debian) reads the report as DOCX, its headings and its tables.
test('a report is written as any text is', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(someTextEdit(2), { maxLength: 10 }), async (script) => {
      const made = reportOf(report(recorded(documentOf('the tide x y', 'ab the tide, ab'), script)));
      expect(isSound(made, date)).toBe(true);
      for (const name of ['docx', 'html', 'odt'] as const) {
        const file = await formats[name].write({ doc: made, people: [], threads: [], assets: [] });
        expect(plainText((await formats[name].read(file)).manuscript.doc)).toBe(plainText(made));
      }
    }),
    { numRuns: 10 },
  );
  const doc = edited(
    ['The weed which dries. The crab which hides.'],
    [
      ['weed which', 'weed, which'],
      ['crab which', 'crab, which'],
    ],
  );
  const file = await formats.docx.write({ doc: reportOf(report(doc)), people: [], threads: [], assets: [] });
  const native = execFileSync('pandoc', ['-f', 'docx', '-t', 'native'], { input: file }).toString();
  expect(native.match(/^\s*, Table|Table$/gm)?.length).toBe(2);
  expect(native).toMatch(/Header\s+1[\s\S]*"Queries"/);
  expect(native).toContain('Underline');
});
