import fc from 'fast-check';
import type { Node } from 'prosemirror-model';
import { EditorState } from 'prosemirror-state';
import {
  beforeReading,
  correction,
  corrections,
  fairReading,
  findingKinds,
  listChanges,
  passagesOf,
  placesIn,
  plainText,
  record,
  schema,
  type Finding,
} from '../src/index.js';
import {
  documentOf,
  footnote,
  image,
  paragraph,
  recorded,
  someDocument,
  someEdit,
  stamps,
  table,
} from './support/editing.js';
import { blocksOf, lastLook, looked, placed, rule, styleOf, told } from './support/looking.js';

/** What is found in paragraphs. */
const found = (...texts: string[]) => told(looked(documentOf(...texts)).findings);
const of = (kind: Finding['kind'], ...texts: string[]) =>
  looked(documentOf(...texts)).findings.filter((one) => one.kind === kind);

test('a sentence with nothing wrong in it is left alone', () => {
  expect(
    found(
      'The tide, which comes in twice a day, had had its way (as it will); “mind the weed”, she said. It’s 3.5 km to the bay, e.g. by the path … and back.',
      'At 10.30 a.m. see https://example.org/tides?x=1,2 or write to post@example.org; cf. Smith et al., vol. 2.',
      'He asked: “Is it so?” and “why!” she cried.',
    ),
  ).toEqual([]);
});

test('words said twice, but not those that good sentences have twice', () => {
  expect(found('Look at the the shore.')).toEqual(['repeated: the the › the']);
  expect(found('He had had enough of that that day. The Walla Walla river.')).toEqual([]);
  const german = documentOf('Das sind die, die die Flut bringt, und und so weiter.');
  expect(told(looked(german, { language: 'de' }).findings)).toEqual(['repeated: und und › und']);
});

test('spaces doubled, lost, before punctuation, in brackets and at the ends', () => {
  expect(found('Two  spaces.', ' Begins.', 'Ends. ', 'Gone .', 'In ( brackets ) here.', 'Run,together here.')).toEqual([
    'spaces:    ›  ',
    'spaces:   › ',
    'spaces:   › ',
    'spaces:   › ',
    'spaces:   › ',
    'spaces:   › ',
    'spaces:  ›  ',
  ]);
});

test('French has a space before its signs, one that keeps the line together', () => {
  // Unicode CLDR and common practice of French setting: U+202F before ; ! ? and U+00A0 before : and ».
  const french = (text: string) => told(looked(documentOf(text), { language: 'fr' }).findings);
  expect(french('Vraiment ? Oui : « bien ».')).toEqual([
    'spaces:   › \u202f',
    'spaces:   › \u00a0',
    'spaces:   › \u00a0',
    'spaces:   › \u00a0',
  ]);
  expect(french('Vraiment\u202f? Oui\u00a0: «\u00a0bien\u00a0».')).toEqual([]);
  expect(french('La mer , enfin.')).toEqual(['spaces:   › ']);
});

test('two signs of punctuation together', () => {
  expect(found('The weed,, dry.', 'It came;, then went.', 'He came.. and went.')).toEqual([
    'punctuation: ,, › ,',
    'punctuation: ;, › ; / ,',
    'punctuation: .. › .',
  ]);
});

test('brackets and quotation marks that have lost their other half', () => {
  const words = (...texts: string[]) => of('pairs', ...texts).map((one) => one.words);
  expect(words('The weed (dry as it is.', 'Weed) lies here.', 'She said “no.', 'a) first (and last)')).toEqual([
    '(',
    ')',
    '“',
  ]);
  expect(words('He said "no.', 'It is 5" long and "good".')).toEqual(['"']);
  // Quoted words that run on over paragraphs: only the last ends.
  expect(words('“The first of it.', '“And the second.”')).toEqual([]);
  expect(words('Er sagte „nein“ und »ja«.', '»ja« sagte er «nein».')).toEqual([]);
});

test('sentences that have lost their end or their capital', () => {
  expect(found('It rains. the sea rises.')).toEqual(['sentence: the › The']);
  expect(found('It rains The sea rises.')).toEqual(['sentence: The › .  / the']);
  expect(found('the beach is long and it is wet at the far end of it.')).toEqual(['sentence: the › The']);
  const ending = found(
    'One paragraph that ends as it should, with a point.',
    'Another paragraph that ends as it should, with a point.',
    'A third paragraph that ends as it should, with a point.',
    'A fourth one that has lost its end to some edit',
  );
  expect(ending).toEqual(['sentence: edit › .']);
  // Where none ends with a point none has lost it: verse, say.
  expect(found('the tide goes out and leaves the weed behind', 'the tide comes in and takes the weed again')).toEqual(
    [],
  );
});

test('empty paragraphs, headings with nothing under them, and highlights', () => {
  const doc = schema.node('doc', null, [
    paragraph('The Shore', 'heading1'),
    paragraph(''),
    schema.node('paragraph', null, schema.text('lit', [schema.mark('highlight', { value: 'sea' })])),
    paragraph('', 'heading1'),
    paragraph('The End', 'heading1'),
  ]);
  expect(told(looked(doc).findings)).toEqual(['empty:  › ', 'highlight: lit › lit', 'empty:  › ', 'empty: The End › ']);
  expect(found('')).toEqual([]);
});

test('captions, headings and typed notes out of order, and references to what is gone', () => {
  const superscript = (n: string) => schema.text(n, [schema.mark('script', { value: 'super' })]);
  const doc = schema.node('doc', null, [
    paragraph('1. First', 'heading1'),
    paragraph('Table 1. Tides'),
    paragraph('Table 3. Winds'),
    paragraph('3. Third', 'heading1'),
    paragraph('See Table 2 and Table 3, Fig. 1, and note 2.'),
    schema.node('paragraph', null, [
      schema.text('Weed'),
      superscript('1'),
      schema.text(' and shell'),
      superscript('3'),
    ]),
    schema.node('paragraph', null, [schema.text('A note'), footnote('Of its own.'), schema.text('.')]),
  ]);
  const all = looked(doc).findings.filter(({ kind }) => kind === 'order' || kind === 'reference');
  expect(told(all)).toEqual([
    'order: 3 › 2',
    'order: 3 › 2',
    'reference: Table 2 › Table 1',
    'reference: Fig. 1 › ',
    'reference: note 2 › ',
    'order: 3 › 2',
  ]);
  // Without captions a table is one where there are so many.
  const plain = schema.node('doc', null, [paragraph('See Table 1 and Table 2.'), table(['a', 'b']), paragraph('x')]);
  expect(told(looked(plain).findings)).toEqual(['reference: Table 2 › ']);
  const pictured = schema.node('doc', null, [
    schema.node('paragraph', null, [schema.text('Figure 1 '), image('shore')]),
  ]);
  expect(of('reference', 'See Figure 1.')).toHaveLength(1);
  expect(looked(pictured).findings).toEqual([]);
});

test('links to places in the text that are not there', () => {
  const link = (href: string) => schema.text('here', [schema.mark('link', { href })]);
  const doc = schema.node('doc', null, [
    paragraph('The Wrack Line', 'heading1'),
    schema.node('paragraph', null, [
      link('#the-wrack-line'),
      schema.text(' and '),
      link('#nowhere'),
      link('https://example.org/#x'),
    ]),
  ]);
  expect(looked(doc).findings.map(({ kind, why }) => `${kind}: ${why}`)).toEqual([
    'link: This link leads to “nowhere”, which is not in this text.',
  ]);
});

test('what is written in two ways, with how often; either can be made of the other', () => {
  const doc = documentOf(
    'The wrack-line is long. The wrack-line, he said, lies here.',
    'Along the wrack line. A well-known bay is well known.',
    'Realise it; they realized it. “Curly” and "straight". Sea – weed – and sand—here. 5 km or 5km.',
  );
  const look = lastLook();
  const all = look.look(blocksOf(doc));
  const { inconsistencies } = all;
  const findings = placed(all);
  expect(inconsistencies.map(({ forms }) => forms.map(({ form, many }) => `${form} ${many}`).join(', '))).toEqual([
    ' –  2, — 1',
    '" " 2, “ ” 2',
    'wrack-line 2, wrack line 1',
    '5 km 1, 5km 1',
  ]);
  expect(told(findings.filter(({ kind }) => kind === 'variants' || kind === 'mixed'))).toEqual([
    'variants: wrack line › wrack-line',
    'mixed: “ › "',
    'mixed: ” › "',
    'mixed: — ›  – ',
    'variants:  › \u00a0',
  ]);
  const state = EditorState.create({ doc });
  const open = inconsistencies.find(({ what }) => what === '“wrack-line”')!;
  const swept = corrections(
    state,
    look.rewriting(open.such, 'wrack line').map((one) => ({ ...one, proposal: { text: one.text } })),
    stamps()(0),
  );
  expect(plainText(fairReading(swept.doc))).not.toContain('wrack-line');
  expect(plainText(beforeReading(swept.doc))).toBe(plainText(doc));
  expect(listChanges(swept.doc).map(({ id }) => id.replace(/^.*\./, ''))).toEqual(['1', '2']);
  // One spelling, of one word only.
  const spelt = looked(documentOf('They realise it and realized it. The grey and the gray seal. In a café or cafe.'));
  expect(spelt.inconsistencies.map(({ forms }) => forms.map(({ form }) => form).join(' '))).toEqual([
    'cafe café',
    'gray grey',
  ]);
});

test('what an edit has brought in says which; without the edit it is not there', () => {
  const doc = documentOf('The weed is dry.');
  const state = EditorState.create({ doc });
  const edited = record(state, state.tr.insertText('is ', 10), stamps()(0));
  const [one] = looked(edited.doc).findings;
  expect(one).toMatchObject({ kind: 'repeated', words: 'is is' });
  expect(one!.change).toBe(listChanges(edited.doc)[0]!.id);
  expect(looked(beforeReading(edited.doc)).findings).toEqual([]);
  const deleted = record(state, state.tr.delete(13, 16), stamps()(0));
  expect(looked(deleted.doc).findings).toMatchObject([{ kind: 'spaces', change: listChanges(deleted.doc)[0]!.id }]);
});

test('what stood there before the edit that touches it was not brought in by that', () => {
  const doc = documentOf('The seel is gray  and dry.');
  const state = EditorState.create({ doc });
  const edited = record(state, state.tr.insertText('grey', 13, 17), stamps()(0));
  expect(looked(edited.doc).findings).toMatchObject([{ kind: 'spaces' }]);
  expect(looked(edited.doc).findings[0]).not.toHaveProperty('change');
});

test('a proposal put in is no finding any more, and can be taken back', () => {
  const texts = ['Look at the the  shore , there.', '', 'It rains The sea,rises. the end,, here (so', 'Ends. '];
  const doc = documentOf(...texts);
  const pen = stamps()(0);
  let now = doc;
  for (let i = 0; i < 40; i++) {
    const next = looked(now).findings.find(({ proposals }) => proposals.length);
    if (!next) break;
    const state = EditorState.create({ doc: now });
    now = record(state, correction(state, { ...next, proposal: next.proposals[0]! }), pen).doc;
  }
  expect(plainText(fairReading(now))).toBe(
    'Look at the shore, there.\nIt rains. The sea, rises. The end, here (so)\nEnds.',
  );
  expect(plainText(beforeReading(now))).toBe(plainText(doc));
});

test('looking again at what has changed finds what looking anew at all does', () => {
  const style = styleOf(rule('words', 'x z', ['x y']), rule('expression', 'tides', ['tide(?= )']));
  fc.assert(
    fc.property(someDocument, fc.array(someEdit(3), { minLength: 1, maxLength: 6 }), (doc, script) => {
      const look = lastLook({ style });
      look.look(blocksOf(doc));
      for (let n = 1; n <= script.length; n++) {
        const now = recorded(doc, script.slice(0, n));
        expect(look.look(blocksOf(now))).toEqual(lastLook({ style }).look(blocksOf(now)));
      }
    }),
    { numRuns: 60 },
  );
});

test('whatever is found stands where it says, in the fair words; and every kind there is has been tried here', () => {
  fc.assert(
    fc.property(someDocument, fc.array(someEdit(3), { maxLength: 6 }), (doc, script) => {
      const now = recorded(doc, script);
      const fair = plainText(fairReading(now)).replaceAll('\u00a0', ' ');
      for (const { block, passage, from, to, words } of looked(now).findings) {
        const text = passagesOf(now.child(block))[passage]!.text;
        expect(text.slice(from, to)).toBe(words);
        let at = 0;
        for (let i = 0; i < block; i++) at += now.child(i).nodeSize;
        const places = placesIn(now.child(block), at, passage, from, to);
        const read = places.map((one) => signsIn(now, one.from, one.to)).join('');
        if (from !== to) expect(read).toBe(words.replaceAll('\n', '\ufffc'));
        if (!/[\n\ufffc]/.test(words)) expect(fair).toContain(words.replaceAll('\u00a0', ' '));
      }
    }),
    { numRuns: 150 },
  );
  expect(new Set(findingKinds).size).toBe(findingKinds.length);
});
/** The signs of a stretch; a note is one. */
function signsIn(doc: Node, from: number, to: number): string {
  let signs = '';
  doc.nodesBetween(from, to, (node, pos) => {
    if (node.isText) signs += node.text!.slice(Math.max(0, from - pos), to - pos);
    else if (node.isInline && pos >= from) signs += node.nodeSize <= to - pos ? '\ufffc' : '';
    return !(node.type.name === 'footnote' && pos >= from);
  });
  return signs;
}

test('every proposal of every finding can be recorded, and nothing of what was there is lost by it', () => {
  fc.assert(
    fc.property(someDocument, fc.array(someEdit(3), { maxLength: 5 }), (doc, script) => {
      const now = recorded(doc, script);
      const state = EditorState.create({ doc: now });
      for (const one of looked(now).findings)
        for (const proposal of one.proposals) {
          const put = record(state, correction(state, { ...one, proposal }), stamps()(2));
          put.doc.check();
          expect(plainText(beforeReading(put.doc))).toBe(plainText(beforeReading(now)));
        }
    }),
    { numRuns: 60 },
  );
});

test('a million letters in one paragraph, and nothing but spaces, come to an end', () => {
  for (const text of [
    'a'.repeat(1_000_000),
    ' '.repeat(200_000),
    '(“'.repeat(100_000),
    'a, '.repeat(100_000),
    '1,'.repeat(100_000),
    "'a".repeat(100_000),
  ])
    expect(looked(documentOf(text)).words).toBeGreaterThanOrEqual(0);
});
