import { isLanguage } from '../../manuscript/values.js';
import type { Properties } from '../../manuscript/properties.js';
import { shades } from '../kept/shades.js';
import { attribute, tag, type Element } from '../xml.js';

/** How words look: text properties (OpenDocument 1.3 part 3, 16.29.28 and 20) as properties of words, and back. */

/** Shades of the colours that go by name, and of what lies behind words. */
const ownShades: Record<string, string> = Object.fromEntries(
  Object.entries(shades).map(([name, hex]) => [name, `#${hex}`]),
);
const highlightShades: Record<string, string> = { tea: '#f4e3b8', plum: '#f0d3e3', sea: '#cfe6f2', moss: '#dfe8bd' };

/** Properties that words can have and text properties can say, in the order in which we write them. */
export const said = [
  'bold',
  'italic',
  'strike',
  'underline',
  'colour',
  'highlight',
  'size',
  'script',
  'language',
] as const;

/** A name of ours for a colour, believed where the colour is that one. */
function named(element: Element, own: string, names: Record<string, string>, hex: string): string | undefined {
  const name = attribute(element, own);
  return name !== undefined && Object.hasOwn(names, name) && names[name] === hex ? name : undefined;
}

/** Which of our four a colour behind words is nearest to, by its hue; null for white, greys and black. */
function highlightOf(hex: string): string | null {
  const [r, g, b] = [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16)) as [number, number, number];
  const [most, least] = [Math.max(r, g, b), Math.min(r, g, b)];
  if (most - least < 24) return null;
  const turn =
    most === r ? (g - b) / (most - least) : most === g ? 2 + (b - r) / (most - least) : 4 + (r - g) / (most - least);
  const hue = (turn * 60 + 360) % 360;
  if (hue >= 20 && hue < 68) return 'tea';
  if (hue >= 68 && hue < 165) return 'moss';
  return hue >= 165 && hue < 265 ? 'sea' : 'plum';
}

const hexOf = (value: string | undefined) => (/^#[0-9a-f]{6}$/i.test(value ?? '') ? value!.toLowerCase() : undefined);

/** The language of fo:language, fo:script and fo:country, or of the whole tag where they cannot say it (20.3). */
function languageOf(element: Element): string | undefined {
  const tagged = attribute(element, 'style:rfc-language-tag');
  if (isLanguage(tagged)) return tagged;
  const part = (name: string) => {
    const value = attribute(element, `fo:${name}`);
    return value && value !== 'none' ? `-${value}` : '';
  };
  const language = `${attribute(element, 'fo:language') ?? ''}${part('script')}${part('country')}`;
  return isLanguage(language) ? language : undefined;
}

/**
 * What text properties say of words directly; null for what they take away.
 * @param standard the language of words where nothing is said
 */
export function readLook(element: Element | undefined, standard?: string): Properties {
  const found: Properties = {};
  if (!element) return found;
  const value = (name: string) => attribute(element, name);
  const weight = value('fo:font-weight');
  if (weight !== undefined) found.bold = weight === 'bold' || Number(weight) >= 600 ? true : null;
  const slant = value('fo:font-style');
  if (slant !== undefined) found.italic = slant === 'italic' || slant === 'oblique' ? true : null;
  const strike = value('style:text-line-through-style');
  if (strike !== undefined) found.strike = strike === 'none' ? null : true;
  const rule = value('style:text-underline-style');
  if (rule !== undefined) found.underline = rule === 'none' ? null : true;
  const colour = hexOf(value('fo:color'));
  if (colour) found.colour = named(element, 'tp:colour', ownShades, colour) ?? colour;
  else if (value('style:use-window-font-color') === 'true') found.colour = null;
  const behind = value('fo:background-color');
  const hex = hexOf(behind);
  if (hex) found.highlight = named(element, 'tp:highlight', highlightShades, hex) ?? highlightOf(hex);
  else if (behind === 'transparent') found.highlight = null;
  const size = /^(\d*\.?\d+)pt$/.exec(value('fo:font-size') ?? '')?.[1];
  if (size !== undefined && Number(size) >= 4 && Number(size) <= 96) found.size = Number(size);
  const position = value('style:text-position');
  if (position !== undefined) {
    const raised = /^super\b/.test(position) ? 1 : /^sub\b/.test(position) ? -1 : parseFloat(position) || 0;
    found.script = raised > 0 ? 'super' : raised < 0 ? 'sub' : null;
  }
  const language = languageOf(element);
  if (language) found.language = language === standard && value('tp:own') === undefined ? null : language;
  // What has to be said though it is nothing.
  for (const name of value('tp:off')?.split(' ') ?? []) found[name] = null;
  return found;
}

/** The attributes that give words those properties; null takes away what is said around. */
export function lookAttributes(
  properties: Properties,
  { standard, size }: { standard?: string | undefined; size?: number | undefined } = {},
): Record<string, string | undefined> {
  const all: Record<string, string | undefined> = {};
  const off: string[] = [];
  for (const name of said) {
    if (!(name in properties)) continue;
    const value = properties[name] ?? null;
    const on = value !== null;
    if (name === 'bold') all['fo:font-weight'] = on ? 'bold' : 'normal';
    else if (name === 'italic') all['fo:font-style'] = on ? 'italic' : 'normal';
    else if (name === 'strike') all['style:text-line-through-style'] = on ? 'solid' : 'none';
    else if (name === 'underline') all['style:text-underline-style'] = on ? 'solid' : 'none';
    else if (name === 'colour') {
      const own = ownShades[value as string];
      if (on) Object.assign(all, { 'fo:color': own ?? value, 'tp:colour': own && value });
      else all['style:use-window-font-color'] = 'true';
    } else if (name === 'highlight') {
      all['fo:background-color'] = on ? highlightShades[value as string] : 'transparent';
      if (on) all['tp:highlight'] = value as string;
    } else if (name === 'size') {
      all['fo:font-size'] = `${on ? Number(value) : (size ?? 12)}pt`;
      if (!on) off.push(name);
    } else if (name === 'script') all['style:text-position'] = on ? `${String(value)} 58%` : '0% 100%';
    else {
      Object.assign(all, languageAttributes(on ? (value as string) : (standard ?? 'none')));
      if (!on) off.push(name);
      else if (value === standard) all['tp:own'] = 'language';
    }
  }
  if (off.length) all['tp:off'] = off.join(' ');
  return all;
}

function languageAttributes(value: string): Record<string, string | undefined> {
  const [, language, script, country] = /^([a-z]{2,3}|none)(?:-([A-Za-z]{4}))?(?:-([A-Z]{2}|\d{3}))?/.exec(value)!;
  const whole = [language, script, country].filter(Boolean).join('-');
  return {
    'fo:language': language,
    'fo:script': script,
    'fo:country': country ?? 'none',
    'style:rfc-language-tag': whole === value ? undefined : value,
  };
}

/** The same attributes as an element. */
export const lookXml = (attributes: Record<string, string | undefined>): string =>
  tag('style:text-properties', attributes);
