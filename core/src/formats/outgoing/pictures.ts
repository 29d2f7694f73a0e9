/**
 * Pictures without what their files say besides the picture: who took it, where, with what, and what somebody noted. What
 * decides how it looks stays, the way it is turned included.
 */

const joined = (pieces: readonly Uint8Array[]): Uint8Array => {
  const all = new Uint8Array(pieces.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const piece of pieces) {
    all.set(piece, at);
    at += piece.length;
  }
  return all;
};
const text = (bytes: Uint8Array, from: number, to: number) => String.fromCharCode(...bytes.subarray(from, to));

/** How a picture is turned, as its Exif says (Exif 2.32, 4.6.4, tag 274); null where it says nothing. */
function orientationIn(exif: Uint8Array): number | null {
  const view = new DataView(exif.buffer, exif.byteOffset, exif.length);
  if (text(exif, 0, 4) !== 'Exif' || exif.length < 16) return null;
  const little = text(exif, 6, 8) === 'II';
  const first = 6 + view.getUint32(10, little);
  if (first + 2 > exif.length) return null;
  for (let n = view.getUint16(first, little), at = first + 2; n > 0 && at + 12 <= exif.length; n--, at += 12)
    if (view.getUint16(at, little) === 274) return view.getUint16(at + 8, little);
  return null;
}

/** A segment that says how the picture is turned, and nothing else. */
const turned = (orientation: number) =>
  Uint8Array.from([
    ...[0xff, 0xe1, 0, 34, 0x45, 0x78, 0x69, 0x66, 0, 0, 0x4d, 0x4d, 0, 42, 0, 0, 0, 8, 0, 1],
    ...[0x01, 0x12, 0, 3, 0, 0, 0, 1, 0, orientation, 0, 0, 0, 0, 0, 0],
  ]);

/** JPEG (ITU-T T.81, annex B): application segments and comments go, but for JFIF, colour profiles and Adobe’s. */
function bareJpeg(bytes: Uint8Array): Uint8Array {
  const pieces = [bytes.subarray(0, 2)];
  let at = 2;
  while (at + 4 <= bytes.length && bytes[at] === 0xff) {
    const marker = bytes[at + 1]!;
    // From the scan on everything is the picture.
    if (marker === 0xda) break;
    const end = at + 2 + (bytes[at + 2]! << 8) + bytes[at + 3]!;
    if (end > bytes.length || end < at + 4) return bytes;
    const segment = bytes.subarray(at, end);
    const isProfile = marker === 0xe2 && text(bytes, at + 4, at + 15) === 'ICC_PROFILE';
    const says = (marker >= 0xe1 && marker <= 0xef && marker !== 0xee && !isProfile) || marker === 0xfe;
    const orientation = marker === 0xe1 ? orientationIn(segment.subarray(4)) : null;
    if (!says) pieces.push(segment);
    else if (orientation !== null && orientation !== 1) pieces.push(turned(orientation));
    at = end;
  }
  pieces.push(bytes.subarray(at));
  return joined(pieces);
}

/** PNG (3rd edition, 11.3.3 and 11.3.4): chunks of text, time and Exif go. */
function barePng(bytes: Uint8Array): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const pieces = [bytes.subarray(0, 8)];
  for (let at = 8; at + 12 <= bytes.length;) {
    const end = at + 12 + view.getUint32(at);
    if (end > bytes.length) return bytes;
    if (!/^(tEXt|zTXt|iTXt|eXIf|tIME)$/.test(text(bytes, at + 4, at + 8))) pieces.push(bytes.subarray(at, end));
    at = end;
  }
  return joined(pieces);
}

/** GIF (89a, 24 and 26): comments go, and application data but for how often it is repeated. */
function bareGif(bytes: Uint8Array): Uint8Array {
  const table = (flags: number) => (flags & 0x80 ? 3 * 2 ** ((flags & 7) + 1) : 0);
  let at = 13 + table(bytes[10]!);
  const pieces = [bytes.subarray(0, at)];
  const blocksEnd = (from: number) => {
    let end = from;
    while (end < bytes.length && bytes[end]) end += bytes[end]! + 1;
    return end + 1;
  };
  while (at < bytes.length && bytes[at] !== 0x3b) {
    const isImage = bytes[at] === 0x2c;
    if (!isImage && bytes[at] !== 0x21) return bytes;
    const end = isImage ? blocksEnd(at + 11 + table(bytes[at + 9]!)) : blocksEnd(at + 2);
    // A block of three bytes that begins with 1 says how often the pictures are repeated.
    const repeats = bytes[at + 14] === 3 && bytes[at + 15] === 1;
    const says = !isImage && (bytes[at + 1] === 0xfe || (bytes[at + 1] === 0xff && !repeats));
    if (!says) pieces.push(bytes.subarray(at, end));
    at = end;
  }
  return joined([...pieces, bytes.subarray(at)]);
}

/** WebP (RFC 9649, 2.7): chunks of Exif and XMP go, and what announces them. */
function bareWebp(bytes: Uint8Array): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const pieces: Uint8Array[] = [];
  for (let at = 12; at + 8 <= bytes.length;) {
    const size = view.getUint32(at + 4, true);
    const end = Math.min(bytes.length, at + 8 + size + (size & 1));
    const kind = text(bytes, at, at + 4);
    const chunk = bytes.slice(at, end);
    if (kind === 'VP8X') chunk[8] = chunk[8]! & ~0x0c;
    if (kind !== 'EXIF' && kind !== 'XMP ') pieces.push(chunk);
    at = end;
  }
  const rest = joined(pieces);
  const head = bytes.slice(0, 12);
  new DataView(head.buffer).setUint32(4, rest.length + 4, true);
  return joined([head, rest]);
}

/**
 * A picture without what its file says besides it.
 * @param bytes JPEG, PNG, GIF or WebP; of another kind, or damaged, it comes back as it is
 */
export function barePicture(bytes: Uint8Array): Uint8Array {
  const [a, b, c, d] = bytes;
  let bare = bytes;
  try {
    if (a === 0xff && b === 0xd8) bare = bareJpeg(bytes);
    else if (a === 0x89 && b === 0x50 && c === 0x4e && d === 0x47) bare = barePng(bytes);
    else if (text(bytes, 0, 4) === 'GIF8') bare = bareGif(bytes);
    else if (text(bytes, 0, 4) === 'RIFF' && text(bytes, 8, 12) === 'WEBP') bare = bareWebp(bytes);
  } catch {
    return bytes;
  }
  return bare.length === bytes.length && bare.every((byte, i) => byte === bytes[i]) ? bytes : bare;
}
