import type { ParagraphProperties } from '../../manuscript/schema.js';
import { highlightColours, isLanguage, isPersonId, linkOf, wordColours } from '../../manuscript/values.js';
import type { PageContext } from './context.js';
import { attr, type PageElement } from './page.js';
import type { Around } from './around.js';

/** What elements and their styles say of words (WHATWG HTML, 4.5; CSS Fonts, Text Decoration, Color). */

const elements: Record<string, Record<string, unknown>> = {
  b: { bold: true },
  strong: { bold: true },
  i: { italic: true },
  em: { italic: true },
  cite: { italic: true },
  dfn: { italic: true },
  var: { italic: true },
  u: { underline: true },
  s: { strike: true },
  strike: { strike: true },
  sup: { script: 'super' },
  sub: { script: 'sub' },
  th: { bold: null },
};
const entryTypes = new Set(['formatting']);
const aligns = {
  left: 'left',
  start: 'left',
  center: 'center',
  right: 'right',
  end: 'right',
  justify: 'justify',
} as const;

/** What a style attribute says, as far as it is plain. */
function declared(style: string): Record<string, string> {
  return Object.fromEntries(
    style.split(';').flatMap((one) => {
      const at = one.indexOf(':');
      return at < 0
        ? []
        : [
            [
              one.slice(0, at).trim().toLowerCase(),
              one
                .slice(at + 1)
                .trim()
                .toLowerCase(),
            ],
          ];
    }),
  );
}

/** A colour as #rrggbb; undefined where it is written otherwise. */
function hexOf(value: string | undefined): string | undefined {
  if (/^#[0-9a-f]{6}$/.test(value ?? '')) return value;
  const short = /^#([0-9a-f])([0-9a-f])([0-9a-f])$/.exec(value ?? '');
  if (short) return `#${short[1]}${short[1]}${short[2]}${short[2]}${short[3]}${short[3]}`;
  const rgb = /^rgb\(\s*(\d{1,3})[\s,]+(\d{1,3})[\s,]+(\d{1,3})\s*\)$/.exec(value ?? '');
  if (!rgb) return undefined;
  return `#${rgb
    .slice(1)
    .map((n) => Math.min(255, Number(n)).toString(16).padStart(2, '0'))
    .join('')}`;
}

function fromStyle(style: string, properties: Record<string, unknown>): ParagraphProperties['align'] | undefined {
  const said = declared(style);
  const weight = said['font-weight'];
  if (weight) properties.bold = weight === 'bold' || weight === 'bolder' || Number(weight) >= 600 ? true : null;
  if (said['font-style']) properties.italic = /^(italic|oblique)/.test(said['font-style']) ? true : null;
  const line = said['text-decoration'] ?? said['text-decoration-line'] ?? '';
  if (line.includes('underline')) properties.underline = true;
  if (line.includes('line-through')) properties.strike = true;
  const vertical = said['vertical-align'];
  if (vertical === 'super' || vertical === 'sub') properties.script = vertical;
  const colour = hexOf(said.color);
  // Black is what words are where nothing is said.
  if (colour && colour !== '#000000') properties.colour = colour;
  const size = /^(\d*\.?\d+)pt$/.exec(said['font-size'] ?? '')?.[1];
  if (size && Number(size) >= 4 && Number(size) <= 96) properties.size = Number(size);
  return aligns[said['text-align'] as keyof typeof aligns];
}

const named = (classes: string, prefix: string, values: readonly string[]) =>
  values.find((value) => classes.split(/\s+/).includes(`${prefix}-${value}`));

/** What one reads in, in an element more. */
export function lookOf(element: PageElement, around: Around, context: PageContext): Around {
  const { tagName } = element;
  const inner: Around = { ...around, properties: { ...around.properties, ...elements[tagName] } };
  const properties = inner.properties;
  const classes = attr(element, 'class') ?? '';
  if (tagName === 'a') {
    const href = linkOf(attr(element, 'href'));
    if (href !== null) inner.link = href;
    else if (attr(element, 'href')) context.losses.add('link that leads where none may, its words are kept');
  }
  if (tagName === 'mark') properties.highlight = named(classes, 'tint', highlightColours) ?? 'tea';
  const style = attr(element, 'style');
  const align = style === undefined ? undefined : fromStyle(style, properties);
  if (align && !context.isOwn) inner.align = align;
  const told = named(classes, 'align', Object.values(aligns));
  if (told) inner.align = told as ParagraphProperties['align'];
  const lang = attr(element, 'lang');
  if (lang !== undefined && isLanguage(lang) && tagName !== 'body') properties.language = lang;
  if (!context.isOwn) return inner;
  const colour = named(classes, 'colour', wordColours);
  if (colour) properties.colour = colour;
  const size = Number(attr(element, 'data-size'));
  if (size >= 4 && size <= 96) properties.size = size;
  const entries = context.told(element, 'data-entries', entryTypes);
  if (entries) inner.formatted = [...around.formatted, entries];
  const thread = attr(element, 'data-thread');
  if (tagName === 'span' && isPersonId(thread)) inner.threads = [...around.threads, thread];
  return inner;
}
