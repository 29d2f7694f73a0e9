import { toByteArray } from 'base64-js';
import { strFromU8 } from 'fflate';
import { largestFile, unpack, xmlText, type Parts } from '../package.js';
import { UnreadableFile } from '../unreadable.js';
import { textTypes } from './names.js';

/** An OpenDocument file: a package of parts (ISO/IEC 26300-2), or all of it in one piece of XML (part 3, 2.2.1). */
export interface Opened {
  kind: 'odt' | 'fodt';
  parts: Parts;
  /** The XML with the text, and that with the styles the whole file shares, which may be the same. */
  content: string;
  styles: string | undefined;
}

/** Why a text that is a package cannot be read although it can be unpacked; null where it can. */
function lockedOrOther(parts: Parts): string | null {
  const said = parts.get('mimetype');
  const type = said ? strFromU8(said.subarray(0, 200)).trim() : undefined;
  const manifest = parts.get('META-INF/manifest.xml');
  if (manifest && /<[\w:]*encryption-data\b/.test(xmlText(manifest))) return 'is locked with a password';
  if (type === undefined || textTypes.has(type)) return null;
  return /opendocument/.test(type)
    ? 'is an OpenDocument file, but no text'
    : 'is not an ODT file: it says it is another';
}

/** @throws UnreadableFile where it is no text of this kind */
export function openOdt(bytes: Uint8Array): Opened {
  const parts = unpack(bytes);
  const problem = lockedOrOther(parts);
  if (problem) throw new UnreadableFile(problem);
  const content = parts.get('content.xml');
  if (!content) throw new UnreadableFile('is not an ODT file: it has no text');
  const styles = parts.get('styles.xml');
  return { kind: 'odt', parts, content: xmlText(content), styles: styles && xmlText(styles) };
}

/** The pictures of our own file, also those that only changes speak of: by the names of the parts they would be. */
function picturesIn(content: string): Parts {
  const parts: Parts = new Map();
  const pictures = /<(?:tp:picture|office:binary-data) tp:part="([^"<&]*)">([A-Za-z0-9+/=]*)<\//g;
  for (const [, name, data] of content.matchAll(pictures))
    if (data!.length % 4 === 0) parts.set(name!, toByteArray(data!));
  return parts;
}

/** @throws UnreadableFile where it is no text of this kind */
export function openFlat(bytes: Uint8Array): Opened {
  if (bytes.length === 0) throw new UnreadableFile('is empty');
  if (bytes.length > largestFile) throw new UnreadableFile('is larger than 50 MB');
  const content = xmlText(bytes);
  const type = /<[^>]*\bmimetype\s*=\s*["']([^"']*)["']/.exec(content.slice(0, 20_000))?.[1];
  if (!/<(?:[\w.-]+:)?document\b/.test(content.slice(0, 5000)))
    throw new UnreadableFile('is not what its name says: it is no OpenDocument text in one piece');
  if (type !== undefined && !textTypes.has(type)) throw new UnreadableFile('is an OpenDocument file, but no text');
  return { kind: 'fodt', parts: picturesIn(content), content, styles: content };
}

export const open = (kind: Opened['kind'], bytes: Uint8Array): Opened => (kind === 'odt' ? openOdt : openFlat)(bytes);
