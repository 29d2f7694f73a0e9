import type { DefaultTreeAdapterTypes } from 'parse5';
import { UnreadableFile } from '../unreadable.js';

/** The tree of a page, as its parser gives it. */
export type PageElement = DefaultTreeAdapterTypes.Element;
export type PageNode = DefaultTreeAdapterTypes.ChildNode;
type Parent = DefaultTreeAdapterTypes.ParentNode;

/** How deep elements may stand in one another: no honest page comes near it. */
const deepest = 400;

export const attr = (element: PageElement, name: string): string | undefined =>
  element.attrs.find((one) => one.name === name)?.value;

export const isElement = (node: PageNode): node is PageElement => 'tagName' in node;
export const isText = (node: PageNode): node is DefaultTreeAdapterTypes.TextNode => node.nodeName === '#text';

export const childrenOf = (parent: Parent): readonly PageNode[] => parent.childNodes;
export const elementsIn = (parent: Parent): PageElement[] => parent.childNodes.filter(isElement);

/** All elements in one, those in others included, for which something holds. */
export function findAll(parent: Parent, holds: (element: PageElement) => boolean, depth = 0): PageElement[] {
  if (depth > deepest) throw new UnreadableFile('has elements that stand too deep in one another');
  const found: PageElement[] = [];
  for (const element of elementsIn(parent)) {
    if (holds(element)) found.push(element);
    for (const inner of findAll(element, holds, depth + 1)) found.push(inner);
  }
  return found;
}

/** All words in an element. */
export function wordsIn(parent: Parent): string {
  let words = '';
  for (const node of parent.childNodes) words += isText(node) ? node.value : isElement(node) ? wordsIn(node) : '';
  return words;
}

const roles = (element: PageElement): string[] => (attr(element, 'role') ?? '').split(/\s+/);
export const hasRole = (element: PageElement, role: string): boolean => roles(element).includes(role);

/** The notes of a page, by their ids (DPUB-ARIA 1.1: doc-endnote, doc-footnote; items of doc-endnotes). */
export interface Notes {
  byId: ReadonlyMap<string, PageElement>;
  /** What stands around them, which is read where the text refers to them only. */
  around: ReadonlySet<PageElement>;
}

export function byRole(body: PageElement): Notes {
  const byId = new Map<string, PageElement>();
  const around = new Set<PageElement>();
  const put = (element: PageElement) => {
    const id = attr(element, 'id');
    if (id !== undefined) byId.set(id, element);
    around.add(element);
  };
  for (const list of findAll(body, (one) => hasRole(one, 'doc-endnotes'))) {
    const items = findAll(list, ({ tagName }) => tagName === 'li').filter((one) => attr(one, 'id') !== undefined);
    if (!items.length) continue;
    around.add(list);
    items.forEach(put);
  }
  for (const one of findAll(body, (element) => hasRole(element, 'doc-footnote') || hasRole(element, 'doc-endnote')))
    put(one);
  return { byId, around };
}
