import fc from 'fast-check';
import type { Signature } from '../src/index.js';
import { toEndings, toOpenings, type Boundary, type Styled } from '../src/formats/endings.js';
import { plainParagraph, type ParagraphProperties } from '../src/index.js';

const signature: Signature = { change: 'c1', author: 'ann', date: '2026-11-01T09:00:00Z' };
const body: ParagraphProperties = plainParagraph;
const heading: ParagraphProperties = { ...plainParagraph, style: 'heading1' };
const settled = (properties: ParagraphProperties): Styled => ({ fair: properties, before: properties, by: null });
const none: Boundary = { inserted: null, deleted: null };
const inserted: Boundary = { inserted: signature, deleted: null };
const deleted: Boundary = { inserted: null, deleted: signature };

test('without pending boundaries both say the same', () => {
  const paragraphs = [settled(heading), settled(body)];
  expect(toEndings(paragraphs, [none, none])).toEqual(paragraphs);
});

// ISO/IEC 29500-1, 17.13.5.20: when an inserted paragraph mark goes, the paragraph joins the one after it, whose
// properties stay. A heading split off a body paragraph must be body again once the split is rejected.
test('a paragraph that was split off tells, in the file, what it was before the split', () => {
  const endings = toEndings([settled(body), settled(heading)], [none, inserted]);
  expect(endings[1]).toEqual({ fair: heading, before: body, by: signature });
  expect(endings[0]).toEqual(settled(body));
});

// 17.13.5.15: when a deleted paragraph mark goes, the same.
test('a paragraph that would join the one above tells, in the file, that it will look like that one', () => {
  const endings = toEndings([settled(heading), settled(body)], [none, deleted]);
  expect(endings[1]).toEqual({ fair: heading, before: body, by: signature });
});

test('a foreign file: the earlier paragraph changes when the later one’s properties would win', () => {
  const openings = toOpenings([settled(heading), settled(body)], [none, deleted]);
  expect(openings[0]).toEqual({ fair: body, before: heading, by: signature });
  expect(openings[1]).toEqual(settled(body));
});

test('from openings to endings and back nothing is lost', () => {
  const properties = fc.constantFrom(body, heading, { ...body, align: 'center' as const });
  const boundary = fc.constantFrom(none, none, inserted, deleted);
  fc.assert(
    fc.property(fc.array(fc.record({ properties, boundary }), { minLength: 1, maxLength: 6 }), (paragraphs) => {
      const openings = paragraphs.map((paragraph) => settled(paragraph.properties));
      const boundaries = paragraphs.map((paragraph, k) => (k ? paragraph.boundary : none));
      expect(toOpenings(toEndings(openings, boundaries), boundaries)).toEqual(openings);
    }),
    { numRuns: 500 },
  );
});
