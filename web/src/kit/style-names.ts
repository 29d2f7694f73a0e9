import type { ParagraphStyle } from '@tea-pencil/core';

/** The paragraph styles as a menu names them. */
export const styleLabels: [ParagraphStyle, string][] = [
  ['body', 'Body text'],
  ['title', 'Title'],
  ['heading1', 'Heading 1'],
  ['heading2', 'Heading 2'],
  ['heading3', 'Heading 3'],
  ['quotation', 'Quotation'],
];
