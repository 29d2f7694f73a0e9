import fc from 'fast-check';
import type { Node } from 'prosemirror-model';
import { beforeReading, fairReading, placeInReading, placeInText } from '../src/index.js';
import { recorded, someText, someTextEdit } from './support/editing.js';

const scripts = fc.array(someTextEdit(2), { minLength: 1, maxLength: 8 });

/** Every letter that stands directly in a paragraph, with its position. */
function letters(doc: Node): { at: number; letter: string; marks: string[] }[] {
  const found: { at: number; letter: string; marks: string[] }[] = [];
  doc.descendants((node, pos) => {
    if (!node.isText) return;
    for (let i = 0; i < node.text!.length; i++)
      found.push({ at: pos + i, letter: node.text![i]!, marks: node.marks.map(({ type }) => type.name) });
  });
  return found;
}

test.each([
  ['accept', 'deletion', fairReading],
  ['reject', 'insertion', beforeReading],
] as const)('a letter that stays on %s is found in the reading, and from there in the text', (verdict, goes, read) => {
  fc.assert(
    fc.property(someText, scripts, (doc, script) => {
      const text = recorded(doc, script);
      const there = letters(read(text));
      const staying = letters(text).filter(({ marks }) => !marks.includes(goes));
      expect(staying.map(({ letter }) => letter).join('')).toBe(there.map(({ letter }) => letter).join(''));
      staying.forEach(({ at }, i) => {
        expect(placeInReading(text, at, verdict)).toBe(there[i]!.at);
        expect(placeInText(text, there[i]!.at + 1, verdict)).toBe(at + 1);
      });
    }),
    { numRuns: 60 },
  );
});

test('places never go back, and never leave the text', () => {
  fc.assert(
    fc.property(someText, scripts, (doc, script) => {
      const text = recorded(doc, script);
      const { size } = fairReading(text).content;
      let last = 0;
      for (let pos = 0; pos <= text.content.size; pos++) {
        const place = placeInReading(text, pos, 'accept');
        expect(place).toBeGreaterThanOrEqual(last);
        expect(place).toBeLessThanOrEqual(size);
        last = place;
      }
    }),
    { numRuns: 200 },
  );
});
