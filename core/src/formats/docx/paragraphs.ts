import { attribute, child, elements, tag, type Element } from '../xml.js';
import { plainParagraph, type ParagraphProperties } from '../../manuscript/schema.js';
import type { Definitions } from './definitions.js';
import type { Piece } from '../kept/telling.js';
import { isOn } from './looks.js';
import { alignmentNames, alignments, indentStep, paragraphOrder, styleNames } from './names.js';

/** Properties of paragraphs (ISO/IEC 29500-1, 17.3.1), both ways. */

const val = (element: Element | undefined) => attribute(element, 'w:val');

/** What the properties say, and the XML that says more than a manuscript knows. */
export interface ReadParagraph {
  /** All but what is carried. */
  properties: ParagraphProperties;
  rest: string;
}

/** Elements of a paragraph’s mark that say who changes what; they are read elsewhere. */
const ofChanges = new Set(['w:ins', 'w:del', 'w:moveFrom', 'w:moveTo']);

function listOf(pPr: Element | undefined, definitions: Definitions): ParagraphProperties['list'] {
  const { list } = definitions.paragraphStyle(val(child(pPr, 'w:pStyle')));
  const numPr = child(pPr, 'w:numPr');
  const level = Math.min(8, Math.max(0, Number(val(child(numPr, 'w:ilvl')) ?? list?.level ?? 0) || 0));
  const numId = val(child(numPr, 'w:numId'));
  const kind = numId === undefined ? (list?.kind ?? null) : definitions.listKind(numId, level);
  return kind ? { kind, level } : null;
}

function stepsOf(ind: Element | undefined): number {
  const left = Number(attribute(ind, 'w:left') ?? attribute(ind, 'w:start') ?? 0) || 0;
  return Math.min(8, Math.max(0, Math.round(left / indentStep)));
}

/** Style, list, alignment, indentation and direction. */
export function readParagraphProperties(pPr: Element | undefined, definitions: Definitions): ParagraphProperties {
  const list = listOf(pPr, definitions);
  const bidi = child(pPr, 'w:bidi');
  return {
    ...plainParagraph,
    style: definitions.paragraphStyle(val(child(pPr, 'w:pStyle'))).style,
    direction: bidi ? (isOn(bidi) ? 'rtl' : 'ltr') : null,
    list,
    align: alignments[val(child(pPr, 'w:jc')) ?? ''] ?? null,
    indent: list ? 0 : stepsOf(child(pPr, 'w:ind')),
  };
}

/** Whether our way of writing the properties says all that an element of theirs says. */
function saysAll(element: Element, properties: ParagraphProperties, definitions: Definitions): boolean {
  const same = (xml: string) => tag(element.name, element.attributes) === xml;
  switch (element.name) {
    case 'w:pStyle':
      return properties.style !== 'body' && val(element) === styleId(properties.style, definitions);
    case 'w:numPr':
      return !!properties.list && definitions.isOwnList(val(child(element, 'w:numId')));
    case 'w:jc':
      return !!properties.align && same(alignXml(properties.align));
    case 'w:ind':
      return properties.indent > 0 && same(indentXml(properties.indent));
    case 'w:bidi':
      return true;
    default:
      return false;
  }
}

const alignXml = (align: NonNullable<ParagraphProperties['align']>) => tag('w:jc', { 'w:val': alignmentNames[align] });
const indentXml = (indent: number) => tag('w:ind', { 'w:left': indent * indentStep });
export const styleId = (style: ParagraphProperties['style'], definitions: Definitions): string | undefined =>
  definitions.idOf(style) ?? styleNames[style]?.id;

/** What the mark at the end of a paragraph looks like, without who changes it. */
function markLook(rPr: Element, slice: (element: Element) => string): string {
  let xml = '';
  for (const element of elements(rPr)) if (!ofChanges.has(element.name)) xml += slice(element);
  return xml && `<w:rPr>${xml}</w:rPr>`;
}

/** @param slice the XML of an element as it stands in its part */
export function readParagraph(
  pPr: Element | undefined,
  definitions: Definitions,
  slice: (element: Element) => string,
): ReadParagraph {
  const properties = readParagraphProperties(pPr, definitions);
  let rest = '';
  for (const element of elements(pPr)) {
    if (element.name === 'w:pPrChange') continue;
    if (element.name === 'w:rPr') rest += markLook(element, slice);
    else if (!saysAll(element, properties, definitions)) rest += slice(element);
  }
  return { properties, rest };
}

const place = new Map(paragraphOrder.map((name, i) => [`w:${name}`, i]));
const placeOf = (name: string) => place.get(name) ?? paragraphOrder.length;

/** What is needed to write the properties of a paragraph. */
export interface ParagraphSetting {
  definitions: Definitions;
  /** The number of a list of ours that an item of that kind is in, as XML. */
  numbering(kind: 'bullet' | 'number'): string;
}

/** Whether what an element of the file says is still so. */
function holds({ element }: Piece, now: ParagraphProperties, all: readonly Piece[], definitions: Definitions): boolean {
  switch (element.name) {
    case 'w:pStyle':
      return definitions.paragraphStyle(val(element)).style === now.style;
    case 'w:jc':
      return (alignments[val(element) ?? ''] ?? null) === now.align;
    case 'w:ind':
      return !!now.list || stepsOf(element) === now.indent;
    case 'w:numPr': {
      const numId = val(child(element, 'w:numId'));
      const level = now.list?.level ?? 0;
      if (numId === undefined) {
        const style = all.find((one) => one.element.name === 'w:pStyle');
        return definitions.paragraphStyle(val(style?.element)).list?.kind === now.list?.kind;
      }
      return definitions.listKind(numId, level) === (now.list?.kind ?? null);
    }
    default:
      return true;
  }
}

/** A list’s properties at another level of the same list. */
function atLevel({ element, xml }: Piece, level: number): string {
  const there = child(element, 'w:ilvl');
  if (Number(val(there) ?? 0) === level) return xml;
  const numId = val(child(element, 'w:numId'));
  return tag(
    'w:numPr',
    {},
    tag('w:ilvl', { 'w:val': level }) + (numId === undefined ? '' : tag('w:numId', { 'w:val': numId })),
  );
}

/**
 * The properties of a paragraph: what it is, and what its file says besides as long as it does not say otherwise.
 * @param rest that XML, read
 * @param mark who changes the mark at its end, as XML
 * @param former whether they are those it had before a pending change, which say nothing of mark and section
 */
export function writeParagraph(
  now: ParagraphProperties,
  rest: readonly Piece[],
  { definitions, numbering }: ParagraphSetting,
  { mark = '', change = '', former = false } = {},
): string {
  const pieces: { name: string; xml: string }[] = [];
  const add = (name: string, xml: string) => pieces.push({ name, xml });
  const kept = rest.filter((piece) => holds(piece, now, rest, definitions));
  const has = (name: string) => kept.some(({ element }) => element.name === name);
  let look = '';
  for (const piece of kept) {
    const { name } = piece.element;
    if (name === 'w:rPr') look = former ? '' : piece.xml.replace(/^<w:rPr[^>]*>|<\/w:rPr>$/g, '');
    else if (name === 'w:sectPr' && former) continue;
    else if (name === 'w:numPr' && now.list) add(name, atLevel(piece, now.list.level));
    else add(name, piece.xml);
  }
  const styled = kept.find(({ element }) => element.name === 'w:pStyle');
  const ofStyle = definitions.paragraphStyle(val(styled?.element) ?? styleId(now.style, definitions));
  if (!styled && now.style !== 'body') add('w:pStyle', tag('w:pStyle', { 'w:val': styleId(now.style, definitions) }));
  if (!has('w:numPr') && JSON.stringify(ofStyle.list) !== JSON.stringify(now.list)) {
    const id = now.list ? numbering(now.list.kind) : '0';
    const level = tag('w:ilvl', { 'w:val': now.list?.level ?? 0 });
    add('w:numPr', tag('w:numPr', {}, `${level}<w:numId w:val="${id}"/>`));
  }
  if (now.direction) add('w:bidi', tag('w:bidi', { 'w:val': now.direction === 'rtl' ? 1 : 0 }));
  if (now.indent && !has('w:ind')) add('w:ind', indentXml(now.indent));
  if (now.align && !has('w:jc')) add('w:jc', alignXml(now.align));
  if (mark || look) add('w:rPr', `<w:rPr>${mark}${look}</w:rPr>`);
  if (change) add('w:pPrChange', change);
  return pieces
    .sort((a, b) => placeOf(a.name) - placeOf(b.name))
    .map(({ xml }) => xml)
    .join('');
}
