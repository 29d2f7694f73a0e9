import { strToU8 } from 'fflate';
import { pack } from '../package.js';
import { escapeXml, tag } from '../xml.js';
import { namespaces, styleNames, textType } from './names.js';

/** A file without words, for manuscripts that came from no file of this kind. */

const head = '<?xml version="1.0" encoding="UTF-8"?>\n';
const version = { 'office:version': '1.3' } as const;

/** Sizes in points of title and headings. */
const sizes: Record<string, number> = {
  title: 24,
  heading1: 18,
  heading2: 15,
  heading3: 13,
  heading4: 12,
  heading5: 11,
  heading6: 11,
};

/** The definition of one of our styles, as a file has it that has none of that name. */
export function styleXml(style: string): string {
  const name = styleNames[style]!;
  const level = /^heading(\d)$/.exec(style)?.[1];
  const paragraph = {
    ...(level && { 'fo:keep-with-next': 'always' }),
    ...(style === 'quotation' && { 'fo:margin-left': '0.5in', 'fo:margin-right': '0.5in' }),
    ...(style === 'rule' && { 'fo:border-bottom': '0.5pt solid #808080' }),
  };
  const words = sizes[style]
    ? tag('style:text-properties', { 'fo:font-weight': 'bold', 'fo:font-size': `${sizes[style]}pt` })
    : '';
  return tag(
    'style:style',
    {
      'style:name': name,
      'style:display-name': name.replaceAll('_20_', ' '),
      'style:family': 'paragraph',
      'style:parent-style-name': 'Standard',
      'style:next-style-name': 'Standard',
      'style:default-outline-level': level,
    },
    (Object.keys(paragraph).length ? tag('style:paragraph-properties', paragraph) : '') + words,
  );
}

const plain = (name: string, parent?: string) =>
  tag('style:style', { 'style:name': name, 'style:family': 'paragraph', 'style:parent-style-name': parent });
const common = () =>
  plain('Standard') +
  Object.keys(styleNames).map(styleXml).join('') +
  plain('Footnote', 'Standard') +
  plain('Endnote', 'Standard');

const manifest = (entries: [path: string, type: string][]) =>
  head +
  tag(
    'manifest:manifest',
    { 'xmlns:manifest': 'urn:oasis:names:tc:opendocument:xmlns:manifest:1.0', 'manifest:version': '1.3' },
    entries.map(([path, type]) => entry(path, type)).join(''),
  );
/** What the list of parts says of one (OpenDocument 1.3 part 2, 4.3). */
export const entry = (path: string, type: string): string =>
  `<manifest:file-entry manifest:full-path="${escapeXml(path)}" manifest:media-type="${escapeXml(type)}"${path === '/' ? ' manifest:version="1.3"' : ''}/>`;

const body = '<office:body><office:text></office:text></office:body>';

export function blankPackage(): Uint8Array {
  const content = tag('office:document-content', { ...namespaces, ...version }, `<office:automatic-styles/>${body}`);
  const styles = tag('office:document-styles', { ...namespaces, ...version }, tag('office:styles', {}, common()));
  return pack([
    ['mimetype', textType],
    ['content.xml', head + content],
    ['styles.xml', head + styles],
    [
      'META-INF/manifest.xml',
      manifest([
        ['/', textType],
        ['content.xml', 'text/xml'],
        ['styles.xml', 'text/xml'],
      ]),
    ],
  ]);
}

export function blankFlat(): Uint8Array {
  const inner = `${tag('office:styles', {}, common())}<office:automatic-styles/>${body}`;
  const all = tag('office:document', { ...namespaces, ...version, 'office:mimetype': textType }, inner);
  return strToU8(head + all);
}
