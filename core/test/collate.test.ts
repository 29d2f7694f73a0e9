import fc from 'fast-check';
import type { Node } from 'prosemirror-model';
import { beforeReading, canonical, collate, fairReading, listChanges, schema } from '../src/index.js';
import { sharedKeys } from '../src/collating/shared.js';
import { documentOf, paragraph, recorded, someDocument, someEdit, stamps, table } from './support/editing.js';

const laid = (before: Node, after: Node) => collate(before, after, stamps()(0));
const changesOf = (before: Node, after: Node) =>
  listChanges(laid(before, after)).map(({ kind, before: was, after: now }) => [kind, was, now]);

/** A text without anything pending. */
const settled = fc
  .tuple(someDocument, fc.array(someEdit(3), { maxLength: 4 }))
  .map(([doc, script]) => fairReading(recorded(doc, script)));

/** Two texts, the later of which comes from the earlier or from nowhere. */
const somePair = fc.oneof(
  fc
    .tuple(settled, fc.array(someEdit(3), { maxLength: 8 }))
    .map(([before, script]): [Node, Node] => [before, fairReading(recorded(before, script))]),
  fc.tuple(settled, settled),
);

test('law 5: rejected it is the one text, accepted it is the other', () => {
  fc.assert(
    fc.property(somePair, ([before, after]) => {
      const doc = laid(before, after);
      doc.check();
      expect(canonical(beforeReading(doc))).toEqual(canonical(before));
      expect(canonical(fairReading(doc))).toEqual(canonical(after));
      for (const { author } of listChanges(doc)) expect(author).toBe('ann');
    }),
    { numRuns: Number(process.env.COLLATED ?? 300) },
  );
});

// What a copy editor would expect to see: common practice, no published source.
test.each<[string, string[], string[], [kind: string, before: string, after: string][]]>([
  ['a word', ['The tide comes in.'], ['The sea comes in.'], [['replacement', 'tide', 'sea']]],
  ['whole words', ['The colour fades.'], ['The color fades.'], [['replacement', 'colour', 'color']]],
  ['the ending of a word', ['Mind the spring tide here.'], ['Mind the spring tides here.'], [['insertion', '', 's']]],
  ['signs apart', ['The shell, which fades.'], ['The shell which fades.'], [['deletion', ',', '']]],
  ['a word that comes, with its space', ['Take a stick.'], ['Take a long stick.'], [['insertion', '', 'long ']]],
  ['words that go, with theirs', ['I like it a lot.'], ['I like it.'], [['deletion', ' a lot', '']]],
  ['a double space', ['low  water'], ['low water'], [['deletion', ' ', '']]],
  [
    'a rewritten sentence: one replacement',
    ['The wrack line is where the tide leaves what it carried. It is written twice a day.'],
    ['Twice a day the sea writes a line of weed and rubs it out. It is written twice a day.'],
    [
      [
        'replacement',
        'The wrack line is where the tide leaves what it carried',
        'Twice a day the sea writes a line of weed and rubs it out',
      ],
    ],
  ],
  [
    'two words of one sentence: two replacements',
    ['Look for the old man of the sea.'],
    ['Look for the young woman of the lake.'],
    [
      ['replacement', 'old man', 'young woman'],
      ['replacement', 'sea', 'lake'],
    ],
  ],
  [
    'a paragraph that goes',
    ['First.', 'Second paragraph here.', 'Third paragraph there.'],
    ['First.', 'Third paragraph there.'],
    [['deletion', '\nSecond paragraph here.', '']],
  ],
  [
    'a paragraph that is moved: one change with two ends',
    ['About weed.', 'Mind the tide, and never turn your back on it.', 'About shells.', 'The end of it.'],
    ['About weed.', 'About shells.', 'The end of it.', 'Mind the tide, and never turn your back on it.'],
    [['move', '\nMind the tide, and never turn your back on it.', '\nMind the tide, and never turn your back on it.']],
  ],
])('%s', (_, before, after, changes) => {
  expect(changesOf(documentOf(...before), documentOf(...after))).toEqual(changes);
});

test('words that have come to look otherwise are one change, however many pieces they are in', () => {
  const [bold, italic] = [schema.marks.bold!.create(), schema.marks.italic!.create()];
  const line = (...pieces: Node[]) => schema.nodes.doc!.create(null, schema.nodes.paragraph!.create(null, pieces));
  const before = line(
    schema.text('Mind '),
    schema.text('the '),
    schema.text('spring', [italic]),
    schema.text(' tide.'),
  );
  const after = line(
    schema.text('Mind '),
    schema.text('the ', [bold]),
    schema.text('spring', [bold, italic]),
    schema.text(' tide.'),
  );
  const [change, ...others] = listChanges(laid(before, after));
  expect([change!.kind, change!.before, others]).toEqual(['formatting', 'the spring', []]);
});

test('a table is laid beside itself by rows and cells; where it has other columns, it is replaced as a whole', () => {
  const doc = (rows: string[][]) => schema.nodes.doc!.create(null, [paragraph('Hours'), table(...rows), paragraph('')]);
  const was = doc([
    ['Mon', 'low water'],
    ['Tue', 'high water'],
  ]);
  const more = doc([
    ['Mon', 'low water'],
    ['Sun', 'slack water'],
    ['Tue', 'higher water'],
  ]);
  const wider = doc([
    ['Mon', 'low water', '9:40'],
    ['Tue', 'high water', '3:52'],
  ]);
  expect(listChanges(laid(was, more))).toHaveLength(2);
  expect(listChanges(laid(was, wider))).toHaveLength(1);
  for (const now of [more, wider]) expect(canonical(fairReading(laid(was, now)))).toEqual(canonical(now));
});

test('where something is pending it is not laid beside anything', () => {
  const pending = laid(documentOf('low'), documentOf('high'));
  for (const pair of [
    [pending, documentOf('low')],
    [documentOf('low'), pending],
  ] as const)
    expect(() => laid(...pair)).toThrow('Something is pending in one of the texts.');
});

test('two texts with nothing in common, and one with itself', () => {
  const [one, other] = [documentOf('Low water at nine.', 'Go.'), documentOf('Razor shells', 'Whelks', 'Cuttlebone')];
  expect(canonical(fairReading(laid(one, other)))).toEqual(canonical(other));
  expect(laid(one, one).eq(one)).toBe(true);
});

test('what two rows share is as long as can be (Myers 1986), and in order', () => {
  const row = fc.array(fc.integer({ min: 0, max: 4 }), { maxLength: 14 });
  fc.assert(
    fc.property(row, row, (a, b) => {
      const partner = [...sharedKeys(a, b, 100)];
      const found = partner.filter((there) => there >= 0);
      expect(found).toEqual([...new Set(found)].sort((x, y) => x - y));
      partner.forEach((there, here) => there < 0 || expect(b[there]).toBe(a[here]));
      // The table of R. A. Wagner and M. J. Fischer, “The String-to-String Correction Problem”, JACM 21 (1974).
      const longest = a.reduce(
        (above, key) =>
          b.reduce<number[]>(
            (line, other, j) => [...line, key === other ? above[j]! + 1 : Math.max(line[j]!, above[j + 1]!)],
            [0],
          ),
        Array.from({ length: b.length + 1 }, () => 0),
      );
      expect(found).toHaveLength(longest[b.length]!);
    }),
    { numRuns: 500 },
  );
});
