import { strFromU8, strToU8, unzipSync, zipSync, type Zippable } from 'fflate';
import { UnreadableFile } from './unreadable.js';

/** Files that are zip packages of parts (ISO/IEC 29500-2, ISO/IEC 26300-2). */

/** The largest package that is read, packed. */
export const largestFile = 50 * 1024 * 1024;
/** How many parts are read, and how large they may be together, unpacked: no book comes near it, a hostile file does. */
const mostParts = 5000;
const largestUnpacked = 120 * 1024 * 1024;

/** The parts of a package, each by its path, in their order. */
export type Parts = Map<string, Uint8Array>;

/** @throws UnreadableFile with the reason, where the bytes are no package that can be read */
export function unpack(bytes: Uint8Array): Parts {
  if (bytes.length === 0) throw new UnreadableFile('is empty');
  if (bytes.length > largestFile) throw new UnreadableFile('is larger than 50 MB');
  if (bytes[0] !== 0x50 || bytes[1] !== 0x4b)
    throw new UnreadableFile('is not what its name says: it is no package of parts');
  let total = 0;
  let howMany = 0;
  try {
    const parts = unzipSync(bytes, {
      filter: ({ name, size, originalSize }) => {
        if (name.endsWith('/')) return false;
        if (++howMany > mostParts) throw new UnreadableFile(`has more than ${mostParts.toLocaleString('en')} parts`);
        // Parts may lie over one another and be stored as they are, so both sizes count.
        total += Math.max(size, originalSize);
        if (total > largestUnpacked) throw new UnreadableFile('unpacks to more than 120 MB');
        return true;
      },
    });
    return new Map(Object.entries(parts));
  } catch (problem) {
    if (problem instanceof UnreadableFile) throw problem;
    throw new UnreadableFile('is damaged or cut short: it cannot be unpacked');
  }
}

/** Which parts gain nothing by being packed once more, or must not be (ISO/IEC 26300-2, 3.3). */
const isPacked = /^mimetype$|\.(png|jpe?g|gif|webp|zip|docx|xlsx|pptx|odttf|odt)$/i;

/** Packs parts into one file. The time in it is fixed, so that the same parts give the same bytes. */
export function pack(parts: Iterable<readonly [string, string | Uint8Array]>): Uint8Array {
  const entries: Zippable = {};
  for (const [name, content] of parts) {
    const bytes = typeof content === 'string' ? strToU8(content) : content;
    entries[name] = [bytes, { level: isPacked.test(name) ? 0 : 3 }];
  }
  return zipSync(entries, { mtime: '1980-01-01' });
}

/** An XML part as text: UTF-8, or UTF-16 where its byte order mark says so (XML 1.0, appendix F). */
export function xmlText(bytes: Uint8Array): string {
  const wide = bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'be' : '';
  if (!wide) return strFromU8(bytes[0] === 0xef && bytes[1] === 0xbb ? bytes.subarray(3) : bytes);
  let text = '';
  for (let at = 2; at + 1 < bytes.length; at += 2)
    text += String.fromCharCode(
      wide === 'be' ? (bytes[at]! << 8) | bytes[at + 1]! : bytes[at]! | (bytes[at + 1]! << 8),
    );
  return text;
}
