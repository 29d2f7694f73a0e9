import type { Prefixes } from '../xml.js';

/** Names of WordprocessingML (ISO/IEC 29500-1, clause 17) and what they stand for in a manuscript. */

export const namespaces = {
  'xmlns:w': 'http://schemas.openxmlformats.org/wordprocessingml/2006/main',
  'xmlns:r': 'http://schemas.openxmlformats.org/officeDocument/2006/relationships',
  'xmlns:mc': 'http://schemas.openxmlformats.org/markup-compatibility/2006',
  'xmlns:w14': 'http://schemas.microsoft.com/office/word/2010/wordml',
  'xmlns:w15': 'http://schemas.microsoft.com/office/word/2012/wordml',
  // Which change a mark belongs to; other programs pass over it (ISO/IEC 29500-3, clause 7.2: Ignorable).
  'xmlns:tp': 'urn:tea-pencil:1',
  'mc:Ignorable': 'w14 w15 tp',
} as const;

/** The namespaces of both conformance classes, transitional and strict (ISO/IEC 29500-1, annex A; 29500-4, annex A). */
export const prefixes: Prefixes = {
  'http://schemas.openxmlformats.org/wordprocessingml/2006/main': 'w',
  'http://purl.oclc.org/ooxml/wordprocessingml/main': 'w',
  'http://schemas.openxmlformats.org/officeDocument/2006/relationships': 'r',
  'http://purl.oclc.org/ooxml/officeDocument/relationships': 'r',
  'http://schemas.openxmlformats.org/officeDocument/2006/math': 'm',
  'http://purl.oclc.org/ooxml/officeDocument/math': 'm',
  'http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing': 'wp',
  'http://purl.oclc.org/ooxml/drawingml/wordprocessingDrawing': 'wp',
  'http://schemas.openxmlformats.org/drawingml/2006/main': 'a',
  'http://purl.oclc.org/ooxml/drawingml/main': 'a',
  'http://schemas.openxmlformats.org/drawingml/2006/picture': 'pic',
  'http://purl.oclc.org/ooxml/drawingml/picture': 'pic',
  'http://schemas.openxmlformats.org/markup-compatibility/2006': 'mc',
  'http://schemas.microsoft.com/office/word/2010/wordml': 'w14',
  'http://schemas.microsoft.com/office/word/2012/wordml': 'w15',
  'urn:schemas-microsoft-com:vml': 'v',
  'urn:tea-pencil:1': 'tp',
  'http://purl.org/dc/terms/': 'dcterms',
  'http://purl.org/dc/elements/1.1/': 'dc',
  'http://schemas.openxmlformats.org/package/2006/relationships': '',
  'http://schemas.openxmlformats.org/package/2006/content-types': '',
};

/** Our paragraph styles and the built-in style of the file format, by id and name (17.7.4, and annex of style names). */
export const styleNames: Record<string, { id: string; name: string }> = {
  title: { id: 'Title', name: 'Title' },
  heading1: { id: 'Heading1', name: 'heading 1' },
  heading2: { id: 'Heading2', name: 'heading 2' },
  heading3: { id: 'Heading3', name: 'heading 3' },
  heading4: { id: 'Heading4', name: 'heading 4' },
  heading5: { id: 'Heading5', name: 'heading 5' },
  heading6: { id: 'Heading6', name: 'heading 6' },
  quotation: { id: 'Quote', name: 'Quote' },
  rule: { id: 'Rule', name: 'Rule' },
};

/** Alignments (17.18.44) of both generations of the standard. */
export const alignments: Record<string, 'left' | 'center' | 'right' | 'justify'> = {
  left: 'left',
  start: 'left',
  center: 'center',
  right: 'right',
  end: 'right',
  both: 'justify',
};
export const alignmentNames = { left: 'left', center: 'center', right: 'right', justify: 'both' } as const;

/** One step of indentation in twentieths of a point: half an inch. */
export const indentStep = 720;

/** Twentieths of a point in a pixel, and English metric units in one (17.18.74; 20.1.2.1). */
export const twipsInPixel = 15;
export const emuInPixel = 9525;

/** Simple run properties that are on or off (17.3.2). */
export const toggles: Record<string, 'bold' | 'italic' | 'strike'> = {
  'w:b': 'bold',
  'w:i': 'italic',
  'w:strike': 'strike',
};

/** The order in which the properties of a run and of a paragraph stand (17.3.2.28 CT_RPr, 17.3.1.26 CT_PPr). */
export const runOrder =
  'rStyle rFonts b bCs i iCs caps smallCaps strike dstrike outline shadow emboss imprint noProof snapToGrid vanish webHidden color spacing w kern position sz szCs highlight u effect bdr shd fitText vertAlign rtl cs em lang eastAsianLayout specVanish oMath'.split(
    ' ',
  );
export const paragraphOrder =
  'pStyle keepNext keepLines pageBreakBefore framePr widowControl numPr suppressLineNumbers pBdr shd tabs suppressAutoHyphens kinsoku wordWrap overflowPunct topLinePunct autoSpaceDE autoSpaceDN bidi adjustRightInd snapToGrid spacing ind contextualSpacing mirrorIndents suppressOverlap jc textDirection textAlignment textboxTightWrap outlineLvl divId cnfStyle rPr sectPr pPrChange'.split(
    ' ',
  );
