import type { Properties } from '../../manuscript/properties.js';
import type { ParagraphProperties } from '../../manuscript/schema.js';
import type { ParagraphStyle } from '../../manuscript/values.js';

/** What the references of a text mean: styles (ISO/IEC 29500-1, 17.7) and numbering (17.9). */
export interface Definitions {
  paragraphStyle(id: string | undefined): { style: ParagraphStyle; list: ParagraphProperties['list'] };
  /** The size and colour of words in paragraphs of a style, which words need not say themselves. */
  lookOfParagraph(id: string | undefined): Properties;
  characterStyle(id: string | undefined): Properties;
  /** Under which id the file has one of our styles, if it has it. */
  idOf(style: ParagraphStyle): string | undefined;
  listKind(numId: string | undefined, level: number): 'bullet' | 'number' | null;
  /** Whether a list is one that we put into the file. */
  isOwnList(numId: string | undefined): boolean;
  /** The language of words where they say none. */
  language: string | undefined;
}
