import { strToU8, unzipSync, zipSync } from 'fflate';

/** DOCX packages made by hand, as small as the standard lets them be (ISO/IEC 29500-1, 11; 29500-2). */

const head = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const wordType = 'application/vnd.openxmlformats-officedocument.wordprocessingml';

export const names =
  'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main" ' +
  `xmlns:r="${office}" ` +
  'xmlns:m="http://schemas.openxmlformats.org/officeDocument/2006/math" ' +
  'xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing" ' +
  'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" ' +
  'xmlns:pic="http://schemas.openxmlformats.org/drawingml/2006/picture" ' +
  'xmlns:mc="http://schemas.openxmlformats.org/markup-compatibility/2006" ' +
  'xmlns:w14="http://schemas.microsoft.com/office/word/2010/wordml" ' +
  'xmlns:w15="http://schemas.microsoft.com/office/word/2012/wordml" ' +
  'xmlns:wps="http://schemas.microsoft.com/office/word/2010/wordprocessingShape" ' +
  'xmlns:v="urn:schemas-microsoft-com:vml" mc:Ignorable="w14 w15"';

/** A run. */
export const r = (text: string, look = ''): string =>
  `<w:r>${look && `<w:rPr>${look}</w:rPr>`}<w:t xml:space="preserve">${text}</w:t></w:r>`;
/** A paragraph. */
export const p = (content: string, properties = ''): string =>
  `<w:p>${properties && `<w:pPr>${properties}</w:pPr>`}${content}</w:p>`;
const signed = (id: number, author: string) => `w:id="${id}" w:author="${author}" w:date="2026-11-02T10:00:00Z"`;
export const ins = (id: number, content: string, author = 'Ines Vega'): string =>
  `<w:ins ${signed(id, author)}>${content}</w:ins>`;
export const del = (id: number, text: string, author = 'Ines Vega'): string =>
  `<w:del ${signed(id, author)}><w:r><w:delText xml:space="preserve">${text}</w:delText></w:r></w:del>`;
export const by = signed;

export interface Beside {
  /** Other parts that the text leads to, by type: XML inside the root, or bytes with a name. */
  parts?: Record<string, string>;
  media?: Record<string, Uint8Array>;
  links?: Record<string, string>;
  /** Parts that nothing of the text leads to. */
  others?: Record<string, string | Uint8Array>;
}

const roots: Record<string, string> = {
  styles: 'w:styles',
  numbering: 'w:numbering',
  comments: 'w:comments',
  commentsExtended: 'w15:commentsEx',
  footnotes: 'w:footnotes',
  endnotes: 'w:endnotes',
  header: 'w:hdr',
  footer: 'w:ftr',
  settings: 'w:settings',
};

/** A whole file around a body. */
export function docxOf(body: string, { parts = {}, media = {}, links = {}, others = {} }: Beside = {}): Uint8Array {
  const relation = (id: string, type: string, target: string, external = false) =>
    `<Relationship Id="${id}" Type="${type.includes('/') ? type : `${office}/${type}`}" Target="${target}"${external ? ' TargetMode="External"' : ''}/>`;
  const typeOf = (type: string) =>
    type === 'commentsExtended' ? 'http://schemas.microsoft.com/office/2011/relationships/commentsExtended' : type;
  const relations = [
    ...Object.keys(parts).map((type) => relation(`rId-${type}`, typeOf(type), `${type}.xml`)),
    ...Object.keys(media).map((name) => relation(`rId-${name.replace(/\W/g, '-')}`, 'image', `media/${name}`)),
    ...Object.entries(links).map(([id, href]) => relation(id, 'hyperlink', href, true)),
  ];
  const override = (name: string, type: string) =>
    `<Override PartName="/word/${name}.xml" ContentType="${wordType}.${type}+xml"/>`;
  const files: Record<string, string | Uint8Array> = {
    '[Content_Types].xml':
      `${head}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">` +
      '<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>' +
      '<Default Extension="xml" ContentType="application/xml"/><Default Extension="png" ContentType="image/png"/>' +
      override('document', 'document.main') +
      Object.keys(parts)
        .map((type) => override(type, type))
        .join('') +
      '</Types>',
    '_rels/.rels': `${head}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${relation('rId1', 'officeDocument', 'word/document.xml')}</Relationships>`,
    'word/_rels/document.xml.rels': `${head}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${relations.join('')}</Relationships>`,
    'word/document.xml': `${head}<w:document ${names}><w:body>${body}</w:body></w:document>`,
    ...Object.fromEntries(
      Object.entries(parts).map(([type, xml]) => [
        `word/${type}.xml`,
        `${head}<${roots[type]} ${names}>${xml}</${roots[type]}>`,
      ]),
    ),
    ...Object.fromEntries(Object.entries(media).map(([name, bytes]) => [`word/media/${name}`, bytes])),
    ...others,
  };
  return zipSync(
    Object.fromEntries(
      Object.entries(files).map(([name, file]) => [name, typeof file === 'string' ? strToU8(file) : file]),
    ),
  );
}

/** A part of a package as text. */
export const partOf = (file: Uint8Array, name: string): string => new TextDecoder().decode(unzipSync(file)[name]);

/** One pixel (PNG, 2nd edition, clause 5; made by hand). */
export const pixel = Uint8Array.from(
  atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='),
  (sign) => sign.charCodeAt(0),
);
