import { tag } from '../xml.js';
import { indentStep, namespaces, styleNames } from './names.js';

/** The parts beside the text: what the package holds, styles and lists. */

const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const relationships = 'http://schemas.openxmlformats.org/package/2006/relationships';
const wordType = 'application/vnd.openxmlformats-officedocument.wordprocessingml';

export function contentTypes(): string {
  const part = (name: string, type: string) =>
    tag('Override', { PartName: `/word/${name}.xml`, ContentType: `${wordType}.${type}+xml` });
  return tag(
    'Types',
    { xmlns: 'http://schemas.openxmlformats.org/package/2006/content-types' },
    tag('Default', { Extension: 'rels', ContentType: 'application/vnd.openxmlformats-package.relationships+xml' }) +
      tag('Default', { Extension: 'xml', ContentType: 'application/xml' }) +
      part('document', 'document.main') +
      part('styles', 'styles') +
      part('numbering', 'numbering') +
      part('comments', 'comments') +
      part('commentsExtended', 'commentsExtended'),
  );
}

const relationship = (id: string, type: string, target: string, external = false) =>
  tag('Relationship', { Id: id, Type: type, Target: target, TargetMode: external ? 'External' : undefined });

export const packageRelationships = (): string =>
  tag(
    'Relationships',
    { xmlns: relationships },
    relationship('rText', `${office}/officeDocument`, 'word/document.xml'),
  );

/** Links of comments; null where there are none, so that no empty part is written. */
export const commentRelationships = (links: readonly string[]): string | null =>
  links.length ? tag('Relationships', { xmlns: relationships }, linksOf(links)) : null;

const linksOf = (links: readonly string[]) =>
  links.map((href, i) => relationship(`rLink${i + 1}`, `${office}/hyperlink`, href, true)).join('');

export function textRelationships(links: readonly string[]): string {
  const parts =
    relationship('rStyles', `${office}/styles`, 'styles.xml') +
    relationship('rNumbering', `${office}/numbering`, 'numbering.xml') +
    relationship('rComments', `${office}/comments`, 'comments.xml') +
    relationship(
      'rReplies',
      'http://schemas.microsoft.com/office/2011/relationships/commentsExtended',
      'commentsExtended.xml',
    );
  return tag('Relationships', { xmlns: relationships }, parts + linksOf(links));
}

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

export function stylesPart(): string {
  const normal = tag(
    'w:style',
    { 'w:type': 'paragraph', 'w:default': 1, 'w:styleId': 'Normal' },
    tag('w:name', { 'w:val': 'Normal' }),
  );
  const others = Object.entries(styleNames).map(([style, { id, name }]) => {
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
  });
  return tag('w:styles', namespaces, normal + others.join(''));
}

const bullets = ['•', '–', '◦'];

/** One definition for bulleted and one for numbered lists, and a list of its own for every run of items. */
export function numberingPart(lists: readonly { kind: 'bullet' | 'number'; id: number }[]): string {
  const abstract = (['bullet', 'number'] as const).map((kind, n) => {
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
      { 'w:abstractNumId': n },
      tag('w:multiLevelType', { 'w:val': 'hybridMultilevel' }) + levels.join(''),
    );
  });
  const numbers = lists.map(({ kind, id }) => {
    const again =
      kind === 'number' ? tag('w:lvlOverride', { 'w:ilvl': 0 }, tag('w:startOverride', { 'w:val': 1 })) : '';
    return tag('w:num', { 'w:numId': id }, tag('w:abstractNumId', { 'w:val': kind === 'bullet' ? 0 : 1 }) + again);
  });
  return tag('w:numbering', namespaces, abstract.join('') + numbers.join(''));
}
