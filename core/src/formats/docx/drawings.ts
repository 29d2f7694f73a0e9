import { schema } from '../../manuscript/schema.js';
import type { Mark, Node } from 'prosemirror-model';
import { asText, propertyRules, type CarriedKind } from '../../manuscript/values.js';
import { attribute, child, elements, find, textOf, type Element } from '../xml.js';
import { dataIn } from '../kept/context.js';
import type { Part } from './context.js';
import { emuInPixel } from './names.js';
import { assetOf } from '../kept/pictures.js';

/** Pictures (ISO/IEC 29500-1, 20.4, 20.2; 29500-4, 14 for VML) and what else stands among words and is no text. */

/** All the words in an element, paragraphs and cells parted by a space. */
export function wordsIn(element: Element): string {
  const words: string[] = [];
  const look = (inner: Element) => {
    for (const each of elements(inner)) {
      // Of what says the same twice, for older programs, the first is taken.
      if (each.name === 'mc:Fallback') continue;
      if (each.name === 'w:t' || each.name === 'm:t' || each.name === 'a:t') words.push(textOf(each));
      else if (each.name === 'w:tab' || each.name === 'w:br') words.push(' ');
      look(each);
      if (each.name === 'w:p' || each.name === 'a:p') words.push(' ');
    }
  };
  look(element);
  return asText(words.join('').replace(/\s+/g, ' ').trim()).slice(0, 2000);
}

/** How large a drawing is, in pixels; null where it does not say. */
function sizeOf(drawing: Element): { width: number | null; height: number | null } {
  const extent = find(drawing, 'wp:extent');
  const pixels = (name: string) => {
    const n = Math.round(Number(attribute(extent, name)) / emuInPixel);
    return n >= 1 && n <= 10_000 ? n : null;
  };
  return { width: pixels('cx'), height: pixels('cy') };
}

/** What our own file tells of a picture that was given one measure, or none. */
function toldSize(data: unknown): { width?: number | null; height?: number | null } {
  const { width, height } = (data ?? {}) as Record<string, unknown>;
  const fits = (value: unknown) => propertyRules.width(value);
  return typeof data === 'object' && fits(width) && fits(height)
    ? { width: width as number | null, height: height as number | null }
    : {};
}

/** Reads a picture that a manuscript can show; undefined where it is something else. */
export function readPicture(part: Part, element: Element, marks: readonly Mark[]): Node | undefined {
  const { context } = part;
  const blip = find(element, 'a:blip') ?? find(element, 'v:imagedata');
  const id = attribute(blip, 'r:embed') ?? attribute(blip, 'r:id');
  const relationship = blip && context.file.relationship(part.name, id);
  if (!relationship || relationship.external || wordsIn(element)) return undefined;
  const asset = assetOf(context, relationship.target);
  if (asset === null) return undefined;
  const about = find(element, 'wp:docPr');
  const alt = asText(attribute(about, 'descr') ?? attribute(about, 'title') ?? '').slice(0, 2000);
  const inline = find(element, 'wp:inline');
  const carried =
    attribute(inline, 'tp:own') === undefined ? context.fragments.nameOf({ xml: part.slice(element) }) : null;
  const size = { ...sizeOf(element), ...toldSize(dataIn(inline, 'tp:own')) };
  return schema.nodes.image.create({ asset, alt, ...size, carried }, null, marks);
}

/** What an element is that stands among words and is no text, and what it says. */
export function kindOf(element: Element): { what: CarriedKind; says: string } {
  const { name } = element;
  if (name.startsWith('m:')) return { what: 'formula', says: wordsIn(element) };
  if (name === 'w:sym') {
    const code = parseInt(attribute(element, 'w:char') ?? '', 16);
    const font = attribute(element, 'w:font') ?? '';
    return {
      what: 'symbol',
      says: code >= 0x20 && code < 0xe000 ? asText(String.fromCharCode(code)) : asText(font).slice(0, 100),
    };
  }
  if (name === 'w:br')
    return { what: attribute(element, 'w:type') === 'column' ? 'column break' : 'page break', says: '' };
  if (name === 'w:object') return { what: 'object', says: wordsIn(element) };
  if (name === 'w:ruby') return { what: 'ruby', says: wordsIn(element) };
  if (name === 'w:tbl') return { what: 'table', says: wordsIn(element) };
  if (name === 'w:altChunk' || name === 'w:subDoc') return { what: 'document', says: '' };
  const words = wordsIn(element);
  if (words) return { what: 'text box', says: words };
  const about = find(element, 'wp:docPr');
  const says = asText(attribute(about, 'descr') ?? attribute(about, 'name') ?? '').slice(0, 2000);
  const isPicture = find(element, 'a:blip') ?? find(element, 'v:imagedata') ?? find(element, 'pic:pic');
  if (isPicture) return { what: 'picture', says };
  if (name === 'w:drawing' || name === 'w:pict' || name === 'mc:AlternateContent') return { what: 'drawing', says };
  return { what: 'thing', says: words };
}

/** Whether something carried has changes of its own inside, which can only be decided elsewhere. */
export const hasChangesInside = (element: Element): boolean =>
  ['w:ins', 'w:del', 'w:moveFrom', 'w:moveTo', 'w:rPrChange', 'w:pPrChange'].some((name) => find(element, name)) ||
  !!child(element, 'w:cellIns');
