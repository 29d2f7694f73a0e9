import type { Mark } from 'prosemirror-model';
import type { Properties } from '../../manuscript/properties.js';
import type { ParagraphProperties } from '../../manuscript/schema.js';
import type { PageElement } from './page.js';

/** What one reads in. */
export interface Around {
  properties: Properties;
  link: string | null;
  inserted: readonly PageElement[];
  deleted: readonly PageElement[];
  /** What was looked otherwise before, as a page of ours tells it. */
  formatted: readonly (readonly Mark[])[];
  threads: readonly string[];
  style: ParagraphProperties['style'];
  align: ParagraphProperties['align'];
  list: readonly ('bullet' | 'number')[];
  keepsSpace: boolean;
  depth: number;
}
