import { fromByteArray } from 'base64-js';
import type { Node } from 'prosemirror-model';
import { drawnSize } from '../kept/pictures.js';
import { anyNumber } from '../kept/unsettled.js';
import { element } from '../kept/telling.js';
import { attribute, child, escapeXml, tag, xmlOf, type Element } from '../xml.js';
import { partAt } from './drawings.js';
import { inchesOf, pixelsInInch } from './names.js';
import type { Target } from './target.js';

/** Pictures (OpenDocument 1.3 part 3, 10.4): as their file has them with another size or description, or new ones. */

const lengthOf = (pixels: number) => `${Number((pixels / pixelsInInch).toFixed(4))}in`;
const pixelsOf = (length: string | undefined) => Math.round((inchesOf(length) ?? 0) * pixelsInInch);

/** What leads to a picture: its part, or its letters where the file is one piece. */
function imageXml(
  target: Target,
  part: string,
  bytes: Uint8Array | undefined,
  more: Record<string, string> = {},
): string {
  const reference = { 'xlink:href': part, 'xlink:type': 'simple', 'xlink:show': 'embed', 'xlink:actuate': 'onLoad' };
  if (target.file.kind === 'odt') return tag('draw:image', { ...more, ...reference });
  const { 'xlink:href': _, ...rest } = more;
  const data = bytes ? fromByteArray(bytes) : '';
  return tag('draw:image', rest, element('office:binary-data', ` tp:part="${escapeXml(part)}"`, data));
}

/** A picture as the file has it, with the size and description it has now; undefined where it is another picture. */
function asItCame(target: Target, { attrs }: Node): string | undefined {
  const [piece] = target.pieces(attrs.carried as string | null);
  const frame = piece?.element;
  const image = child(frame, 'draw:image');
  const part = target.partOf[attrs.asset as string];
  if (!frame || !image || part === undefined) return undefined;
  const isThere = child(image, 'office:binary-data')
    ? target.file.kind === 'fodt'
    : partAt(attribute(image, 'xlink:href')) === part;
  if (!isThere) return undefined;
  const sizes: Record<string, string> = {};
  for (const [name, key] of [
    ['svg:width', 'width'],
    ['svg:height', 'height'],
  ] as const) {
    const now = attrs[key] as number | null;
    if (now !== null && pixelsOf(attribute(frame, name)) !== now) sizes[name] = lengthOf(now);
  }
  const bytes = target.assets.find(({ id }) => id === attrs.asset)?.bytes;
  const children = frame.children.flatMap((one): string[] => {
    if (typeof one === 'string') return [escapeXml(one)];
    if (one === image && child(image, 'office:binary-data')) return [imageXml(target, part, bytes, image.attributes)];
    return one.name === 'svg:desc' ? [] : [xmlOf(one)];
  });
  const was = child(frame, 'svg:desc') ?? child(frame, 'svg:title');
  const described =
    was && wordsOf(was) === attrs.alt ? (was.name === 'svg:desc' ? xmlOf(was) : '') : description(attrs.alt as string);
  const at = frame.children.findIndex((one) => typeof one !== 'string' && one.name.startsWith('draw:contour'));
  children.splice(at < 0 ? children.length : at, 0, described);
  return tag(frame.name, { ...frame.attributes, ...sizes }, children.join(''));
}
const wordsOf = (element: Element) => element.children.filter((one) => typeof one === 'string').join('');
const description = (alt: string) => (alt ? tag('svg:desc', {}, escapeXml(alt)) : '');

/** The frame of a picture; its description in words where its file is not here. */
export function pictureXml(target: Target, node: Node): string {
  const kept = asItCame(target, node);
  if (kept !== undefined) return kept;
  const { asset, alt, width, height } = node.attrs as Record<'asset' | 'alt', string> &
    Record<'width' | 'height', number | null>;
  const part = target.picturePart(asset);
  const bytes = target.assets.find(({ id }) => id === asset)?.bytes ?? target.file.parts.get(part ?? '');
  if (part === undefined) return alt ? escapeXml(`[${alt}]`) : '';
  const { width: w, height: h, told: said } = drawnSize({ width, height }, bytes);
  const frame = {
    'text:anchor-type': 'as-char',
    'svg:width': lengthOf(w),
    'svg:height': lengthOf(h),
    'tp:own': said,
  };
  const attributes = tag('x', frame).slice(2, -2);
  return element(
    'draw:frame',
    ` draw:name="tpg${anyNumber}"${attributes}`,
    imageXml(target, part, bytes) + description(alt),
  );
}
