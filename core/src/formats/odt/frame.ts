import type { OdtFrame } from '../../manuscript/origin.js';
import { escapeXml, type Element, type Scope } from '../xml.js';
import { namespaces, prefixes } from './names.js';

/** The outermost elements of a text, and where what comes new is put in. */

const needed = Object.keys(namespaces).map((name) => name.slice(6));

/** Whether our names can be used in a part: none of its prefixes means something else than ours. */
export const fits = ({ bound }: Pick<Scope, 'bound'>): boolean =>
  needed.every((prefix) => bound[prefix] === undefined || prefixes[bound[prefix]] === prefix);

/** A start tag in which all names are declared that we use. */
export function withNames(start: string, bound: Readonly<Record<string, string>>): string {
  const missing = needed.filter((prefix) => bound[prefix] === undefined);
  const added = missing.map((prefix) => ` xmlns:${prefix}="${escapeXml(namespaces[`xmlns:${prefix}` as 'xmlns:tp'])}"`);
  const bare = start.replace(/\s*\/?>$/, '');
  return bare + added.join('') + start.slice(bare.length);
}

const isEmpty = (source: string, { start, inside }: Pick<Element, 'start' | 'inside'>) =>
  source.slice(start, inside).endsWith('/>');
/** Where an element’s content ends; of one without content, where it ends itself. */
export const closeOf = (source: string, element: Element): number =>
  isEmpty(source, element) ? element.end : source.lastIndexOf('</', element.end - 1);

export function frameOf(
  source: string,
  root: Element,
  found: Record<'automaticStyles' | 'tracked' | 'forms', Element | undefined> & Record<'body' | 'text', Element>,
): OdtFrame {
  const { automaticStyles, body, text, tracked, forms } = found;
  const first = forms?.end ?? text.inside;
  const none = !automaticStyles || isEmpty(source, automaticStyles);
  const at = automaticStyles ? closeOf(source, automaticStyles) : body.start;
  return {
    root: { start: root.start, inside: root.inside, bound: { ...root.scope.bound } },
    // An element without content makes room for one with.
    styles: { start: automaticStyles && none ? automaticStyles.start : at, end: at, none },
    tracked: tracked ? { start: tracked.start, end: tracked.end } : { start: first, end: first },
    text: { start: text.start, inside: text.inside },
    tail: closeOf(source, text),
  };
}
