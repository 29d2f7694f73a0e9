import type { Node } from 'prosemirror-model';
import { attribute, escapeXml, find, tag } from '../xml.js';
import { drawnSize } from '../kept/pictures.js';
import { emuInPixel } from './names.js';
import type { Target } from './target.js';
import { anyNumber } from '../kept/unsettled.js';

/** Pictures (ISO/IEC 29500-1, 20.4.2.8): as their file has them with another size or description, or new ones. */

/** A picture as the file has it, with the size and description it has now; undefined where it is another picture. */
function asItCame(target: Target, part: string, { attrs }: Node): string | undefined {
  const [piece] = target.pieces(attrs.carried as string | null);
  if (!piece) return undefined;
  const blip = find(piece.element, 'a:blip') ?? find(piece.element, 'v:imagedata');
  const id = attribute(blip, 'r:embed') ?? attribute(blip, 'r:id');
  const there = target.file.relationship(part, id)?.target;
  if (there === undefined || target.partOf[attrs.asset as string] !== there) return undefined;
  let { xml } = piece;
  const extent = find(piece.element, 'wp:extent');
  for (const [name, key] of [
    ['cx', 'width'],
    ['cy', 'height'],
  ] as const) {
    const was = attribute(extent, name);
    const now = attrs[key] as number | null;
    if (was === undefined || now === null || Math.round(Number(was) / emuInPixel) === now) continue;
    xml = xml.replaceAll(
      new RegExp(`(<[\\w]+:ext(?:ent)?\\b[^>]*\\b${name}=")${was}(")`, 'g'),
      `$1${now * emuInPixel}$2`,
    );
  }
  const about = find(piece.element, 'wp:docPr');
  const was = attribute(about, 'descr') ?? attribute(about, 'title') ?? '';
  if (about && was !== attrs.alt) {
    xml = xml.replace(/<([\w]+:docPr)\b([^>]*?)(\/?)>/, (_, name: string, rest: string, end: string) => {
      const others = rest.replace(/\s(descr|title)="[^"]*"/g, '');
      return `<${name}${others} descr="${escapeXml(attrs.alt as string)}"${end}>`;
    });
  }
  return xml;
}

/** The drawing of a picture; nothing where its file is not here. */
export function pictureXml(target: Target, part: string, node: Node): string {
  const kept = asItCame(target, part, node);
  if (kept !== undefined) return kept;
  const { asset, alt, width, height } = node.attrs as { asset: string; alt: string; width: number; height: number };
  const name = target.picturePart(asset);
  const bytes = target.assets.find(({ id }) => id === asset)?.bytes ?? target.file.bytes(name ?? '');
  if (name === undefined || !bytes) return alt ? tag('w:t', { 'xml:space': 'preserve' }, escapeXml(`[${alt}]`)) : '';
  const id = target.relate(part, 'image', name, false);
  const { width: w, height: h, told: said } = drawnSize({ width, height }, bytes);
  const size = { cx: w * emuInPixel, cy: h * emuInPixel };
  const namespace = {
    a: 'drawingml/2006/main',
    wp: 'drawingml/2006/wordprocessingDrawing',
    pic: 'drawingml/2006/picture',
  };
  const ns = (prefix: keyof typeof namespace) => ({
    [`xmlns:${prefix}`]: `http://schemas.openxmlformats.org/${namespace[prefix]}`,
  });
  const shape =
    tag('a:xfrm', {}, tag('a:off', { x: 0, y: 0 }) + tag('a:ext', size)) +
    tag('a:prstGeom', { prst: 'rect' }, tag('a:avLst'));
  const picture = tag(
    'pic:pic',
    ns('pic'),
    tag('pic:nvPicPr', {}, `<pic:cNvPr id="${anyNumber}" name="${escapeXml(asset)}"/>` + tag('pic:cNvPicPr')) +
      tag('pic:blipFill', {}, tag('a:blip', { 'r:embed': id }) + tag('a:stretch', {}, tag('a:fillRect'))) +
      tag('pic:spPr', {}, shape),
  );
  const about = `<wp:docPr id="${anyNumber}" name="${escapeXml(asset)}" descr="${escapeXml(alt)}"/>`;
  const graphic = tag(
    'a:graphic',
    ns('a'),
    tag('a:graphicData', { uri: 'http://schemas.openxmlformats.org/drawingml/2006/picture' }, picture),
  );
  return tag(
    'w:drawing',
    {},
    tag('wp:inline', { ...ns('wp'), 'tp:own': said }, tag('wp:extent', size) + about + graphic),
  );
}
