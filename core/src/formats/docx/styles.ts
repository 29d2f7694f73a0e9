import { attribute, child, elements, type Element } from '../xml.js';
import type { Properties } from '../../manuscript/properties.js';
import type { ParagraphProperties } from '../../manuscript/schema.js';
import { isLanguage, type ParagraphStyle } from '../../manuscript/values.js';
import type { Definitions } from './definitions.js';
import { directLook } from './looks.js';
import { styleNames } from './names.js';
import type { Opened } from './opened.js';

/** Styles (ISO/IEC 29500-1, 17.7) and numbering (17.9) of a file. */

const val = (element: Element | undefined) => attribute(element, 'w:val');

function readNumbering(root: Element | undefined): Pick<Definitions, 'listKind' | 'isOwnList'> {
  const formats = new Map<string, Map<number, string>>();
  const abstractOf = new Map<string, string>();
  const own = new Set<string>();
  for (const element of elements(root)) {
    if (element.name === 'w:abstractNum') {
      const id = attribute(element, 'w:abstractNumId') ?? '';
      const levels = new Map<number, string>();
      for (const level of elements(element)) {
        const format = val(child(level, 'w:numFmt'));
        if (level.name === 'w:lvl' && format) levels.set(Number(attribute(level, 'w:ilvl')), format);
      }
      formats.set(id, levels);
      if (attribute(element, 'tp:own')) own.add(id);
    } else if (element.name === 'w:num') {
      abstractOf.set(attribute(element, 'w:numId') ?? '', val(child(element, 'w:abstractNumId')) ?? '');
    }
  }
  return {
    isOwnList: (numId) => own.has(abstractOf.get(numId ?? '') ?? ''),
    listKind: (numId, level) => {
      if (!numId || numId === '0') return null;
      const format = formats.get(abstractOf.get(numId) ?? '')?.get(level) ?? 'decimal';
      return format === 'none' ? null : format === 'bullet' ? 'bullet' : 'number';
    },
  };
}

const byName = new Map(
  Object.entries(styleNames).map(([style, { name }]) => [name.toLowerCase(), style as ParagraphStyle] as const),
);
/** Styles of words that say no more than what the words are. */
const sayNothing = /^(followed ?hyperlink|hyperlink|(foot|end)note reference)$/i;

/** On how many other styles a style may be based. */
const deepest = 100;

/** What a style means is found out once. */
function remembered<T>(find: (id: string | undefined) => T): (id: string | undefined) => T {
  const known = new Map<string | undefined, T>();
  return (id) => {
    const found = known.get(id) ?? find(id);
    known.set(id, found);
    return found;
  };
}

/** Reads what the main part refers to; a missing part means that nothing of its kind is defined. */
export function readDefinitions(file: Opened): Definitions {
  const numbering = readNumbering(file.parsed(file.related(file.main, 'numbering')));
  const styles = new Map<string, Element>();
  let standard: string | undefined;
  let defaults: Element | undefined;
  for (const element of elements(file.parsed(file.related(file.main, 'styles')))) {
    if (element.name === 'w:docDefaults') defaults = child(child(element, 'w:rPrDefault'), 'w:rPr');
    if (element.name !== 'w:style') continue;
    const id = attribute(element, 'w:styleId') ?? '';
    styles.set(id, element);
    if (attribute(element, 'w:type') === 'paragraph' && /^(1|true|on)$/.test(attribute(element, 'w:default') ?? ''))
      standard = id;
  }
  const nameOf = (style: Element | undefined) => val(child(style, 'w:name')) ?? '';
  /** A style and those it is based on, the nearest first; broken files may go in circles, hostile ones on for ever. */
  function* chain(id: string | undefined): Generator<Element> {
    const seen = new Set<string>();
    for (let at = id; at && !seen.has(at) && seen.size < deepest; at = val(child(styles.get(at), 'w:basedOn'))) {
      seen.add(at);
      const style = styles.get(at);
      if (style) yield style;
    }
  }
  const lookOf = (id: string | undefined): Properties => {
    const found: Properties = {};
    for (const style of [...chain(id)].reverse()) Object.assign(found, directLook(child(style, 'w:rPr')));
    return found;
  };
  const ids = new Map<ParagraphStyle, string>();
  for (const [id, style] of styles) {
    const known = byName.get(nameOf(style).toLowerCase());
    if (known && attribute(style, 'w:type') === 'paragraph' && !ids.has(known)) ids.set(known, id);
  }
  const language = val(child(defaults, 'w:lang'));
  return {
    ...numbering,
    paragraphStyle: remembered((id) => {
      let list: ParagraphProperties['list'] = null;
      for (const style of chain(id)) {
        const numPr = child(child(style, 'w:pPr'), 'w:numPr');
        const level = Math.min(8, Math.max(0, Number(val(child(numPr, 'w:ilvl')) ?? 0) || 0));
        const kind = numPr ? numbering.listKind(val(child(numPr, 'w:numId')), level) : null;
        if (kind && !list) list = { kind, level };
        const known = byName.get(nameOf(style).toLowerCase());
        if (known) return { style: known, list };
      }
      return { style: 'body' as const, list };
    }),
    lookOfParagraph: remembered((id) => {
      const { size, colour } = { ...directLook(defaults), ...lookOf(id ?? standard) };
      return { size: size ?? null, colour: colour ?? null };
    }),
    characterStyle: remembered((id) => (id && !sayNothing.test(nameOf(styles.get(id))) ? lookOf(id) : {})),
    idOf: (style) => ids.get(style),
    language: isLanguage(language) ? language : undefined,
  };
}
