/** Characters of plain files: in which encoding they are, found by byte order mark, by what the file says, by validity. */

export interface Decoded {
  text: string;
  /** A label of the Encoding Standard (WHATWG), in lower case. */
  encoding: string;
  /** Whether the file began with a byte order mark. */
  marked: boolean;
}

const marks: [encoding: string, bytes: number[]][] = [
  ['utf-8', [0xef, 0xbb, 0xbf]],
  ['utf-16le', [0xff, 0xfe]],
  ['utf-16be', [0xfe, 0xff]],
];

/** What an encoding is called. */
export const encodingNames: Readonly<Record<string, string>> = {
  'utf-8': 'UTF-8',
  'utf-16le': 'UTF-16',
  'utf-16be': 'UTF-16',
  'windows-1252': 'Windows-1252',
};

function decoded(bytes: Uint8Array, encoding: string): string | null {
  try {
    return new TextDecoder(encoding, { fatal: true }).decode(bytes);
  } catch {
    return null;
  }
}

// WHATWG Encoding, index windows-1252, from 0x80 to 0x9F. (Node 20 decodes these as controls.)
const special = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ';

function western(bytes: Uint8Array): string {
  let text = '';
  for (let at = 0; at < bytes.length; at += 8192) text += String.fromCharCode(...bytes.subarray(at, at + 8192));
  return text.replace(/[\u0080-\u009f]/g, (sign) => special[sign.charCodeAt(0) - 0x80]!);
}

/** Two bytes a letter without a mark: nearly every other byte of what is mostly Latin letters is nothing. */
function wideWithoutMark(bytes: Uint8Array): string | null {
  const sample = Math.min(bytes.length & ~1, 4000);
  if (sample < 8) return null;
  const zeros = [0, 0];
  for (let at = 0; at < sample; at++) if (bytes[at] === 0) zeros[at % 2]!++;
  const half = sample / 2;
  if (zeros[1]! > half * 0.7 && zeros[0]! < half * 0.1) return 'utf-16le';
  return zeros[0]! > half * 0.7 && zeros[1]! < half * 0.1 ? 'utf-16be' : null;
}

/**
 * @param said what the file says of itself, believed where it is so
 * @returns null where the bytes are no text: they hold what no encoding here has
 */
export function decode(bytes: Uint8Array, said?: string): Decoded | null {
  for (const [encoding, mark] of marks) {
    if (!mark.every((byte, i) => bytes[i] === byte)) continue;
    const text = decoded(bytes.subarray(mark.length), encoding);
    return text === null ? null : { text, encoding, marked: true };
  }
  const wide = wideWithoutMark(bytes);
  const tried = [wide, said && Object.hasOwn(encodingNames, said) ? said : null, wide ? null : 'utf-8'];
  for (const encoding of tried) {
    const text = encoding ? decoded(bytes, encoding) : null;
    if (encoding && text !== null) return { text, encoding, marked: false };
  }
  // Bytes of Windows-1252 are never nothing, nor controls but tab and line ends (WHATWG Encoding, index windows-1252).
  if (bytes.some((byte) => byte < 32 && byte !== 9 && byte !== 10 && byte !== 13 && byte !== 12)) return null;
  return { text: western(bytes), encoding: 'windows-1252', marked: false };
}

/** A text in one of the encodings above that hold all letters; UTF-8 where it was another. */
export function encode(text: string, { encoding, marked }: Omit<Decoded, 'text'>): Uint8Array {
  if (encoding !== 'utf-16le' && encoding !== 'utf-16be')
    return new TextEncoder().encode((marked && encoding === 'utf-8' ? '\ufeff' : '') + text);
  const whole = `${marked ? '\ufeff' : ''}${text}`;
  const bytes = new Uint8Array(whole.length * 2);
  const view = new DataView(bytes.buffer);
  for (let i = 0; i < whole.length; i++) view.setUint16(i * 2, whole.charCodeAt(i), encoding === 'utf-16le');
  return bytes;
}
