import type { Node } from 'prosemirror-model';
import {
  barePicture,
  fairReading,
  formats,
  kinds,
  proveFair,
  proveMarked,
  writeAnnotations,
  type Excuses,
  type Asset,
  type FormatName,
  type Manuscript,
  type Proof,
  type Protection,
} from '@tea-pencil/core';

/** The copies of a manuscript that can be taken away; none holds notes to oneself. */

export interface Titled extends Excuses {
  id: string;
  title: string;
  /** What keeps everyone to recorded changes, for marked copies that can say so; undefined: the file stays as it came. */
  protection: Protection | null | undefined;
}

export interface Copy {
  ending: string;
  type: string;
  read: (doc: Node) => Node;
  write: (manuscript: Manuscript, about: Titled) => Promise<Uint8Array>;
  /** Into what kind of file it is written, and so into which the manuscript came from; null for none. */
  format: FormatName | null;
  /** Whether its pictures go with it. */
  pictures: boolean;
  /** Whether threads go with it. */
  threads: boolean;
  /** Reads it again. */
  prove?: Proof;
}

const asItIs = (doc: Node) => doc;

function annotations(manuscript: Manuscript, { id, title }: Titled): Promise<Uint8Array> {
  const collection = writeAnnotations(manuscript, `urn:tea-pencil:manuscript:${id}`, title);
  return Promise.resolve(new TextEncoder().encode(JSON.stringify(collection, null, 1)));
}

const forms = ['marked', 'fair', 'commented'] as const;
type Form = (typeof forms)[number];
const names: Record<Form, string> = {
  marked: 'marked',
  fair: 'fair copy',
  commented: 'fair copy with comments',
};

const withBarePicture = (asset: Asset): Asset => ({ ...asset, bytes: barePicture(asset.bytes) });

/** The copy of that form in a format that holds what is pending. */
function copyIn(format: FormatName, form: Form): Copy {
  const { type, write, endings } = formats[format];
  const isMarked = form === 'marked';
  return {
    ending: ` (${names[form]}).${endings[0]}`,
    type,
    read: isMarked ? asItIs : fairReading,
    write: (manuscript, { protection, nameless = false, inert = false }) => {
      const bare = nameless ? { ...manuscript, assets: manuscript.assets.map(withBarePicture) } : manuscript;
      return write(bare, { clean: !isMarked, protection: isMarked ? protection : null, nameless, inert });
    },
    format,
    pictures: format !== 'md',
    threads: form !== 'fair',
    prove: isMarked ? proveMarked(format) : proveFair(format),
  };
}

const holding = Object.values(kinds)
  .filter(({ holds }) => holds.changes)
  .map(({ name }) => name);

export type CopyName = `${Form}.${FormatName}` | 'threads.jsonld';

const all: [CopyName, Copy][] = [
  ...holding.flatMap((format) => forms.map((form): [CopyName, Copy] => [`${form}.${format}`, copyIn(format, form)])),
  [
    'fair.txt',
    {
      ending: ' (fair copy).txt',
      type: formats.txt.type,
      read: fairReading,
      write: (manuscript) => formats.txt.write(manuscript),
      format: 'txt',
      pictures: false,
      threads: false,
    },
  ],
  [
    'threads.jsonld',
    {
      ending: ' (threads).jsonld',
      type: 'application/ld+json',
      read: asItIs,
      write: annotations,
      format: null,
      pictures: false,
      threads: true,
    },
  ],
];

export const copies = Object.fromEntries(all) as Readonly<Record<CopyName, Copy>>;

/** A name without what no system takes in a name of a file. */
export const fileName = (name: string): string => name.replace(/[\\/:*?"<>|]/g, '-');
