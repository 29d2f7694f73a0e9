import sharp, { type Metadata, type Sharp } from 'sharp';

/** What a picture is by its bytes, and the picture alone: nothing that came along in its file is kept. */

/** Kinds of pictures that can be shown and can do nothing else: how their files begin, and how they are written here. */
const kinds: Record<string, { begins: RegExp; written: (picture: Sharp) => Sharp }> = {
  png: { begins: /^\x89PNG\r\n\x1a\n/, written: (picture) => picture.png() },
  jpeg: { begins: /^\xff\xd8\xff/, written: (picture) => picture.jpeg({ quality: 92, chromaSubsampling: '4:4:4' }) },
  gif: { begins: /^GIF8[79]a/, written: (picture) => picture.gif() },
  webp: { begins: /^RIFF[^]{4}WEBP/, written: (picture) => picture.webp({ quality: 92 }) },
};

export const largestPicture = 10 * 1024 * 1024;
/** A picture with more points than this would fill the memory of whoever opens it. */
const mostPoints = 50_000_000;

export interface PictureFile {
  /** Its media type. */
  type: string;
  bytes: Buffer;
  /** In points. */
  width: number;
  height: number;
}

const noPicture = 'is not a picture that can be shown here: PNG, JPEG, GIF and WebP are taken';

/**
 * Takes the picture out of a file, whatever its name or sender says: upright, and without place, camera, owner, former
 * versions or whatever else the file holds (Exif, XMP, IPTC, comments). Done aside, so that nobody waits for it.
 * @returns the picture, or a sentence about why it is not taken
 */
export async function pictureFile(given: Uint8Array): Promise<PictureFile | string> {
  const beginning = Buffer.from(given.subarray(0, 16)).toString('latin1');
  const [kind, how] = Object.entries(kinds).find(([, { begins }]) => begins.test(beginning)) ?? [];
  if (!how) return noPicture;
  let said: Metadata;
  try {
    said = await sharp(given, { limitInputPixels: false }).metadata();
  } catch {
    return noPicture;
  }
  if (said.width * (said.pageHeight ?? said.height) * (said.pages ?? 1) > mostPoints)
    return 'has more than 50 million points; take a smaller one';
  try {
    const moving = (said.pages ?? 1) > 1;
    const picture = sharp(given, { animated: moving, limitInputPixels: mostPoints });
    const upright = moving ? picture : picture.autoOrient();
    const { data, info } = await how.written(upright).toBuffer({ resolveWithObject: true });
    const height = info.pageHeight ?? info.height;
    return { type: `image/${kind}`, bytes: data, width: info.width, height };
  } catch {
    return 'is a picture that cannot be read to its end';
  }
}

/** A picture that was kept before, without what is not seen of it; null where there is nothing to take out. */
export async function barePicture(kept: Uint8Array): Promise<Buffer | null> {
  const said = await sharp(kept, { limitInputPixels: false })
    .metadata()
    .catch(() => null);
  if (!said?.exif && !said?.xmp && !said?.iptc && !said?.comments?.length && !said?.tifftagPhotoshop) return null;
  const bare = await pictureFile(kept);
  return typeof bare === 'string' ? null : bare.bytes;
}
