import fc from 'fast-check';
import type { Node } from 'prosemirror-model';
import { fairReading, stayed } from '../src/index.js';
import { authors, documentOf, recorded, someDocument, someEdit } from './support/editing.js';

const place = (doc: Node, words: string): number => {
  let at = -1;
  doc.descendants((node, pos) => {
    if (at < 0 && node.isText && node.text!.includes(words)) at = pos + node.text!.indexOf(words);
  });
  return at;
};

test('a place is where its words are, whatever came, went and was rewritten around it', () => {
  const before = documentOf(
    'The foreword.',
    'The tide came in late.',
    'Weed dries on the wall.',
    'The harbour sleeps.',
  );
  const after = documentOf(
    'A page that is new.',
    'The foreword.',
    'The spring tide came in much too late.',
    'The harbour sleeps.',
    'An end.',
  );
  const map = stayed(before, after);
  for (const words of ['The foreword', 'harbour', 'sleeps'])
    expect(map.map(place(before, words))).toBe(place(after, words));
  // Of a paragraph that was rewritten what stands around the new words; the words between are gone.
  expect(map.map(place(before, 'late'))).toBe(place(after, 'late'));
  expect(map.mapResult(place(before, 'came') + 2).deleted).toBe(true);
  // A paragraph that is gone: where it was.
  expect(map.map(place(before, 'dries'), -1)).toBe(place(after, 'The harbour') - 1);
});

test('nothing stands between the two halves of a sign', () => {
  // 😀 and 😁 begin with the same surrogate (Unicode, section 3.8).
  const map = stayed(documentOf('one 😀 two'), documentOf('one 😁 two'));
  const ranges: number[][] = [];
  map.forEach((...range) => void ranges.push(range));
  expect(ranges).toEqual([[5, 7, 5, 7]]);
});

test('law: places keep their order, and a letter that is taken to have stayed is the same letter', () => {
  const letter = (doc: Node, pos: number) => doc.resolve(pos).nodeAfter?.text?.[0] ?? null;
  const script = fc.array(someEdit(authors.length), { maxLength: 8 });
  let [same, letters] = [0, 0];
  fc.assert(
    fc.property(someDocument, script, fc.boolean(), (doc, edits, fair) => {
      const after = fair ? fairReading(recorded(doc, edits)) : recorded(doc, edits);
      const map = stayed(doc, after);
      expect(map.map(doc.content.size)).toBe(after.content.size);
      let last = 0;
      for (let pos = 0; pos <= doc.content.size; pos++) {
        const { pos: there, deletedAfter } = map.mapResult(pos, 1);
        expect(there).toBeGreaterThanOrEqual(last);
        last = there;
        const was = letter(doc, pos);
        if (was === null) continue;
        letters++;
        if (deletedAfter) continue;
        same++;
        expect(letter(after, there)).toBe(was);
      }
    }),
    { numRuns: 300 },
  );
  // Of small texts edited eight times, most letters stay.
  expect(same / letters).toBeGreaterThan(0.5);
});
