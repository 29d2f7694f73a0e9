/** The kinds of files there are, as facts; reading and writing them is `formats.ts`. */

export type FormatName = 'docx' | 'odt' | 'fodt' | 'html' | 'md' | 'txt';

export interface Kind {
  name: FormatName;
  /** How it is called. */
  title: string;
  /** What its files are called: “DOCX files”. */
  files: string;
  /** With what their names end; the first is what ours end with. */
  endings: readonly string[];
  /** The media type (IANA). */
  type: string;
  /** What it holds besides words: pending changes, threads, and what a manuscript does not know. */
  holds: { changes: boolean; threads: boolean; carried: boolean };
}

export const kinds: Readonly<Record<FormatName, Kind>> = {
  docx: {
    name: 'docx',
    title: 'DOCX',
    files: 'DOCX files',
    endings: ['docx'],
    type: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
    holds: { changes: true, threads: true, carried: true },
  },
  odt: {
    name: 'odt',
    title: 'ODT',
    files: 'ODT files',
    endings: ['odt'],
    type: 'application/vnd.oasis.opendocument.text',
    holds: { changes: true, threads: true, carried: true },
  },
  fodt: {
    name: 'fodt',
    title: 'FODT',
    files: 'ODT in one piece (FODT)',
    endings: ['fodt'],
    type: 'application/vnd.oasis.opendocument.text-flat-xml',
    holds: { changes: true, threads: true, carried: true },
  },
  html: {
    name: 'html',
    title: 'HTML',
    files: 'pages (HTML)',
    endings: ['html', 'htm', 'xhtml'],
    type: 'text/html; charset=utf-8',
    holds: { changes: true, threads: true, carried: false },
  },
  md: {
    name: 'md',
    title: 'Markdown',
    files: 'Markdown (MD)',
    endings: ['md', 'markdown'],
    type: 'text/markdown; charset=utf-8',
    holds: { changes: true, threads: true, carried: false },
  },
  txt: {
    name: 'txt',
    title: 'plain text',
    files: 'plain text (TXT)',
    endings: ['txt', 'text'],
    type: 'text/plain; charset=utf-8',
    holds: { changes: false, threads: false, carried: false },
  },
};

/** The kind of a file by the ending of its name; undefined where there is none. */
export function kindOf(fileName: string): Kind | undefined {
  const ending = /\.(\w+)$/.exec(fileName)?.[1]?.toLowerCase() ?? '';
  return Object.values(kinds).find(({ endings }) => endings.includes(ending));
}

/** The endings of all files that are taken, as a page asks for them. */
export const endingsTaken: string = Object.values(kinds)
  .flatMap(({ endings }) => endings.map((ending) => `.${ending}`))
  .join();

/** What files are taken, as words: “DOCX files, ODT files and plain text (TXT)”. */
export const filesTaken = (): string => {
  const all = Object.values(kinds).map(({ files }) => files);
  return `${all.slice(0, -1).join(', ')} and ${all.at(-1)}`;
};
