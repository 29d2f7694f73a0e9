import { SaxesParser } from 'saxes';
import { UnreadableFile } from './unreadable.js';

/** XML parts of files (W3C XML 1.0 and Namespaces in XML), read into small trees that know where in their part they stood. */

/** What the prefixes of names stand for at a place. */
export interface Scope {
  /** Namespaces by prefix; that of names without one under ''. */
  readonly bound: Readonly<Record<string, string>>;
  readonly depth: number;
}

export interface Element {
  /** Its name, with the prefix that this house gives its namespace, whatever the file calls it. */
  readonly name: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: (Element | string)[];
  /** Where it begins and ends in its part, and where its first child begins. */
  readonly start: number;
  readonly inside: number;
  readonly end: number;
  readonly scope: Scope;
}

/** The prefixes this house uses, by namespace; those of both generations of a standard are one. */
export type Prefixes = Readonly<Record<string, string>>;

interface Options {
  prefixes?: Prefixes | undefined;
  /**
   * The parents, at most three deep, whose children are handed on one by one and then forgotten, so that a book is never a
   * tree as a whole.
   */
  within?: string | readonly string[];
  each?: (child: Element, parent: Element) => void;
}

/** How many signs `<` a part may have, about two an element: a long book with 100,000 changes has half of that. */
const mostSigns = 2_500_000;
/** How many things may stand in one element, where they are not handed on one by one: more than in the longest paragraph. */
const mostChildren = 150_000;
/** How deep elements may stand in one another: no honest document comes near it. */
const deepest = 400;

/** Whether a text has more of a character than that. */
function hasMore(text: string, character: string, most: number): boolean {
  let n = 0;
  for (let at = text.indexOf(character); at >= 0 && n <= most; at = text.indexOf(character, at + 1)) n++;
  return n > most;
}

const outermost: Scope = { bound: {}, depth: 0 };

/** The scope inside an element that declares namespaces; the same one where it declares none. */
function scopeOf(attributes: Readonly<Record<string, string>>, scope: Scope): Scope {
  let bound: Record<string, string> | null = null;
  for (const name in attributes) {
    if (!name.startsWith('xmlns')) continue;
    if (name === 'xmlns') (bound ??= { ...scope.bound })[''] = attributes[name]!;
    else if (name[5] === ':') (bound ??= { ...scope.bound })[name.slice(6)] = attributes[name]!;
  }
  return bound ? { bound, depth: scope.depth + 1 } : scope;
}

/** Names as this house writes them: remembered for each scope, of which there are few. */
class Names {
  readonly #known = new WeakMap<Scope, Map<string, string>>();
  constructor(readonly prefixes: Prefixes) {}

  of(name: string, scope: Scope): string {
    let known = this.#known.get(scope);
    if (!known) this.#known.set(scope, (known = new Map<string, string>()));
    let found = known.get(name);
    if (found === undefined) known.set(name, (found = this.#find(name, scope)));
    return found;
  }

  #find(name: string, { bound }: Scope): string {
    const colon = name.indexOf(':');
    const prefix = colon < 0 ? '' : name.slice(0, colon);
    const local = name.slice(colon + 1);
    const uri = bound[prefix];
    // A prefix that nothing was said of is taken at its word; one that stands for something else must not pass for ours.
    if (uri === undefined) return name;
    const own = this.prefixes[uri];
    if (own !== undefined) return own ? `${own}:${local}` : local;
    return prefix && Object.values(this.prefixes).includes(prefix) ? `?${name}` : name;
  }
}

const hasColon = (name: string) => name.includes(':') && !name.startsWith('xml');

/**
 * Parses a part. Document type declarations are refused, and with them every entity that is not one of XML's own
 * (the standards do not use any: ISO/IEC 29500-2, clause 8.1.4 forbids DTDs).
 * @throws UnreadableFile where the XML is broken, or larger or deeper than a document's
 */
export function parseXml(source: string, { prefixes = {}, within = [], each }: Options = {}): Element {
  const parents = new Set(typeof within === 'string' ? [within] : within);
  if (hasMore(source, '<', mostSigns)) throw new UnreadableFile('has more elements inside than a book would');
  const parser = new SaxesParser();
  const names = new Names(prefixes);
  const open: Element[] = [];
  let root: Element | null = null;
  let start = 0;
  const say = (text: string) => {
    const parent = open[open.length - 1];
    if (!parent) return;
    const { children } = parent;
    const last = children.length - 1;
    if (typeof children[last] === 'string') children[last] += text;
    else children.push(text);
  };
  parser.on('error', () => {
    throw new UnreadableFile('is damaged: the XML inside is broken');
  });
  parser.on('doctype', () => {
    throw new UnreadableFile('declares entities of its own, which no document of this kind may');
  });
  parser.on('opentagstart', ({ name }) => (start = parser.position - name.length - 2));
  parser.on('opentag', ({ name, attributes }) => {
    if (open.length >= deepest) throw new UnreadableFile('has elements that stand too deep in one another');
    const scope = scopeOf(attributes, open[open.length - 1]?.scope ?? outermost);
    let own: Record<string, string> = attributes;
    for (const key in attributes) {
      if (!hasColon(key)) continue;
      const canonical = names.of(key, scope);
      if (canonical === key) continue;
      if (own === attributes) own = { ...attributes };
      delete own[key];
      own[canonical] = attributes[key]!;
    }
    const inside = parser.position;
    open.push({ name: names.of(name, scope), attributes: own, children: [], start, inside, end: inside, scope });
  });
  parser.on('closetag', () => {
    const element = open.pop()!;
    (element as { end: number }).end = parser.position;
    const parent = open[open.length - 1];
    if (!parent) root = element;
    else if (each && open.length <= 3 && parents.has(parent.name)) each(element, parent);
    else if (parent.children.push(element) > mostChildren)
      throw new UnreadableFile('has a paragraph or table with more in it than any has');
  });
  parser.on('text', say);
  parser.on('cdata', say);
  parser.write(source).close();
  if (!root) throw new UnreadableFile('is damaged: the XML inside is broken');
  return root;
}

/** The child elements. */
export function* elements(parent: Element | null | undefined): Generator<Element> {
  for (const node of parent?.children ?? []) if (typeof node !== 'string') yield node;
}

/** The first child element with that name. */
export function child(parent: Element | null | undefined, name: string): Element | undefined {
  if (!parent) return undefined;
  for (const node of parent.children) if (typeof node !== 'string' && node.name === name) return node;
  return undefined;
}

/** The first element with that name at any depth, the element itself included. */
export function find(element: Element | undefined, name: string): Element | undefined {
  if (!element || element.name === name) return element;
  for (const inner of elements(element)) {
    const found = find(inner, name);
    if (found) return found;
  }
  return undefined;
}

export const attribute = (element: Element | undefined, name: string): string | undefined =>
  element && Object.hasOwn(element.attributes, name) ? element.attributes[name] : undefined;

/** All the text that stands in an element. */
export function textOf(element: Element | undefined): string {
  let text = '';
  for (const node of element?.children ?? []) text += typeof node === 'string' ? node : textOf(node);
  return text;
}

/** Finds elements of some local names in XML, whatever the prefix, with all that stands in them. */
export const elementsNamed = (...names: string[]): RegExp =>
  new RegExp(`<((?:[\\w.-]+:)?(?:${names.join('|')}))(?=[\\s/>])(?:[^>]*/>|[^>]*>.*?</\\1\\s*>)`, 'gs');

const entities: Record<string, string> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  '\n': '&#10;',
  '\t': '&#9;',
};
// Characters that XML 1.0, section 2.2 does not allow.
const forbidden =
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;

// Most texts hold nothing of the kind, which is soon seen.
const suspect = /[&<>"\u0000-\u001f\ud800-\udfff\ufffe\uffff]/;

export const escapeXml = (text: string): string =>
  !suspect.test(text) ? text : text.replace(forbidden, '').replace(/[&<>"\n\t]/g, (c) => entities[c] ?? c);

/** An element as text; attributes that are undefined are left out. */
export function tag(name: string, attributes: Record<string, string | number | undefined> = {}, content = ''): string {
  let start = name;
  for (const [key, value] of Object.entries(attributes)) {
    if (value !== undefined) start += ` ${key}="${escapeXml(String(value))}"`;
  }
  return content ? `<${start}>${content}</${name}>` : `<${start}/>`;
}

/** An element of a file as text, under the names this house gives what it is made of. */
export const xmlOf = ({ name, attributes, children }: Element): string =>
  tag(name, attributes, children.map((one) => (typeof one === 'string' ? escapeXml(one) : xmlOf(one))).join(''));

/** The declarations of namespaces of a scope, as they stand in a start tag. */
export const declarations = ({ bound }: Scope, but: Readonly<Record<string, string>> = {}): string =>
  Object.entries(bound)
    .filter(([prefix, uri]) => but[prefix] !== uri)
    .map(([prefix, uri]) => ` xmlns${prefix && ':'}${prefix}="${escapeXml(uri)}"`)
    .join('');

/**
 * An element as it stands in its part, so that it means the same where only `base` is declared.
 * @param source the part it stands in
 */
export function sliceOf({ start, inside, end, scope }: Element, source: string, base: Scope): string {
  const xml = source.slice(start, end);
  if (scope === base) return xml;
  const name = /^<[^\s/>]+/.exec(xml)![0];
  // What it declares itself stands in it already.
  const own = new Set([...source.slice(start, inside).matchAll(/\sxmlns(?::([\w.-]+))?\s*=/g)].map((m) => m[1] ?? ''));
  const missing = Object.fromEntries(Object.entries(scope.bound).filter(([prefix]) => !own.has(prefix)));
  return name + declarations({ bound: missing, depth: 0 }, base.bound) + xml.slice(name.length);
}
