import type { Frame } from '../../manuscript/origin.js';
import { child, parseXml, type Element, type Scope } from '../xml.js';
import { namespaces, prefixes } from './names.js';

/** The start tags of parts: they are given the names that what we write needs. */

const needed = ['w', 'r', 'mc', 'w14', 'tp'] as const;

/** Whether our names can be used in a part: none of its prefixes means something else than ours. */
export const fits = ({ bound }: Pick<Scope, 'bound'>): boolean =>
  needed.every((prefix) => bound[prefix] === undefined || prefixes[bound[prefix]] === prefix);

/** Of the namespaces that are bound, whether they are those of the strict conformance class. */
export const isStrict = ({ bound }: Pick<Scope, 'bound'>): boolean =>
  Object.values(bound).some((uri) => uri === 'http://purl.oclc.org/ooxml/wordprocessingml/main');

const strict: Record<string, string> = {
  w: 'http://purl.oclc.org/ooxml/wordprocessingml/main',
  r: 'http://purl.oclc.org/ooxml/officeDocument/relationships',
};

/** A start tag in which all names are declared that we use; others pass over what is only ours (29500-3, 7.2). */
export function withNames(start: string, { bound, attributes }: Omit<Frame['root'], 'start' | 'inside'>): string {
  let added = '';
  for (const prefix of needed) {
    if (bound[prefix] !== undefined) continue;
    const uri = (isStrict({ bound }) && strict[prefix]) || namespaces[`xmlns:${prefix}`];
    added += ` xmlns:${prefix}="${uri}"`;
  }
  const ignored = attributes['mc:Ignorable']?.split(/\s+/) ?? [];
  const more = ['w14', 'tp'].filter((prefix) => !ignored.includes(prefix));
  const tagged = start.replace(/\s*\/?>$/, '');
  const close = start.slice(tagged.length);
  if (!more.length) return tagged + added + close;
  const mc = Object.keys(bound).find((prefix) => prefixes[bound[prefix]!] === 'mc') ?? 'mc';
  const attribute = new RegExp(`(\\s${mc}:Ignorable\\s*=\\s*["'])([^"']*)`);
  if (attribute.test(tagged)) return tagged.replace(attribute, `$1$2 ${more.join(' ')}`) + added + close;
  return `${tagged}${added} mc:Ignorable="${more.join(' ')}"${close}`;
}

/** The root of a part and, of each of its children, where it stands; for parts that are written anew in places. */
export function outline(source: string): { root: Element; children: Element[] } {
  const root = parseXml(source, { prefixes });
  return { root, children: root.children.filter((one): one is Element => typeof one !== 'string') };
}

/** A part with its start tag as it must be, and more put in before its end. */
export function extended(source: string, root: Element, more: string, without: readonly Element[] = []): string {
  let inner = '';
  let at = root.inside;
  for (const { start, end } of without) {
    inner += source.slice(at, start);
    at = end;
  }
  const isEmpty = /\/>$/.test(source.slice(root.start, root.inside));
  const start = withNames(source.slice(root.start, root.inside).replace(/\s*\/>$/, '>'), {
    attributes: root.attributes,
    bound: root.scope.bound,
  });
  const name = /^<([^\s/>]+)/.exec(start)![1]!;
  const close = isEmpty ? root.end : source.lastIndexOf('</', root.end - 1);
  inner += source.slice(at, close);
  return `${source.slice(0, root.start)}${start}${inner}${more}</${name}>${source.slice(root.end)}`;
}

/** The frame of a main text, of which root and body are known, and the last element in the body. */
export function frameOf(source: string, root: Element, body: Element, last: Element | undefined): Frame {
  const isEmpty = source.slice(body.start, body.inside).endsWith('/>');
  const close = isEmpty ? body.end : source.lastIndexOf('</', body.end - 1);
  return {
    root: { start: root.start, inside: root.inside, attributes: { ...root.attributes }, bound: root.scope.bound },
    body: { start: body.start, inside: body.inside, bound: body.scope.bound },
    tail: last?.name === 'w:sectPr' ? last.start : close,
  };
}

/** The frame of a main text without blocks. */
export function emptyFrame(source: string): Frame {
  const root = parseXml(source, { prefixes });
  return frameOf(source, root, child(root, 'w:body')!, undefined);
}
