import type { Loss, Manuscript, Reading } from '../manuscript/manuscript.js';
import { readDocx } from './docx/read.js';
import { writeDocx } from './docx/write.js';
import type { WriteOptions } from './options.js';
import { readHtml } from './html/read.js';
import { writeHtml } from './html/write.js';
import { readMarkdown } from './markdown/read.js';
import { lostInMarkdown, writeMarkdown } from './markdown/write.js';
import { readFodt, readOdt } from './odt/read.js';
import { writeFodt, writeOdt } from './odt/write.js';
import { readText, writeText } from './text/text.js';

/** All formats of files there are; whoever takes, gives or speaks of files takes it from here. */

export type FormatName = 'docx' | 'odt' | 'fodt' | 'html' | 'md' | 'txt';

export interface Format {
  name: FormatName;
  /** How it is called. */
  title: string;
  /** What its files are called: “DOCX files”. */
  files: string;
  /** The media type (IANA). */
  type: string;
  /** What it holds besides words: pending changes, threads, and what a manuscript does not know. */
  holds: { changes: boolean; threads: boolean; carried: boolean };
  /**
   * @param tell hears how much has been read, from 0 to 1, where that is known
   * @throws UnreadableFile with the reason
   */
  read(bytes: Uint8Array, tell?: (part: number) => void): Promise<Reading>;
  write(manuscript: Manuscript, how?: WriteOptions): Promise<Uint8Array>;
  /** What writing leaves behind, besides what the format does not hold at all. */
  leaves?(manuscript: Manuscript): Loss[];
}

export const formats: Readonly<Record<FormatName, Format>> = {
  docx: {
    name: 'docx',
    title: 'DOCX',
    files: 'DOCX files',
    type: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
    holds: { changes: true, threads: true, carried: true },
    read: readDocx,
    write: writeDocx,
  },
  odt: {
    name: 'odt',
    title: 'ODT',
    files: 'ODT files',
    type: 'application/vnd.oasis.opendocument.text',
    holds: { changes: true, threads: true, carried: true },
    read: readOdt,
    write: writeOdt,
  },
  fodt: {
    name: 'fodt',
    title: 'FODT',
    files: 'ODT in one piece (FODT)',
    type: 'application/vnd.oasis.opendocument.text-flat-xml',
    holds: { changes: true, threads: true, carried: true },
    read: readFodt,
    write: writeFodt,
  },
  html: {
    name: 'html',
    title: 'HTML',
    files: 'pages (HTML)',
    type: 'text/html; charset=utf-8',
    holds: { changes: true, threads: true, carried: false },
    read: readHtml,
    write: writeHtml,
  },
  md: {
    name: 'md',
    title: 'Markdown',
    files: 'Markdown (MD)',
    type: 'text/markdown; charset=utf-8',
    holds: { changes: true, threads: true, carried: false },
    read: readMarkdown,
    write: writeMarkdown,
    leaves: lostInMarkdown,
  },
  txt: {
    name: 'txt',
    title: 'plain text',
    files: 'plain text (TXT)',
    type: 'text/plain; charset=utf-8',
    holds: { changes: false, threads: false, carried: false },
    read: readText,
    write: writeText,
  },
};

/** The format of a file by the ending of its name; undefined where there is none. */
export function formatOf(fileName: string): Format | undefined {
  const ending = /\.(\w+)$/.exec(fileName)?.[1]?.toLowerCase() ?? '';
  return Object.hasOwn(formats, ending) ? formats[ending as FormatName] : undefined;
}

/** What files are taken, as words: “DOCX files and plain text (TXT)”. */
export const filesTaken = (): string => {
  const all = Object.values(formats).map(({ files }) => files);
  return all.length < 2 ? all.join('') : `${all.slice(0, -1).join(', ')} and ${all.at(-1)}`;
};
