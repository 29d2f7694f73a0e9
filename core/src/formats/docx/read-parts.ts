import { attribute, child, elements, parseXml, type Element } from '../xml.js';
import type { ParagraphProperties } from '../../manuscript/schema.js';
import { isLanguage, type ParagraphStyle } from '../../manuscript/values.js';
import { plainParagraph } from '../../manuscript/schema.js';
import type { Properties } from '../../manuscript/properties.js';
import { alignments, indentStep, styleNames, toggles } from './names.js';

/** The parts beside the text that say what its references mean: styles, numbering, relationships. */
export interface Definitions {
  paragraphStyle(id: string | undefined): { style: ParagraphStyle; list: ParagraphProperties['list'] };
  characterStyle(id: string | undefined): Properties;
  listKind(numId: string | undefined, level: number): 'bullet' | 'number' | null;
  /** The language of words where they say none. */
  language: string | undefined;
  target(relationship: string | undefined): string | undefined;
}

const val = (element: Element | undefined) => attribute(element, 'w:val');
const isOn = (element: Element) => !['0', 'false', 'off', 'none'].includes(val(element) ?? 'true');

/** Bold, italic and the like of a run's properties. */
export function readRunProperties(rPr: Element | undefined, definitions: Definitions): Properties {
  const found: Properties = { ...definitions.characterStyle(val(child(rPr, 'w:rStyle'))) };
  for (const element of elements(rPr)) {
    const toggle = toggles[element.nodeName];
    if (toggle) found[toggle] = isOn(element) ? true : null;
    if (element.nodeName === 'w:u') found.underline = isOn(element) ? true : null;
    if (element.nodeName === 'w:lang') {
      const language = val(element);
      found.language = isLanguage(language) && language !== definitions.language ? language : null;
    }
    if (element.nodeName === 'w:vertAlign') {
      found.script = { superscript: 'super', subscript: 'sub' }[val(element) ?? ''] ?? null;
    }
  }
  return found;
}

/** Style, list, alignment and indentation of a paragraph. */
export function readParagraphProperties(pPr: Element | undefined, definitions: Definitions): ParagraphProperties {
  const { style, list: ofStyle } = definitions.paragraphStyle(val(child(pPr, 'w:pStyle')));
  const numPr = child(pPr, 'w:numPr');
  const level = Math.min(8, Math.max(0, Number(val(child(numPr, 'w:ilvl')) ?? ofStyle?.level ?? 0) || 0));
  const numId = val(child(numPr, 'w:numId'));
  const kind = numId === undefined ? (ofStyle?.kind ?? null) : definitions.listKind(numId, level);
  const ind = child(pPr, 'w:ind');
  const left = Number(attribute(ind, 'w:left') ?? attribute(ind, 'w:start') ?? 0) || 0;
  const bidi = child(pPr, 'w:bidi');
  return {
    ...plainParagraph,
    direction: bidi ? (isOn(bidi) ? 'rtl' : 'ltr') : null,
    style,
    list: kind ? { kind, level } : null,
    align: alignments[val(child(pPr, 'w:jc')) ?? ''] ?? null,
    indent: kind ? 0 : Math.min(8, Math.max(0, Math.round(left / indentStep))),
  };
}

function readNumbering(part: string | undefined): Definitions['listKind'] {
  const formats = new Map<string, Map<number, string>>();
  const abstractOf = new Map<string, string>();
  if (part) {
    for (const element of elements(parseXml(part))) {
      if (element.nodeName === 'w:abstractNum') {
        const levels = new Map<number, string>();
        for (const level of elements(element)) {
          const format = val(child(level, 'w:numFmt'));
          if (level.nodeName === 'w:lvl' && format) levels.set(Number(attribute(level, 'w:ilvl')), format);
        }
        formats.set(attribute(element, 'w:abstractNumId') ?? '', levels);
      }
      if (element.nodeName === 'w:num') {
        abstractOf.set(attribute(element, 'w:numId') ?? '', val(child(element, 'w:abstractNumId')) ?? '');
      }
    }
  }
  return (numId, level) => {
    if (!numId || numId === '0') return null;
    const format = formats.get(abstractOf.get(numId) ?? '')?.get(level) ?? 'decimal';
    return format === 'none' ? null : format === 'bullet' ? 'bullet' : 'number';
  };
}

const byName = new Map(
  Object.entries(styleNames).map(([style, { name }]) => [name.toLowerCase(), style as ParagraphStyle] as const),
);

/** On how many other styles a style may be based. */
const deepest = 100;

function readStyles(part: string | undefined, listKind: Definitions['listKind']) {
  const styles = new Map<string, Element>();
  if (part) {
    for (const element of elements(parseXml(part))) {
      if (element.nodeName === 'w:style') styles.set(attribute(element, 'w:styleId') ?? '', element);
    }
  }
  /** A style and those it is based on, the nearest first; broken files may go in circles, hostile ones on for ever. */
  function* chain(id: string | undefined): Generator<Element> {
    const seen = new Set<string>();
    for (let at = id; at && !seen.has(at) && seen.size < deepest; at = val(child(styles.get(at), 'w:basedOn'))) {
      seen.add(at);
      const style = styles.get(at);
      if (style) yield style;
    }
  }
  const paragraphStyle: Definitions['paragraphStyle'] = (id) => {
    let list: ParagraphProperties['list'] = null;
    for (const style of chain(id)) {
      const numPr = child(child(style, 'w:pPr'), 'w:numPr');
      const level = Number(val(child(numPr, 'w:ilvl')) ?? 0) || 0;
      const kind = numPr ? listKind(val(child(numPr, 'w:numId')), level) : null;
      if (kind && !list) list = { kind, level };
      const known = byName.get((val(child(style, 'w:name')) ?? '').toLowerCase());
      if (known) return { style: known, list };
    }
    return { style: 'body', list };
  };
  return { paragraphStyle, chain };
}

/** What the relationships of a part lead to, by their ids (ISO/IEC 29500-2, clause 6.5). */
export function targetsIn(relationships: string | undefined): Definitions['target'] {
  const targets = new Map<string, string>();
  if (relationships) {
    for (const element of elements(parseXml(relationships))) {
      targets.set(attribute(element, 'Id') ?? '', attribute(element, 'Target') ?? '');
    }
  }
  return (id) => (id ? targets.get(id) : undefined);
}

/** The language in which a file's words are where they say none (ISO/IEC 29500-1, 17.7.5.1, docDefaults). */
function languageOf(styles: string | undefined): string | undefined {
  if (!styles) return undefined;
  const defaults = [...elements(parseXml(styles))].find(({ nodeName }) => nodeName === 'w:docDefaults');
  return val(child(child(child(defaults, 'w:rPrDefault'), 'w:rPr'), 'w:lang'));
}

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
export function readDefinitions(part: (name: string) => string | undefined): Definitions {
  const listKind = readNumbering(part('word/numbering.xml'));
  const { paragraphStyle, chain } = readStyles(part('word/styles.xml'), listKind);

  const definitions: Definitions = {
    paragraphStyle: remembered(paragraphStyle),
    listKind,
    language: languageOf(part('word/styles.xml')),
    target: targetsIn(part('word/_rels/document.xml.rels')),
    characterStyle: remembered((id) => {
      const found: Properties = {};
      if (!id) return found;
      const noStyle = { ...definitions, characterStyle: () => ({}) };
      for (const style of [...chain(id)].reverse()) {
        Object.assign(found, readRunProperties(child(style, 'w:rPr'), noStyle));
      }
      return found;
    }),
  };
  return definitions;
}
