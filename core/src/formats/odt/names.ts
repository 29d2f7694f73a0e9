import type { Prefixes } from '../xml.js';

/** Names of OpenDocument 1.3 (ISO/IEC 26300; OASIS, part 3) and what they stand for in a manuscript. */

const oasis = 'urn:oasis:names:tc:opendocument:xmlns';

export const namespaces = {
  'xmlns:office': `${oasis}:office:1.0`,
  'xmlns:style': `${oasis}:style:1.0`,
  'xmlns:text': `${oasis}:text:1.0`,
  'xmlns:table': `${oasis}:table:1.0`,
  'xmlns:draw': `${oasis}:drawing:1.0`,
  'xmlns:fo': `${oasis}:xsl-fo-compatible:1.0`,
  'xmlns:xlink': 'http://www.w3.org/1999/xlink',
  'xmlns:dc': 'http://purl.org/dc/elements/1.1/',
  'xmlns:meta': `${oasis}:meta:1.0`,
  'xmlns:svg': `${oasis}:svg-compatible:1.0`,
  // What only we know; other programs pass over it (part 3, 22.3.2: extended documents).
  'xmlns:tp': 'urn:tea-pencil:1',
} as const;

export const prefixes: Prefixes = {
  ...Object.fromEntries(Object.entries(namespaces).map(([name, uri]) => [uri, name.slice(6)])),
  'http://www.w3.org/1998/Math/MathML': 'math',
  [`${oasis}:manifest:1.0`]: 'manifest',
};

/** The media types of texts and of patterns for texts (part 2, annex A; part 3, appendix C). */
export const textType = 'application/vnd.oasis.opendocument.text';
export const textTypes: ReadonlySet<string> = new Set([
  textType,
  `${textType}-template`,
  `${textType}-master`,
  `${textType}-web`,
]);

/** Our paragraph styles and what files call theirs (common practice, no published source). */
export const styleNames: Readonly<Record<string, string>> = {
  title: 'Title',
  heading1: 'Heading_20_1',
  heading2: 'Heading_20_2',
  heading3: 'Heading_20_3',
  heading4: 'Heading_20_4',
  heading5: 'Heading_20_5',
  heading6: 'Heading_20_6',
  quotation: 'Quotations',
  rule: 'Horizontal_20_Line',
};

/** The style of paragraphs that say nothing else, by where they stand (common practice, no published source). */
export type Where = 'text' | 'foot' | 'end';
export const plainNames: Readonly<Record<Where, string>> = { text: 'Standard', foot: 'Footnote', end: 'Endnote' };

/** One step of indentation in inches, and pixels in an inch (CSS). */
export const indentStep = 0.5;
export const pixelsInInch = 96;

const inches: Record<string, number> = { in: 1, cm: 1 / 2.54, mm: 1 / 25.4, pt: 1 / 72, pc: 1 / 6, px: 1 / 96 };

/** A length (part 3, 18.3.18) in inches; undefined where it is none. */
export function inchesOf(length: string | undefined): number | undefined {
  const [, number, unit] = /^(-?\d*\.?\d+)(in|cm|mm|pt|pc|px)$/.exec(length ?? '') ?? [];
  return number === undefined ? undefined : Number(number) * inches[unit!]!;
}
