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

/** The simple run properties that a manuscript holds, by element (17.3.2). */
export const toggles: Record<string, string> = { 'w:b': 'bold', 'w:i': 'italic', 'w:strike': 'strike' };
