import { DOMParser, type Element } from '@xmldom/xmldom';
import { UnreadableFile } from './unreadable.js';

export type { Element };

/** How many signs `<` a part may have, about two an element: a long book with 100,000 changes has half of that. */
const mostSigns = 2_500_000;

/** Whether a text has more of a character than that. */
function hasMore(text: string, character: string, most: number): boolean {
  let n = 0;
  for (let at = text.indexOf(character); at >= 0 && n <= most; at = text.indexOf(character, at + 1)) n++;
  return n > most;
}

/**
 * Parses a part. Document type declarations are refused, and with them every entity that is not one of XML's own
 * (the standards do not use any: ISO/IEC 29500-2, clause 8.1.4 forbids DTDs).
 */
export function parseXml(text: string): Element {
  if (/<!DOCTYPE/i.test(text))
    throw new UnreadableFile('declares entities of its own, which no document of this kind may');
  if (hasMore(text, '<', mostSigns)) throw new UnreadableFile('has more elements inside than a book would');
  const fail = () => {
    throw new UnreadableFile('is damaged: the XML inside is broken');
  };
  let root: Element | null = null;
  try {
    root = new DOMParser({ onError: (level) => level !== 'warning' && fail() }).parseFromString(
      text,
      'text/xml',
    ).documentElement;
  } catch {
    fail();
  }
  return root ?? fail();
}

/** The child elements. */
export function* elements(parent: Element | null | undefined): Generator<Element> {
  for (let node = parent?.firstChild ?? null; node; node = node.nextSibling) {
    if (node.nodeType === 1) yield node as Element;
  }
}

/** The first child element with that qualified name. */
export function child(parent: Element | null | undefined, name: string): Element | undefined {
  for (const element of elements(parent)) if (element.nodeName === name) return element;
  return undefined;
}

export const attribute = (element: Element | undefined, name: string): string | undefined =>
  element?.getAttribute(name) ?? undefined;

const entities: Record<string, string> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  '\n': '&#10;',
  '\t': '&#9;',
};
// Characters that XML 1.0, section 2.2 does not allow.
const forbidden =
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;

export const escapeXml = (text: string): string =>
  text.replace(forbidden, '').replace(/[&<>"\n\t]/g, (c) => entities[c] ?? c);

/** An element as text; attributes that are undefined are left out. */
export function tag(name: string, attributes: Record<string, string | number | undefined> = {}, content = ''): string {
  let start = name;
  for (const [key, value] of Object.entries(attributes)) {
    if (value !== undefined) start += ` ${key}="${escapeXml(String(value))}"`;
  }
  return content ? `<${start}>${content}</${name}>` : `<${start}/>`;
}
