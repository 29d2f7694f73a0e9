import { strToU8 } from 'fflate';
import type { Manuscript } from '../../manuscript/manuscript.js';
import type { OdtMemo, OdtOrigin, Source } from '../../manuscript/origin.js';
import { aligned } from '../kept/aligned.js';
import { placesOf } from '../kept/staying.js';
import { settled, type Numbers } from '../kept/unsettled.js';
import type { WriteOptions } from '../options.js';
import { pack, xmlText } from '../package.js';
import { outgoingOdt } from '../outgoing/odt.js';
import { fromByteArray } from 'base64-js';
import { attribute, declarations, elements, elementsNamed, escapeXml, parseXml, type Element } from '../xml.js';
import { blankFlat, blankPackage, entry, styleXml } from './blank.js';
import { commonStyles, Definitions } from './definitions.js';
import { frameOf, withNames } from './frame.js';
import { make, wholeOf } from './memo.js';
import { prefixes, styleNames } from './names.js';
import { open, type Opened } from './opened.js';
import { readFodt, readOdt } from './read.js';
import { Target } from './target.js';
import { written, type Written } from './written.js';

/**
 * Writes OpenDocument texts (ISO/IEC 26300; OASIS OpenDocument 1.3) into the file a manuscript came from, or into a blank
 * one: what nobody changed stays as it is, byte for byte.
 */

/** Which pieces stay as they are: all of a group, or none of them. */
function staying(
  found: readonly (number | null)[],
  sources: readonly Source[],
  together: readonly (readonly number[])[],
): (number | null)[] {
  const stay = [...found];
  const bySource = new Map<number, number>();
  found.forEach((i, k) => i !== null && bySource.set(i, k));
  const groups = new Map<number, (number | undefined)[]>();
  sources.forEach(({ group }, i) => {
    if (group !== undefined) groups.set(group, [...(groups.get(group) ?? []), bySource.get(i)]);
  });
  const all = [...together, ...groups.values()];
  for (let changed = true; changed;) {
    changed = false;
    for (const group of all) {
      const kept = group.filter((k) => k !== undefined && stay[k] !== null) as number[];
      if (!kept.length || kept.length === group.length) continue;
      for (const k of kept) stay[k] = null;
      changed = true;
    }
  }
  return stay;
}

/** Marks of changes between pieces; they are written with what they are about. */
const loose = /<[\w.-]+:change-(?:start|end)\b[^>]*?(?:\/>|>\s*<\/[^>]*>)/g;
/** Where the list of changes goes, which is known last. */
const listOfChanges = '\u0019';

class Writing {
  readonly #source: string;
  readonly #inner: (number | null)[];
  /** Regions of the file that what stays refers to. */
  readonly #kept = new Set<string>();
  readonly #regions = new Map<number, { id: string; xml: string }>();
  readonly #styles = new Map<number, string>();
  #most: number;

  constructor(
    readonly target: Target,
    readonly memo: OdtMemo,
    readonly text: Written,
  ) {
    this.#source = target.file.content;
    this.#most = [...this.#source.matchAll(/"tp[a-zA-Z]{1,2}(\d{1,8})"/g)].reduce(
      (most, [, n]) => Math.max(most, Number(n)),
      0,
    );
    this.#inner = aligned(
      text.inner.map(({ print }) => print),
      memo.inner.map(({ print }) => print || null),
    );
  }

  /** A piece of the text that stays; what it says was changed stays on the list. */
  #keep({ start, end }: Source): string {
    const xml = this.#source.slice(start, end);
    this.#refer(xml);
    return xml;
  }

  #refer(xml: string): void {
    for (const [, id] of xml.matchAll(/change-id\s*=\s*["']([^"']*)/g)) this.#kept.add(id!);
  }

  readonly #numbers: Numbers = {
    any: () => ++this.#most,
    list: () => 0,
    inner: (index) => {
      const i = this.#inner[index];
      return i === null || i === undefined ? this.text.inner[index]!.xml : this.#keep(this.memo.inner[i]!);
    },
    elsewhere: (kind, index) => {
      if (kind === 'style') return this.#style(index);
      return kind === 'region' ? this.#region(index) : `tpa${this.#annotation(index)}`;
    },
  };

  readonly #annotations = new Map<number, number>();
  #annotation(index: number): number {
    const known = this.#annotations.get(index) ?? ++this.#most;
    this.#annotations.set(index, known);
    return known;
  }

  #style(index: number): string {
    let name = this.#styles.get(index);
    if (name === undefined) {
      const kind = { paragraph: 'P', text: 'T', list: 'L' }[this.target.styles[index]!.family];
      do name = `tp${kind}${++this.#most}`;
      while (this.target.definitions.names.has(name));
      this.#styles.set(index, name);
    }
    return name;
  }

  #region(index: number): string {
    let region = this.#regions.get(index);
    if (!region) {
      region = { id: `tpc${++this.#most}`, xml: '' };
      this.#regions.set(index, region);
      region.xml = settled(this.target.regions[index]!, this.#numbers);
    }
    return region.id;
  }

  /** The text; null where it stays as it is. */
  #body(): string | null {
    const { blocks, together } = this.text;
    const sources = this.memo.blocks;
    if (wholeOf(blocks) === this.memo.whole) return null;
    const found = aligned(
      blocks.map(({ print }) => print),
      sources.map(({ print }) => print || null),
    );
    const stay = staying(found, sources, together);
    const source = this.#source;
    const { text, tail, tracked } = this.memo.frame;
    const kept = stay.map((i) => (i === null ? null : this.#keep(sources[i]!)));
    const places = placesOf(stay, sources.length);
    const beforeList = source.slice(text.inside, tracked.start);
    let body = beforeList + listOfChanges;
    let next = 0;
    const between = (to: number) => {
      for (; next <= to; next++) {
        const from = next ? sources[next - 1]!.end : tracked.end;
        body += source.slice(from, sources[next]!.start).replace(loose, '');
      }
    };
    blocks.forEach(({ xml }, k) => {
      const place = places[k];
      if (place !== null && place !== undefined && place >= next) between(place);
      body += kept[k] ?? settled(xml, this.#numbers);
    });
    between(sources.length - 1);
    return body + source.slice(sources.at(-1)?.end ?? tail, tail).replace(loose, '');
  }

  /** The list of what was changed (part 3, 5.5.1): what stays is referred to, and what comes new. */
  #changes(): string {
    const { tracked, root } = this.memo.frame;
    const xml = this.#source.slice(tracked.start, tracked.end);
    const opened = `<x${declarations({ bound: root.bound, depth: 0 })}>`;
    const list = xml ? [...elements(parseXml(`${opened}${xml}</x>`, { prefixes }))][0] : undefined;
    const regions = [...elements(list)].map((one) => ({
      id: attribute(one, 'xml:id') ?? attribute(one, 'text:id') ?? '',
      xml: xml.slice(one.start - opened.length, one.end - opened.length),
    }));
    // What was deleted may hold what was deleted before.
    for (let size = -1; size !== this.#kept.size;) {
      size = this.#kept.size;
      for (const one of regions) if (this.#kept.has(one.id)) this.#refer(one.xml);
    }
    const all = regions.filter(({ id }) => this.#kept.has(id)).map((one) => one.xml);
    for (const { xml: fresh } of this.#regions.values()) all.push(fresh);
    const start = list ? xml.slice(0, list.inside - opened.length).replace(/\s*\/?>$/, '') : '<text:tracked-changes';
    const said = list && Object.keys(list.attributes).length > 0;
    if (!all.length) return said ? `${start}/>` : '';
    return `${start}>${all.join('')}</${/^<([^\s/>]+)/.exec(start)![1]}>`;
  }

  /** The automatic styles that come new, under their names. */
  #newStyles(): string {
    let all = '';
    for (const [index, name] of this.#styles) {
      const { xml } = this.target.styles[index]!;
      all += xml.replace(/^<[\w:-]+/, `$& style:name="${name}"`);
    }
    return all;
  }

  /** The XML with the text; null where it stays as it is. */
  content(): string | null {
    const { root, styles, text, tail } = this.memo.frame;
    const source = this.#source;
    let body = this.#body();
    if (body === null) return null;
    body = body.replace(listOfChanges, () => this.#changes());
    const fresh = this.#newStyles();
    const put = fresh && styles.none ? `<office:automatic-styles>${fresh}</office:automatic-styles>` : fresh;
    const head = source.slice(0, root.start).replace(/encoding="UTF-16[^"]*"/i, 'encoding="UTF-8"');
    const isEmpty = source.slice(text.start, text.inside).endsWith('/>');
    const open = source.slice(text.start, text.inside);
    return (
      head +
      withNames(source.slice(root.start, root.inside), root.bound) +
      source.slice(root.inside, styles.start) +
      (put || source.slice(styles.start, styles.end)) +
      source.slice(styles.end, text.start) +
      (isEmpty ? open.replace(/\s*\/>$/, '>') : open) +
      body +
      (isEmpty ? '</office:text>' : '') +
      source.slice(tail)
    );
  }
}

/** The styles of the file with those of ours that the text uses and the file has not; null where none is missing. */
function withStyles(content: string, { kind, styles }: Opened, definitions: Definitions): string | null {
  const missing = Object.keys(styleNames).filter((style) => {
    const name = styleNames[style]!;
    return !definitions.has(name) && new RegExp(`style-name="${name}"`).test(content);
  });
  const source = kind === 'fodt' ? content : styles;
  if (!missing.length || source === undefined) return null;
  const close = source.lastIndexOf('</office:styles>');
  const added = missing
    .map(styleXml)
    .join('')
    // A part may not declare what ours say.
    .replaceAll(
      '<style:style ',
      `<style:style xmlns:fo="urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0" `,
    );
  return close < 0 ? null : source.slice(0, close) + added + source.slice(close);
}

/** All that says that something is proposed, in what a manuscript does not know too (part 3, 5.5). */
const proposed =
  /<([\w.-]+:)tracked-changes\b(?:[^>]*\/>|.*?<\/\1tracked-changes>)|<[\w.-]+:change(?:-start|-end)?\b[^>]*\/>/gs;

/** A file in one piece with the pictures that only changes speak of, behind all that is shown. */
function withSpokenOf(content: string, { spokenOf, assets }: Target): string {
  const missing = [...spokenOf].flatMap(([part, asset]) => {
    const bytes = assets.find(({ id }) => id === asset)?.bytes;
    const name = escapeXml(part);
    return bytes && !content.includes(`tp:part="${name}"`)
      ? [`<tp:picture tp:part="${name}">${fromByteArray(bytes)}</tp:picture>`]
      : [];
  });
  if (!missing.length) return content;
  const close = content.lastIndexOf('</');
  return `${content.slice(0, close)}<tp:pictures>${missing.join('')}</tp:pictures>${content.slice(close)}`;
}

/** What is known of the file; found out again where another make found it out. */
async function memoOf({ format, file, memo }: OdtOrigin): Promise<OdtMemo> {
  if (memo.make === make) return memo;
  const { manuscript } = await (format === 'odt' ? readOdt : readFodt)(file);
  return (manuscript.origin as OdtOrigin).memo;
}

/** What is known of a file without words. */
function nothing({ content }: Opened): OdtMemo {
  const root = parseXml(content, { prefixes });
  const body = [...elements(root)].find(({ name }) => name === 'office:body')!;
  const found = {
    automaticStyles: [...elements(root)].find(({ name }) => name === 'office:automatic-styles'),
    body,
    text: [...elements(body)][0]!,
    tracked: undefined,
    forms: undefined,
  };
  return { make, frame: frameOf(content, root, found), fragments: {}, whole: null, blocks: [], inner: [] };
}

/** The styles of a text: its own, and those it shares. */
function definitionsOf(file: Opened): Definitions {
  const automatic: Element[] = [];
  const common = commonStyles(file);
  parseXml(file.content, {
    prefixes,
    within: ['office:automatic-styles', 'office:styles', 'office:text'],
    each: (element, parent) => {
      if (parent.name === 'office:automatic-styles') automatic.push(element);
      else if (parent.name === 'office:styles') common.push(element);
    },
  });
  return new Definitions(automatic, common);
}

/** Who made the file, and what a firm has it say of itself (ISO/IEC 26300-1, 4.3). */
const makers = elementsNamed('initial-creator', 'creator', 'printed-by', 'user-defined');
const withoutMakers = (xml: string): string => xml.replace(makers, '');
const aboutFile = /<office:meta>.*?<\/office:meta>/s;

async function write(kind: Opened['kind'], manuscript: Manuscript, how: WriteOptions): Promise<Uint8Array> {
  const { clean = false, nameless = false, inert = false } = how;
  const origin = manuscript.origin?.format === kind ? manuscript.origin : undefined;
  const file = open(kind, origin?.file ?? (kind === 'odt' ? blankPackage() : blankFlat()));
  const memo = origin ? await memoOf(origin) : nothing(file);
  const { people, assets } = manuscript;
  const names = origin ?? { assets: {}, people: {}, changes: {} };
  const definitions = definitionsOf(file);
  const target = new Target(file, definitions, memo.fragments, people, assets, names.assets, names, memo.frame);
  const made = new Writing(target, memo, written(manuscript, target)).content();
  if (made === null && !clean && !nameless && !inert) return origin!.file;
  let content = made ?? file.content;
  let styles = withStyles(content, file, definitions) ?? (kind === 'fodt' ? content : file.styles);
  if (kind === 'fodt') content = styles!;
  if (clean) {
    content = content.replace(proposed, '');
    styles = styles?.replace(proposed, '');
  }
  if (nameless && kind === 'fodt') content = content.replace(aboutFile, withoutMakers);
  if (kind === 'fodt') {
    const whole = new Map([['content.xml', withSpokenOf(content, target)]]);
    return strToU8(outgoingOdt(whole, how).parts.get('content.xml') as string);
  }
  const parts = new Map<string, string | Uint8Array>(file.parts);
  if (content !== file.content) parts.set('content.xml', content);
  if (styles !== undefined && styles !== file.styles) parts.set('styles.xml', styles);
  const about = file.parts.get('meta.xml');
  if (nameless && about) parts.set('meta.xml', withoutMakers(xmlText(about)));
  // What was signed is not this any more.
  parts.delete('META-INF/documentsignatures.xml');
  for (const [name, { bytes }] of target.media) parts.set(name, bytes);
  const manifest = file.parts.get('META-INF/manifest.xml');
  const fresh = [...target.media].map(([name, { type }]) => entry(name, type)).join('');
  if (manifest && fresh)
    parts.set(
      'META-INF/manifest.xml',
      xmlText(manifest).replace(/<\/manifest:manifest>\s*$/, `${fresh}</manifest:manifest>`),
    );
  return pack(outgoingOdt(parts, how).parts);
}

/**
 * Writes a manuscript as an ODT file: text, pending changes with author and date, and threads with their replies. Of a
 * manuscript that came from such a file, all stays as it was that nobody changed.
 * @param how `clean`: without what is proposed about things that are carried as they are; `nameless`: its properties name
 *   nobody
 */
export const writeOdt = (manuscript: Manuscript, how: WriteOptions = {}): Promise<Uint8Array> =>
  write('odt', manuscript, how);

/** The same as a text in one piece of XML (FODT), pictures in it as letters. */
export const writeFodt = (manuscript: Manuscript, how: WriteOptions = {}): Promise<Uint8Array> =>
  write('fodt', manuscript, how);
