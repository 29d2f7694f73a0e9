import { toByteArray } from 'base64-js';
import type { Mark, Node } from 'prosemirror-model';
import { schema } from '../../manuscript/schema.js';
import { asText, propertyRules, type CarriedKind } from '../../manuscript/values.js';
import { dataIn } from '../kept/context.js';
import { xmlText } from '../package.js';
import { attribute, child, elements, find, textOf, type Element } from '../xml.js';
import type { Context } from './context.js';
import { inchesOf, pixelsInInch } from './names.js';
import type { Opened } from './opened.js';

/** Pictures (OpenDocument 1.3 part 3, 10.4) and what else stands among words and is no text. */

/** All the words in an element, paragraphs and cells parted by a space. */
export function wordsIn(element: Element): string {
  const words: string[] = [];
  const look = (inner: Element) => {
    for (const node of inner.children) {
      if (typeof node === 'string') words.push(node);
      else if (!skipped.has(node.name)) {
        if (node.name === 'text:s' || node.name === 'text:tab' || node.name === 'text:line-break') words.push(' ');
        look(node);
        if (node.name === 'text:p' || node.name === 'text:h') words.push(' ');
      }
    }
  };
  look(element);
  return asText(words.join('').replace(/\s+/g, ' ').trim()).slice(0, 2000);
}
const skipped = new Set([
  'office:binary-data',
  'svg:title',
  'svg:desc',
  'office:event-listeners',
  'dc:creator',
  'dc:date',
]);

/** The part a reference leads to; undefined where it leads out of the file. */
export function partAt(href: string | undefined): string | undefined {
  if (!href || /^([a-z][a-z\d+.-]*:|\/|#)/i.test(href)) return undefined;
  const path = href.replace(/^\.\//, '');
  return path.includes('..') ? undefined : path;
}

/** The letters of a picture that stands in the XML (10.4.5, office:binary-data). */
function binary(element: Element): Uint8Array | undefined {
  const text = textOf(element).replace(/\s+/g, '');
  if (!text || !/^[A-Za-z0-9+/]+=*$/.test(text)) return undefined;
  try {
    return toByteArray(text);
  } catch {
    return undefined;
  }
}

const pixels = (length: string | undefined) => {
  const n = Math.round((inchesOf(length) ?? 0) * pixelsInInch);
  return n >= 1 && n <= 10_000 ? n : null;
};

/** What our own file tells of a picture that was given one measure, or none. */
function toldSize(data: unknown): { width?: number | null; height?: number | null } {
  const { width, height } = (data ?? {}) as Record<string, unknown>;
  return typeof data === 'object' && propertyRules.width(width) && propertyRules.height(height)
    ? { width: width as number | null, height: height as number | null }
    : {};
}

/** The picture of a frame that a manuscript can show, by its name there. */
function assetOf(context: Context, frame: Element): string | null {
  for (const image of elements(frame)) {
    if (image.name !== 'draw:image') continue;
    const data = child(image, 'office:binary-data');
    const part = partAt(attribute(image, 'xlink:href'));
    const asset = data
      ? context.addPicture(attribute(data, 'tp:part') ?? `picture ${context.assets.length + 1}`, binary(data))
      : part === undefined
        ? null
        : context.picture(part);
    if (asset !== null) return asset;
  }
  return null;
}

/** Reads a picture that a manuscript can show; undefined where it is something else. */
export function readPicture(context: Context, frame: Element, marks: readonly Mark[]): Node | undefined {
  if (frame.name !== 'draw:frame' || child(frame, 'draw:text-box') || child(frame, 'draw:object')) return undefined;
  const asset = assetOf(context, frame);
  if (asset === null) return undefined;
  const alt = asText(textOf(child(frame, 'svg:desc')) || textOf(child(frame, 'svg:title'))).slice(0, 2000);
  const size = { width: pixels(attribute(frame, 'svg:width')), height: pixels(attribute(frame, 'svg:height')) };
  const isOwn = attribute(frame, 'tp:own') !== undefined;
  // The letters of a picture in the XML are kept with the picture.
  const xml = context.slice(frame).replace(/(<[\w:]*binary-data\b[^>]*>)[^<]*(<\/)/g, '$1$2');
  const carried = isOwn ? null : context.fragments.nameOf({ xml });
  const attrs = { asset, alt, ...size, ...toldSize(dataIn(frame, 'tp:own')), carried };
  return schema.nodes.image.create(attrs, null, marks);
}

/** Whether an object of the file is a formula. */
function isFormula(object: Element, { parts }: Opened): boolean {
  if (find(object, 'math:math')) return true;
  const part = partAt(attribute(object, 'xlink:href'));
  const content = part === undefined ? undefined : parts.get(`${part.replace(/\/$/, '')}/content.xml`);
  return !!content && /<(\w+:)?math\b/.test(xmlText(content.subarray(0, 2000)));
}

/** What an element is that stands among words and is no text, and what it says. */
export function kindOf(element: Element, file: Opened): { what: CarriedKind; says: string } {
  const { name } = element;
  const about = asText(textOf(child(element, 'svg:desc')) || textOf(child(element, 'svg:title')));
  const words = wordsIn(element);
  if (name === 'draw:frame') {
    const object = child(element, 'draw:object');
    if (object && isFormula(object, file)) return { what: 'formula', says: words };
    if (object || child(element, 'draw:object-ole')) return { what: 'object', says: about || words };
    if (child(element, 'draw:text-box')) return { what: 'text box', says: words };
    return { what: 'picture', says: about || asText(attribute(element, 'draw:name') ?? '') };
  }
  if (name === 'text:ruby') return { what: 'ruby', says: words };
  if (name === 'table:table') return { what: 'table', says: words };
  if (/^(draw|dr3d):/.test(name)) return words ? { what: 'text box', says: words } : { what: 'drawing', says: about };
  if (/^text:(table-of-content|.*-index|bibliography)$/.test(name)) return { what: 'field', says: words };
  if (name.startsWith('text:')) return { what: 'field', says: words || name.slice(5).replaceAll('-', ' ') };
  return { what: 'thing', says: words };
}
