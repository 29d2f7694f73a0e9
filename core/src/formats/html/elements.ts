import type { ParagraphProperties } from '../../manuscript/schema.js';
import { elementsIn, isElement, isText, type PageElement, type PageNode } from './page.js';

/** Which elements are what (WHATWG HTML, 4.3 to 4.9, 15.3). */

export const styles: Record<string, ParagraphProperties['style']> = {
  h1: 'title',
  h2: 'heading1',
  h3: 'heading2',
  h4: 'heading3',
  h5: 'heading4',
  h6: 'heading5',
  blockquote: 'quotation',
};
export const blocks =
  /^(address|article|aside|blockquote|body|center|dd|details|dialog|dir|div|dl|dt|fieldset|figcaption|figure|footer|form|h[1-6]|header|hgroup|hr|li|main|menu|nav|ol|p|pre|search|section|summary|ul)$/;
/** What is no text, and what it is called where it is left out. */
export const left: Record<string, string> = {
  iframe: 'frame with another page',
  object: 'embedded object',
  embed: 'embedded object',
  video: 'film',
  audio: 'sound',
  canvas: 'drawing',
  svg: 'drawing',
  map: 'map of a picture',
  select: 'field of a form',
  textarea: 'field of a form',
  input: 'field of a form',
  button: 'field of a form',
};
export const silent = new Set([
  'script',
  'style',
  'template',
  'head',
  'link',
  'meta',
  'title',
  'base',
  'wbr',
  'datalist',
  'param',
  'source',
  'track',
]);

/** What comes behind an element in its paragraph and says something. */
export function nextOf(element: PageElement): PageNode | undefined {
  const all = element.parentNode?.childNodes ?? [];
  const rest = all.slice(all.indexOf(element) + 1);
  const next = rest.find((node) => isElement(node) || (isText(node) && node.value.trim()));
  if (next) return next;
  const parent = element.parentNode;
  return parent && 'tagName' in parent && !blocks.test(parent.tagName) && !/^t[dh]$/.test(parent.tagName)
    ? nextOf(parent)
    : undefined;
}
export const onlyChild = (element: PageElement): boolean =>
  !!element.parentNode &&
  element.parentNode.childNodes.length === 1 &&
  'tagName' in element.parentNode &&
  blocks.test(element.parentNode.tagName);

export const holdsBlocks = (element: PageElement): boolean =>
  elementsIn(element).some((one) => blocks.test(one.tagName) || one.tagName === 'table');

export function rowsIn(table: PageElement): PageElement[] {
  return elementsIn(table).flatMap((one) =>
    one.tagName === 'tr' ? [one] : /^t(head|body|foot)$/.test(one.tagName) ? rowsIn(one) : [],
  );
}
export const cellsIn = (table: PageElement): PageElement[] =>
  rowsIn(table).flatMap((row) => elementsIn(row).filter(({ tagName }) => tagName === 'td' || tagName === 'th'));
