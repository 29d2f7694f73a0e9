import { nanoid } from 'nanoid';
import { Node } from 'prosemirror-model';
import {
  formats,
  outline,
  overAnyLimit,
  overTalk,
  schema,
  talkSize,
  TooMuch,
  UnreadableFile,
  type Asset,
  type FormatName,
  type Loss,
  type Person,
  type Reading,
  type Thread,
} from '@tea-pencil/core';
import { keptText, type KeptText } from '../database/kept-text.js';
import { pictureFile } from '../images/picture-file.js';
import { initialsFromFile, nameFromFile } from '../names/names.js';
import { withIds } from './ids.js';
import { keptOrigin, type KeptOrigin } from '../database/kept-origin.js';

/** Reads a file in a thread of its own, so that a large or hostile one never stops the server. */

export interface FileToRead {
  bytes: Uint8Array;
  format: FormatName;
  /** Where it is told how much has been read, in thousandths, how many changes and of how many; shared with whoever asks. */
  progress: Int32Array;
}

/** What came of it: why it cannot be read, or the text ready to be kept, with the people and threads it brings. */
export type ReadFile = { reason: string } | ReadFileMade;
export interface ReadFileMade {
  text: KeptText;
  people: Person[];
  outside: Person[];
  threads: Thread[];
  assets: Asset[];
  origin: KeptOrigin | null;
  losses: Loss[];
  carried: Loss[];
  /** Its own title, or its first heading. */
  title: string | undefined;
  protection: Reading['protection'];
}

export async function readFile({ bytes, format, progress }: FileToRead): Promise<ReadFile> {
  try {
    const { manuscript, losses, carried, title, protection } = await formats[format].read(bytes, ({ part, done, of }) =>
      [Math.round(part * 1000), done, of].forEach((n, i) => Atomics.store(progress, i, n)),
    );
    const over = overAnyLimit(null, manuscript.doc);
    if (over) throw new TooMuch(over);
    const overmuch = overTalk(talkSize(manuscript.threads));
    if (overmuch) throw new UnreadableFile(`is too much: ${overmuch}`);
    // Nobody a file names is ever taken for someone with an account.
    const outside: Person[] = [];
    const { doc, people, threads, assets, origin } = withIds(manuscript, (person) => {
      const name = nameFromFile(person.name);
      const added = { name, initials: initialsFromFile(person.initials, name), id: nanoid(12) };
      outside.push(added);
      return added.id;
    });
    const shown = await bareAssets(assets);
    const kept = shown.length < assets.length ? withoutPictures(doc, new Set(shown.map(({ id }) => id))) : doc;
    return {
      text: keptText(kept),
      people,
      outside,
      threads,
      assets: shown,
      origin: origin ? keptOrigin(origin) : null,
      losses,
      carried,
      title: title ?? (outline(doc)[0]?.text.slice(0, 200) || undefined),
      protection,
    };
  } catch (problem) {
    return {
      reason: problem instanceof UnreadableFile ? problem.reason : 'is damaged: it does not keep to its format',
    };
  }
}

/** The pictures that can be shown, without whatever else their files hold. */
async function bareAssets(assets: readonly Asset[]): Promise<Asset[]> {
  const shown: Asset[] = [];
  for (const { id, bytes } of assets) {
    const file = await pictureFile(bytes);
    if (typeof file !== 'string') shown.push({ id, type: file.type, bytes: file.bytes });
  }
  return shown;
}

/** The text with pictures that are none as what they are: things of their file, which go out again as they came. */
function withoutPictures(doc: Node, shown: ReadonlySet<string>): Node {
  if (doc.type === schema.nodes.image && !shown.has(doc.attrs.asset as string)) {
    const { carried, alt } = doc.attrs as { carried: string | null; alt: string };
    return schema.nodes.carried_thing.create(
      { carried: carried ?? 'none', what: 'picture', says: alt },
      null,
      doc.marks.filter(({ type }) => type !== schema.marks.formatting),
    );
  }
  if (doc.isLeaf) return doc;
  const content: Node[] = [];
  doc.forEach((child) => content.push(withoutPictures(child, shown)));
  return content.some((child, i) => child !== doc.child(i)) ? doc.type.create(doc.attrs, content, doc.marks) : doc;
}
