import { pack } from '../package.js';
import { tag } from '../xml.js';
import { indentStep, namespaces, styleNames } from './names.js';

/** A package without words, for manuscripts that came from no file: styles, and what leads to them. */

export const head = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>';
export const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
export const wordType = 'application/vnd.openxmlformats-officedocument.wordprocessingml';
const relationships = 'http://schemas.openxmlformats.org/package/2006/relationships';
const types = 'http://schemas.openxmlformats.org/package/2006/content-types';

/** Sizes in half points of title and headings. */
const sizes: Record<string, number> = {
  title: 48,
  heading1: 36,
  heading2: 30,
  heading3: 26,
  heading4: 24,
  heading5: 22,
  heading6: 22,
};

/** The definition of one of our styles, as a file has it that has no such style of its own. */
export function styleXml(style: string): string {
  const { id, name } = styleNames[style]!;
  const level = /^heading(\d)$/.exec(style)?.[1];
  const pPr =
    (level ? tag('w:keepNext') : '') +
    (style === 'quotation' ? tag('w:ind', { 'w:left': indentStep, 'w:right': indentStep }) : '') +
    (level ? tag('w:outlineLvl', { 'w:val': Number(level) - 1 }) : '');
  return tag(
    'w:style',
    { 'w:type': 'paragraph', 'w:styleId': id },
    tag('w:name', { 'w:val': name }) +
      tag('w:basedOn', { 'w:val': 'Normal' }) +
      tag('w:next', { 'w:val': 'Normal' }) +
      tag('w:qFormat') +
      (pPr ? tag('w:pPr', {}, pPr) : '') +
      (sizes[style] ? tag('w:rPr', {}, tag('w:b') + tag('w:sz', { 'w:val': sizes[style] })) : ''),
  );
}

const normal = tag(
  'w:style',
  { 'w:type': 'paragraph', 'w:default': 1, 'w:styleId': 'Normal' },
  tag('w:name', { 'w:val': 'Normal' }),
);

const relationship = (id: string, type: string, target: string) =>
  tag('Relationship', { Id: id, Type: `${office}/${type}`, Target: target });

/** The package, of which a body without blocks is the main text. */
export function blankPackage(): Uint8Array {
  const standard = (extension: string, type: string) => tag('Default', { Extension: extension, ContentType: type });
  const part = (name: string, type: string) =>
    tag('Override', { PartName: `/word/${name}.xml`, ContentType: `${wordType}.${type}+xml` });
  const styles = Object.keys(styleNames).map(styleXml).join('');
  return pack([
    [
      '[Content_Types].xml',
      head +
        tag(
          'Types',
          { xmlns: types },
          standard('rels', 'application/vnd.openxmlformats-package.relationships+xml') +
            standard('xml', 'application/xml') +
            part('document', 'document.main') +
            part('styles', 'styles'),
        ),
    ],
    [
      '_rels/.rels',
      head +
        tag('Relationships', { xmlns: relationships }, relationship('rText', 'officeDocument', 'word/document.xml')),
    ],
    [
      'word/_rels/document.xml.rels',
      head + tag('Relationships', { xmlns: relationships }, relationship('rStyles', 'styles', 'styles.xml')),
    ],
    ['word/document.xml', head + tag('w:document', namespaces, '<w:body></w:body>')],
    ['word/styles.xml', head + tag('w:styles', namespaces, normal + styles)],
  ]);
}

const bullets = ['•', '–', '◦'];

/** The definition of our bulleted or numbered lists (17.9.1). */
export function abstractList(kind: 'bullet' | 'number', id: number): string {
  const levels = Array.from({ length: 9 }, (_, level) =>
    tag(
      'w:lvl',
      { 'w:ilvl': level },
      tag('w:start', { 'w:val': 1 }) +
        tag('w:numFmt', { 'w:val': kind === 'bullet' ? 'bullet' : 'decimal' }) +
        tag('w:lvlText', { 'w:val': kind === 'bullet' ? bullets[level % 3] : `%${level + 1}.` }) +
        tag('w:pPr', {}, tag('w:ind', { 'w:left': (level + 1) * indentStep, 'w:hanging': indentStep / 2 })),
    ),
  );
  return tag(
    'w:abstractNum',
    { 'w:abstractNumId': id, 'tp:own': kind },
    tag('w:multiLevelType', { 'w:val': 'hybridMultilevel' }) + levels.join(''),
  );
}

/** A list of its own for a run of items; numbers begin again (17.9.15, 17.9.26). */
export function listXml(kind: 'bullet' | 'number', id: number, abstract: number): string {
  const again = kind === 'number' ? tag('w:lvlOverride', { 'w:ilvl': 0 }, tag('w:startOverride', { 'w:val': 1 })) : '';
  return tag('w:num', { 'w:numId': id }, tag('w:abstractNumId', { 'w:val': abstract }) + again);
}
