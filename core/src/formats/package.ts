import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { UnreadableFile } from './unreadable.js';

/** Files that are zip packages of XML parts (ISO/IEC 29500-2, ISO/IEC 26300-2). */

/** The largest package that is read, packed. */
export const largestFile = 50 * 1024 * 1024;
/** How many parts are read, and how large they may be together, unpacked: no book comes near it, a hostile file does. */
const mostParts = 500;
const largestUnpacked = 120 * 1024 * 1024;

/** The XML parts of a package, each by its path. Pictures and other parts are left packed. */
export function unpack(bytes: Uint8Array): Map<string, string> {
  if (bytes.length === 0) throw new UnreadableFile('is empty');
  if (bytes.length > largestFile) throw new UnreadableFile('is larger than 50 MB');
  if (bytes[0] !== 0x50 || bytes[1] !== 0x4b)
    throw new UnreadableFile('is not what its name says: it is no package of parts');
  let total = 0;
  let howMany = 0;
  try {
    const parts = unzipSync(bytes, {
      filter: ({ name, size, originalSize }) => {
        if (!/\.(xml|rels)$/i.test(name)) return false;
        if (++howMany > mostParts) throw new UnreadableFile(`has more than ${mostParts} parts`);
        // Parts may lie over one another and be stored as they are, so both sizes count.
        total += Math.max(size, originalSize);
        if (total > largestUnpacked) throw new UnreadableFile('unpacks to more than 120 MB');
        return true;
      },
    });
    return new Map(Object.entries(parts).map(([name, part]) => [name, strFromU8(part)]));
  } catch (problem) {
    if (problem instanceof UnreadableFile) throw problem;
    throw new UnreadableFile('is damaged or cut short: it cannot be unpacked');
  }
}

/** Packs parts into one file. The time in it is fixed, so that the same parts give the same bytes. */
export function pack(parts: Record<string, string>): Uint8Array {
  const entries = Object.fromEntries(Object.entries(parts).map(([name, text]) => [name, strToU8(text)]));
  return zipSync(entries, { mtime: '1980-01-01', level: 6 });
}
