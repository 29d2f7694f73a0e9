import { imageSize } from 'image-size';

/** Kinds of pictures that can be shown and can do nothing else; none of them holds code. */
const kinds: Record<string, string> = { png: 'image/png', jpg: 'image/jpeg', gif: 'image/gif', webp: 'image/webp' };

export const largestPicture = 10 * 1024 * 1024;
/** A picture with more points than this would fill the memory of whoever opens it. */
const mostPoints = 50_000_000;

export interface PictureFile {
  type: string;
  width: number;
  height: number;
}

/**
 * What a file is by its bytes, whatever its name or sender says.
 * @returns its media type and size in points, or a sentence about why it is not taken
 */
export function pictureFile(bytes: Uint8Array): PictureFile | string {
  let size: { type?: string; width: number; height: number; orientation?: number };
  try {
    size = imageSize(bytes);
  } catch {
    return 'is not a picture that can be shown here: PNG, JPEG, GIF and WebP are taken';
  }
  const type = kinds[size.type ?? ''];
  if (!type) return 'is not a picture that can be shown here: PNG, JPEG, GIF and WebP are taken';
  if (!(size.width > 0 && size.height > 0)) return 'has no size, so it is not a picture';
  if (size.width * size.height > mostPoints) return 'has more than 50 million points; take a smaller one';
  // From 5 on the camera lay on its side (JEITA CP-3451, Exif, tag Orientation).
  const turned = (size.orientation ?? 1) >= 5;
  return { type, width: turned ? size.height : size.width, height: turned ? size.width : size.height };
}
