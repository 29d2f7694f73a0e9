import type { Loss, Manuscript, Reading } from '../manuscript/manuscript.js';
import { readDocx } from './docx/read.js';
import { writeDocx } from './docx/write.js';
import { kinds, type FormatName, type Kind } from './kinds.js';
import type { Tell, WriteOptions } from './options.js';
import { readHtml } from './html/read.js';
import { writeHtml } from './html/write.js';
import { readMarkdown } from './markdown/read.js';
import { lostInMarkdown, writeMarkdown } from './markdown/write.js';
import { readFodt, readOdt } from './odt/read.js';
import { writeFodt, writeOdt } from './odt/write.js';
import { readText, writeText } from './text/text.js';

/** All formats of files there are; whoever takes or gives files takes reading and writing from here. */

export interface Format extends Kind {
  /**
   * @param tell hears how far it is, where that is known
   * @throws UnreadableFile with the reason
   */
  read(bytes: Uint8Array, tell?: Tell): Promise<Reading>;
  write(manuscript: Manuscript, how?: WriteOptions): Promise<Uint8Array>;
  /** What writing leaves behind, besides what the format does not hold at all. */
  leaves?(manuscript: Manuscript): Loss[];
}

export const formats: Readonly<Record<FormatName, Format>> = {
  docx: { ...kinds.docx, read: readDocx, write: writeDocx },
  odt: { ...kinds.odt, read: readOdt, write: writeOdt },
  fodt: { ...kinds.fodt, read: readFodt, write: writeFodt },
  html: { ...kinds.html, read: readHtml, write: writeHtml },
  md: { ...kinds.md, read: readMarkdown, write: writeMarkdown, leaves: lostInMarkdown },
  txt: { ...kinds.txt, read: readText, write: writeText },
};
