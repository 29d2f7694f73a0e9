import type { Asset } from '../../manuscript/manuscript.js';

/** The pictures of a file, by the parts they are. */

/** What keeps the pictures that were met. */
interface PartsOf {
  readonly file: { bytes(name: string): Uint8Array | undefined };
}
interface Pictured {
  readonly assets: Asset[];
  readonly partOf: Map<string, string>;
}

/** What a file of that kind begins with (PNG 5.2; JFIF; GIF89a; WebP container): the name a file has proves nothing. */
const beginnings: [type: string, at: number, bytes: number[]][] = [
  ['image/png', 0, [0x89, 0x50, 0x4e, 0x47]],
  ['image/jpeg', 0, [0xff, 0xd8, 0xff]],
  ['image/gif', 0, [0x47, 0x49, 0x46, 0x38]],
  ['image/webp', 8, [0x57, 0x45, 0x42, 0x50]],
];
export const pictureType = (bytes: Uint8Array): string | undefined =>
  beginnings.find(([, at, first]) => first.every((byte, i) => bytes[at + i] === byte))?.[0];

/** Pictures larger than this stay in their file and are shown by their names. */
const largestPicture = 10 * 1024 * 1024;

/** The picture of a part, under one name however often it is shown. */
export function assetOf(context: Pictured & PartsOf, partName: string): string | null {
  const known = [...context.partOf].find(([, part]) => part === partName);
  return known ? known[0] : assetIn(context, partName, context.file.bytes(partName));
}

/** A picture that was not met before; null where it is none that can be shown. */
export function assetIn(context: Pictured, partName: string, bytes: Uint8Array | undefined): string | null {
  const type = bytes && bytes.length <= largestPicture ? pictureType(bytes) : undefined;
  if (!bytes || !type) return null;
  const id = `a${context.assets.length + 1}`;
  context.assets.push({ id, type, bytes });
  context.partOf.set(id, partName);
  return id;
}

/** With what the names of pictures end, by their type. */
export const pictureEndings: Readonly<Record<string, string>> = {
  'image/png': 'png',
  'image/jpeg': 'jpeg',
  'image/gif': 'gif',
  'image/webp': 'webp',
};

/** The width and height of a picture that says none, in pixels, where its file does (PNG 11.2.1, IHDR). */
function ownSize(bytes: Uint8Array | undefined): { width: number; height: number } {
  if (bytes?.[0] !== 0x89 || bytes.length <= 24) return { width: 400, height: 300 };
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return { width: Math.max(1, view.getUint32(16)), height: Math.max(1, view.getUint32(20)) };
}

/**
 * How large a picture is drawn, in pixels.
 * @returns what our own file tells besides: where only one measure was said or none, which
 */
export function drawnSize(
  { width, height }: { width: number | null; height: number | null },
  bytes: Uint8Array | undefined,
): { width: number; height: number; told: string } {
  const own = ownSize(bytes);
  const ratio = own.width / own.height;
  const w = width ?? (height ? Math.max(1, Math.round(height * ratio)) : Math.min(600, own.width));
  const h = height ?? Math.max(1, Math.round(w / ratio));
  return { width: w, height: h, told: width === null || height === null ? JSON.stringify({ width, height }) : '1' };
}
