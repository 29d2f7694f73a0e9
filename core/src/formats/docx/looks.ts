import { attribute, child, elements, tag, type Element } from '../xml.js';
import { isLanguage, wordColours } from '../../manuscript/values.js';
import { sameValue, type Properties } from '../../manuscript/properties.js';
import type { Piece } from '../kept/telling.js';
import { shades } from '../kept/shades.js';
import type { Definitions } from './definitions.js';
import { runOrder, toggles } from './names.js';

/** How words look: the properties of a run (ISO/IEC 29500-1, 17.3.2) as properties of words, and back. */

const val = (element: Element | undefined) => attribute(element, 'w:val');
export const isOn = (element: Element): boolean => !['0', 'false', 'off', 'none'].includes(val(element) ?? 'true');

/** The highlights of the standard (17.18.40) as ours; ours are written as the first of each. */
const highlights = {
  tea: ['yellow', 'darkYellow'],
  plum: ['magenta', 'red', 'darkMagenta', 'darkRed'],
  sea: ['cyan', 'blue', 'darkCyan', 'darkBlue'],
  moss: ['green', 'darkGreen'],
} as const;
const highlightOf = (name: string | undefined) =>
  Object.entries(highlights).find(([, names]) => (names as readonly string[]).includes(name ?? ''))?.[0] ?? null;

/** Whether two values of a property are the same, none counting as null. */
export const alike = (a: unknown, b: unknown): boolean => sameValue(a ?? null, b ?? null);

/** The size of half points, where words can have it. */
const sizeOf = (halfPoints: string | undefined) => {
  const size = Number(halfPoints) / 2;
  return size >= 4 && size <= 96 ? size : null;
};

function colourOf(element: Element): string | null {
  const hex = val(element)?.toLowerCase() ?? '';
  const name = attribute(element, 'tp:colour') as keyof typeof shades | undefined;
  if (name && wordColours.includes(name) && shades[name] === hex) return name;
  return /^[0-9a-f]{6}$/.test(hex) ? `#${hex}` : null;
}

/** Whether we said a value though the style says the same. */
const isOwn = (element: Element) => attribute(element, 'tp:own') !== undefined;

/** What one element says of words; undefined where it speaks of nothing that words can have. */
function readOne(
  element: Element,
  { language }: { language?: string | undefined } = {},
): [name: string, value: unknown] | undefined {
  const { name } = element;
  const toggle = Object.hasOwn(toggles, name) ? toggles[name] : undefined;
  if (toggle) return [toggle, isOn(element) ? true : null];
  if (name === 'w:u') return ['underline', val(element) !== undefined && isOn(element) ? true : null];
  if (name === 'w:color') return ['colour', colourOf(element)];
  if (name === 'w:sz') {
    const exact = Number(attribute(element, 'tp:size'));
    return ['size', Math.round(exact * 2) === Number(val(element)) ? exact : sizeOf(val(element))];
  }
  if (name === 'w:highlight') return ['highlight', highlightOf(val(element))];
  if (name === 'w:vertAlign') return ['script', { superscript: 'super', subscript: 'sub' }[val(element) ?? ''] ?? null];
  if (name === 'w:lang') {
    const tongue = val(element);
    return ['language', isLanguage(tongue) && (tongue !== language || isOwn(element)) ? tongue : null];
  }
  return undefined;
}

/**
 * The element that gives words a value of a property; null takes away what their style gives.
 * @param own whether it is said though the style gives the same
 */
function writeOne(name: string, value: unknown, own = false): string {
  const on = value !== null;
  const mark = { 'tp:own': own ? 1 : undefined };
  if (name === 'bold' || name === 'italic' || name === 'strike')
    return tag({ bold: 'w:b', italic: 'w:i', strike: 'w:strike' }[name], on ? {} : { 'w:val': 0 });
  if (name === 'underline') return tag('w:u', { 'w:val': on ? 'single' : 'none' });
  if (name === 'colour') {
    const exact = String(value).replace('#', '');
    const named = Object.hasOwn(shades, exact) ? exact : undefined;
    const hex = shades[exact as keyof typeof shades] ?? exact;
    return tag('w:color', { 'w:val': on ? hex.toUpperCase() : 'auto', 'tp:colour': named, ...mark });
  }
  if (name === 'size') {
    const half = Math.round(Number(value) * 2);
    const exact = half === Number(value) * 2 ? undefined : Number(value);
    return on ? tag('w:sz', { 'w:val': half, 'tp:size': exact, ...mark }) : '';
  }
  if (name === 'highlight')
    return tag('w:highlight', { 'w:val': on ? highlights[value as keyof typeof highlights][0] : 'none' });
  if (name === 'script')
    return tag('w:vertAlign', { 'w:val': on ? (value === 'super' ? 'superscript' : 'subscript') : 'baseline' });
  if (name === 'language') return on ? tag('w:lang', { 'w:val': String(value), ...mark }) : '';
  return '';
}
const written = ['bold', 'italic', 'strike', 'colour', 'size', 'highlight', 'underline', 'script', 'language'];

/** What some run properties say of words directly, their style left aside. */
export function directLook(rPr: Element | undefined): Properties {
  const found: Properties = {};
  for (const element of elements(rPr)) {
    const one = readOne(element);
    if (one) found[one[0]] = one[1];
  }
  return found;
}

/** Elements that say who changes what; they are read elsewhere. */
const ofChanges = new Set(['w:ins', 'w:del', 'w:moveFrom', 'w:moveTo', 'w:rPrChange']);

const givenBy = (name: string, value: unknown, ofParagraph: Properties): boolean =>
  (name === 'size' || name === 'colour') && alike(value, ofParagraph[name]);

/** What one element says of words, where their paragraph’s style does not say the same already. */
function readOwn(element: Element, definitions: Definitions, ofParagraph: Properties): [string, unknown] | undefined {
  const one = readOne(element, definitions);
  return one && givenBy(...one, ofParagraph) && !isOwn(element) ? [one[0], null] : one;
}

/** What words look like, and the XML that says more than a manuscript knows. */
export interface Look {
  properties: Properties;
  rest: string;
}

/** Whether our way of writing a value says all that an element says. */
function saysAll(element: Element, [name, value]: [string, unknown]): boolean {
  if (Object.hasOwn(toggles, element.name)) return true;
  // How the number of a note of ours is set.
  if (element.name === 'w:vertAlign' && isOwn(element)) return true;
  if (value === null) return false;
  return tag(element.name, element.attributes).toLowerCase() === writeOne(name, value, isOwn(element)).toLowerCase();
}

/**
 * @param slice the XML of an element as it stands in its part
 * @param ofParagraph the look of words in paragraphs of that style
 */
export function readLook(
  rPr: Element | undefined,
  definitions: Definitions,
  ofParagraph: Properties,
  slice: (element: Element) => string,
): Look {
  if (!rPr) return { properties: {}, rest: '' };
  const properties: Properties = { ...definitions.characterStyle(val(child(rPr, 'w:rStyle'))) };
  let rest = '';
  for (const element of elements(rPr)) {
    if (ofChanges.has(element.name)) continue;
    const one = readOwn(element, definitions, ofParagraph);
    if (one) properties[one[0]] = one[1];
    if (!one || !saysAll(element, one)) rest += slice(element);
  }
  for (const name of Object.keys(properties)) if (properties[name] === null) delete properties[name];
  return { properties, rest };
}

const place = new Map(runOrder.map((name, i) => [`w:${name}`, i]));
const placeOf = (name: string) => place.get(name) ?? runOrder.length;

/**
 * The properties of a run: what words are, and what their file says besides as long as it does not say otherwise.
 * @param rest that XML, read
 */
export function writeLook(
  properties: Properties,
  rest: readonly Piece[],
  definitions: Definitions,
  ofParagraph: Properties,
): string {
  if (!rest.length && !written.some((name) => properties[name] !== undefined && properties[name] !== null)) return '';
  const style = rest.find(({ element }) => element.name === 'w:rStyle');
  const ofStyle = style ? definitions.characterStyle(val(style.element)) : {};
  const said = new Set<string>();
  const pieces: { name: string; xml: string }[] = [];
  for (const { element, xml } of rest) {
    const one = readOwn(element, definitions, ofParagraph);
    if (one && !alike(one[1], properties[one[0]])) continue;
    if (one) said.add(one[0]);
    pieces.push({ name: element.name, xml });
  }
  for (const name of written) {
    const value = properties[name] ?? null;
    const inherited = ofStyle[name] ?? null;
    if (said.has(name) || alike(value, inherited)) continue;
    const same = givenBy(name, value, ofParagraph) || (name === 'language' && value === definitions.language);
    const xml = writeOne(name, value, same);
    if (xml) pieces.push({ name: /^<([^\s/>]+)/.exec(xml)![1]!, xml });
  }
  return pieces
    .sort((a, b) => placeOf(a.name) - placeOf(b.name))
    .map(({ xml }) => xml)
    .join('');
}
