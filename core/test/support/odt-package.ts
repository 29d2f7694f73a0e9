import { strToU8, zipSync } from 'fflate';

/** ODT packages made by hand, as small as the standard lets them be (OpenDocument 1.3 parts 2 and 3). */

const oasis = 'urn:oasis:names:tc:opendocument:xmlns';
export const odtNames =
  `xmlns:office="${oasis}:office:1.0" xmlns:style="${oasis}:style:1.0" xmlns:text="${oasis}:text:1.0" ` +
  `xmlns:table="${oasis}:table:1.0" xmlns:draw="${oasis}:drawing:1.0" xmlns:fo="${oasis}:xsl-fo-compatible:1.0" ` +
  `xmlns:svg="${oasis}:svg-compatible:1.0" xmlns:xlink="http://www.w3.org/1999/xlink" xmlns:dc="http://purl.org/dc/elements/1.1/" ` +
  `xmlns:meta="${oasis}:meta:1.0" xmlns:number="${oasis}:datastyle:1.0" xmlns:form="${oasis}:form:1.0" office:version="1.3"`;

const info = (author: string, date = '2026-11-02T10:00:00') =>
  `<office:change-info><dc:creator>${author}</dc:creator><dc:date>${date}</dc:date></office:change-info>`;

/** Something on the list of changes. */
export const region = (
  id: string,
  kind: 'insertion' | 'deletion' | 'format-change',
  content = '',
  author = 'Ines Vega',
): string =>
  `<text:changed-region xml:id="${id}" text:id="${id}"><text:${kind}>${info(author)}${content}</text:${kind}></text:changed-region>`;
export const start = (id: string): string => `<text:change-start text:change-id="${id}"/>`;
export const end = (id: string): string => `<text:change-end text:change-id="${id}"/>`;
export const gone = (id: string): string => `<text:change text:change-id="${id}"/>`;
export const tracked = (...regions: string[]): string =>
  `<text:tracked-changes>${regions.join('')}</text:tracked-changes>`;

export const tp = (content: string, style = 'Standard'): string =>
  `<text:p text:style-name="${style}">${content}</text:p>`;

export interface OdtBeside {
  automatic?: string;
  common?: string;
  others?: Record<string, string | Uint8Array>;
  /** Inside office:master-styles. */
  master?: string;
}

const plainStyles = ['Standard', 'Text_20_body', 'Footnote']
  .map((name) => `<style:style style:name="${name}" style:family="paragraph"/>`)
  .join('');

/** A whole package around what stands in office:text. */
export function odtOf(
  text: string,
  { automatic = '', common = '', others = {}, master = '' }: OdtBeside = {},
): Uint8Array {
  const head = '<?xml version="1.0" encoding="UTF-8"?>\n';
  const files: Record<string, string | Uint8Array> = {
    mimetype: 'application/vnd.oasis.opendocument.text',
    'content.xml':
      `${head}<office:document-content ${odtNames}><office:automatic-styles>${automatic}</office:automatic-styles>` +
      `<office:body><office:text>${text}</office:text></office:body></office:document-content>`,
    'styles.xml':
      `${head}<office:document-styles ${odtNames}><office:styles>${plainStyles}${common}</office:styles>` +
      `<office:master-styles>${master}</office:master-styles></office:document-styles>`,
    'META-INF/manifest.xml':
      `${head}<manifest:manifest xmlns:manifest="${oasis}:manifest:1.0" manifest:version="1.3">` +
      '<manifest:file-entry manifest:full-path="/" manifest:version="1.3" manifest:media-type="application/vnd.oasis.opendocument.text"/>' +
      '<manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/>' +
      '<manifest:file-entry manifest:full-path="styles.xml" manifest:media-type="text/xml"/></manifest:manifest>',
    ...others,
  };
  return zipSync(
    Object.fromEntries(
      Object.entries(files).map(([name, file]) => [
        name,
        [typeof file === 'string' ? strToU8(file) : file, { level: name === 'mimetype' ? 0 : 6 }] as const,
      ]),
    ) as never,
  );
}
