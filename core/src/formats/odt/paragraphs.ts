import type { Properties } from '../../manuscript/properties.js';
import { plainParagraph, type ParagraphProperties } from '../../manuscript/schema.js';
import { attribute, child, elements, tag, xmlOf, type Element } from '../xml.js';
import type { Definitions } from './definitions.js';
import { inchesOf, indentStep, type Where } from './names.js';

/** Properties of paragraphs (OpenDocument 1.3 part 3, 17.6), both ways. */

type Direct = Pick<ParagraphProperties, 'align' | 'indent' | 'direction'>;

const alignments: Record<string, ParagraphProperties['align']> = {
  start: 'left',
  left: 'left',
  center: 'center',
  end: 'right',
  right: 'right',
  justify: 'justify',
};

function directOf(element: Element | undefined): Direct {
  const margin = inchesOf(attribute(element, 'fo:margin-left')) ?? 0;
  const mode = attribute(element, 'style:writing-mode');
  return {
    align: alignments[attribute(element, 'fo:text-align') ?? ''] ?? null,
    indent: Math.min(8, Math.max(0, Math.round(margin / indentStep))),
    direction: mode === 'rl-tb' || mode === 'rl' ? 'rtl' : mode === 'lr-tb' || mode === 'lr' ? 'ltr' : null,
  };
}

const modes = { ltr: 'lr-tb', rtl: 'rl-tb' } as const;
const attributesOf = ({ align, indent, direction }: Direct): Record<string, string | undefined> => ({
  'fo:margin-left': indent ? `${indent * indentStep}in` : undefined,
  'fo:text-align': align ?? undefined,
  'style:writing-mode': direction ? modes[direction] : undefined,
});

/** A paragraph as its element says it is. */
export interface ReadParagraph {
  /** All but the list it is in and what is carried. */
  properties: ParagraphProperties;
  /** What somebody set directly on all its words. */
  base: Properties;
  /** Whether our way of writing the properties says all that the element says. */
  plain: boolean;
}

/** Attributes that are read, and written from what is known. */
const known = /^(text:style-name|text:outline-level|tp:.*)$/;

/** @param named the element’s name and attributes */
export function readParagraph(
  { name, attributes }: Pick<Element, 'name' | 'attributes'>,
  definitions: Definitions,
  where: Where,
): ReadParagraph {
  const styleName = attributes['text:style-name'];
  const style = definitions.paragraph(styleName);
  const level = Math.min(6, Math.max(1, Math.floor(Number(attributes['text:outline-level'] ?? 1)) || 1));
  const house = definitions.houseStyle(styleName);
  const found = name === 'text:h' ? (`heading${level}` as ParagraphProperties['style']) : house;
  const direct = directOf(style?.automatic ? child(style.element, 'style:paragraph-properties') : undefined);
  const properties = { ...plainParagraph, style: found, ...direct };
  const element = elementOf(found);
  const expected = definitions.nameOf(found, where);
  const plain =
    name === element.name &&
    Object.keys(attributes).every((one) => known.test(one)) &&
    (name === 'text:p' || String(level) === (attributes['text:outline-level'] ?? '1')) &&
    (style?.automatic
      ? automaticXml(expected, direct) === withoutName(style.element)
      : styleName === expected || (styleName === undefined && found === 'body'));
  return { properties, base: definitions.lookOfParagraph(styleName), plain };
}

const withoutName = (element: Element): string => {
  const { 'style:name': _, ...attributes } = element.attributes;
  return xmlOf({ ...element, attributes });
};

/** The element of a paragraph of one of our styles. */
function elementOf(style: ParagraphProperties['style']): { name: string; level: string | undefined } {
  const level = /^heading(\d)$/.exec(style)?.[1];
  return { name: level ? 'text:h' : 'text:p', level };
}

/** An automatic style of ours, without its name. */
const automaticXml = (parent: string | undefined, direct: Direct): string =>
  tag(
    'style:style',
    { 'style:family': 'paragraph', 'style:parent-style-name': parent },
    tag('style:paragraph-properties', attributesOf(direct)),
  );

/** The automatic style of a file with other properties, without its name; what has not changed is said as it was. */
function derivedXml(element: Element, was: Direct, now: Direct): string {
  const { 'style:name': _, ...attributes } = element.attributes;
  const properties = child(element, 'style:paragraph-properties');
  const [before, after] = [attributesOf(was), attributesOf(now)];
  const changed = { ...properties?.attributes };
  for (const name of Object.keys(after)) {
    if (after[name] === before[name]) continue;
    delete changed[name];
    if (after[name] !== undefined) changed[name] = after[name];
  }
  const inner = [...elements(properties)].map(xmlOf).join('');
  const others = [...elements(element)].filter((one) => one !== properties).map(xmlOf);
  return tag('style:style', attributes, tag('style:paragraph-properties', changed, inner) + others.join(''));
}

/** How a paragraph is written: its element, and what attributes and style that has. */
export interface WrittenParagraph {
  name: string;
  attributes: Record<string, string | undefined>;
  /** An automatic style that is needed, without its name; its name then goes for `text:style-name`. */
  style: string | null;
  /** What is set directly on all its words. */
  base: Properties;
}

/**
 * @param came what its file said of it, if it is kept
 */
export function writeParagraph(
  now: ParagraphProperties,
  came: Pick<Element, 'name' | 'attributes'> | null,
  definitions: Definitions,
  where: Where,
): WrittenParagraph {
  const was = came && readParagraph(came, definitions, where);
  const fits = came && was!.properties.style === now.style ? came : null;
  const { name, level } = elementOf(now.style);
  const others = Object.fromEntries(Object.entries(came?.attributes ?? {}).filter(([one]) => !known.test(one)));
  if (name !== 'text:h')
    for (const one of ['text:restart-numbering', 'text:start-value', 'text:is-list-header'])
      if (fits?.name !== 'text:h') delete others[one];
  const written = {
    name: fits?.name ?? name,
    attributes: { ...others, 'text:outline-level': fits ? fits.attributes['text:outline-level'] : level },
  };
  const same = (['align', 'indent', 'direction'] as const).every((one) => was?.properties[one] === now[one]);
  if (fits && same)
    return {
      ...written,
      attributes: { 'text:style-name': fits.attributes['text:style-name'], ...written.attributes },
      style: null,
      base: was!.base,
    };
  const styleName = fits?.attributes['text:style-name'];
  const origin = definitions.paragraph(styleName);
  const shared = fits ? definitions.sharedName(styleName) : definitions.nameOf(now.style, where);
  const direct: Direct = { align: now.align, indent: now.indent, direction: now.direction };
  const isPlain = !now.align && !now.indent && !now.direction;
  if (fits && origin?.automatic)
    return {
      ...written,
      style: derivedXml(origin.element, was!.properties, direct),
      base: definitions.lookOfParagraph(styleName),
    };
  if (isPlain)
    return { ...written, attributes: { 'text:style-name': shared, ...written.attributes }, style: null, base: {} };
  return { ...written, style: automaticXml(shared, direct), base: {} };
}
