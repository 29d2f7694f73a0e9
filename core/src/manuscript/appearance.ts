import type { DOMOutputSpec, Mark, Node, TagParseRule } from 'prosemirror-model';
import { highlightColours, isLanguage, isSafeAddress, propertyRules, wordColours, type CarriedKind } from './values.js';

/**
 * The elements a manuscript is written to and read from in a page. Only plain data: no DOM is touched here.
 * Elements and their meaning: WHATWG HTML, sections 4.4 (grouping content), 4.5 (text-level) and 4.7 (edits).
 */

/** As much of an element of a page as is read here (WHATWG DOM, HTML). */
interface PageElement {
  nodeName: string;
  parentElement: PageElement | null;
  classList: { contains(name: string): boolean };
  dataset: Record<string, string | undefined>;
  getAttribute(name: string): string | null;
}

/** The elements of styles that are no body text. */
export const headings: Readonly<Record<string, string>> = {
  title: 'h1',
  heading1: 'h2',
  heading2: 'h3',
  heading3: 'h4',
  heading4: 'h5',
  heading5: 'h6',
  heading6: 'h6',
  quotation: 'blockquote',
};

const changeData = (mark: Mark) => ({
  'data-change': mark.attrs.change as string,
  'data-author': mark.attrs.author as string,
});

/** Classes a paragraph bears for its own properties and for the pending changes of its opening. */
function paragraphLook(node: Node): DOMOutputSpec {
  const { style, list, align, indent, direction, carried } = node.attrs;
  const classes = ['paragraph', `style-${style}`];
  if (list) classes.push('list-item', `list-${list.kind}`, `level-${list.level}`);
  if (align) classes.push(`align-${align}`);
  if (indent) classes.push(`indent-${indent}`);
  // Where nothing is set, it runs as its first strong letter does (WHATWG HTML, 3.2.6.4, dir=auto).
  return [headings[style] ?? 'p', { class: classes.join(' '), dir: direction ?? 'auto', 'data-carried': carried }, 0];
}

const wrap =
  (tag: string, className: string) =>
  (mark: Mark): DOMOutputSpec => [tag, { class: className, ...changeData(mark) }, 0];

/** A mark that may also stand on a table, a row or a cell, around which it draws nothing of its own. */
const onBoth = (tag: string, className: string) => (mark: Mark, inline: boolean) =>
  inline ? wrap(tag, className)(mark) : wrap('div', `block-${className}`)(mark);

/** What something carried from a file is called: "formula: x = 1", "end of a field". */
export function carriedWords(what: CarriedKind, part: string, says: string): string {
  if (part === 'end') return `end of a ${what}`;
  const name = part === 'begin' ? `beginning of a ${what}` : what;
  return says ? `${name}: ${says}` : name;
}

export const looks = {
  paragraph: paragraphLook,
  cell: (node: Node): DOMOutputSpec => [
    node.attrs.header ? 'th' : 'td',
    { colspan: node.attrs.colspan, rowspan: node.attrs.rowspan },
    0,
  ],
  image: (node: Node): DOMOutputSpec => [
    'img',
    // Where its file is served, whoever shows it knows.
    {
      'data-asset': node.attrs.asset,
      alt: node.attrs.alt,
      width: node.attrs.width,
      height: node.attrs.height,
      'data-carried': node.attrs.carried,
    },
  ],
  footnote: (node: Node): DOMOutputSpec => ['span', { class: 'footnote', 'data-kind': node.attrs.kind }, 0],
  // Of what a file held only its name, its kind and its words ever reach a page.
  carriedThing: ({ attrs: { carried, what, part, says } }: Node): DOMOutputSpec => [
    'span',
    {
      class: `carried-thing carried-${part} carried-${String(what).replace(' ', '-')}`,
      'data-carried': carried,
      'data-what': what,
      'data-part': part,
      'data-says': says,
      role: 'img',
      'aria-label': carriedWords(what as CarriedKind, part as string, says as string),
      title: carriedWords(what as CarriedKind, part as string, says as string),
    },
  ],
  carriedLook: (mark: Mark): DOMOutputSpec => ['span', { 'data-carried-look': mark.attrs.value }, 0],
  anchor: (mark: Mark): DOMOutputSpec => ['span', { class: 'anchor', 'data-thread': mark.attrs.thread }, 0],
  insertion: onBoth('ins', 'insertion'),
  deletion: onBoth('del', 'deletion'),
  formatting: wrap('span', 'formatting'),
  restyled: wrap('div', 'restyled'),
  openingInserted: wrap('div', 'opening-inserted'),
  openingDeleted: wrap('div', 'opening-deleted'),
  link: (mark: Mark): DOMOutputSpec => ['a', { href: mark.attrs.href, rel: 'noopener noreferrer nofollow' }, 0],
  language: (mark: Mark): DOMOutputSpec => ['span', { class: 'language', lang: mark.attrs.value }, 0],
  // Colours go by name, so that each theme has its own shade; an exact one comes from a file.
  colour: ({ attrs: { value } }: Mark): DOMOutputSpec =>
    String(value).startsWith('#')
      ? ['span', { class: 'colour', style: `color: ${value}` }, 0]
      : ['span', { class: `colour colour-${value}` }, 0],
  highlight: (mark: Mark): DOMOutputSpec => ['mark', { class: `highlight highlight-${mark.attrs.value}` }, 0],
  size: (mark: Mark): DOMOutputSpec => [
    'span',
    { class: 'size', 'data-size': mark.attrs.value, style: `font-size: ${mark.attrs.value}pt` },
    0,
  ],
  script: (mark: Mark): DOMOutputSpec => [mark.attrs.value === 'super' ? 'sup' : 'sub', 0],
};

const listOf = (element: PageElement) => {
  let level = -1;
  let kind: 'bullet' | 'number' = 'bullet';
  for (let up = element.parentElement; up; up = up.parentElement) {
    if (up.nodeName !== 'UL' && up.nodeName !== 'OL') continue;
    if (level < 0) kind = up.nodeName === 'OL' ? 'number' : 'bullet';
    level++;
  }
  return level < 0 ? null : { kind, level: Math.min(level, 8) };
};
/** By what name its file's properties are kept, of what was copied within a manuscript. */
const carriedOf = ({ dataset: { carried } }: PageElement) => (propertyRules.asset(carried) ? carried : null);
const paragraphTag = (tag: string, style: string): TagParseRule => ({
  tag,
  getAttrs: (element) => {
    const dir = element.getAttribute('dir');
    return {
      style,
      list: listOf(element),
      direction: dir === 'rtl' || dir === 'ltr' ? dir : null,
      carried: carriedOf(element),
    };
  },
});

/** A value that an element's class names. */
const named = (tag: string, className: string, values: readonly string[]): TagParseRule => ({
  tag: `${tag}.${className}`,
  getAttrs: (element) => {
    const value = values.find((each) => element.classList.contains(`${className}-${each}`));
    return value ? { value } : false;
  },
});

/** How many columns and rows a cell of a page goes over (WHATWG HTML, 4.9.11). */
const spansOf = (element: PageElement) => {
  const span = (name: 'colspan' | 'rowspan') => {
    const value = Number(element.getAttribute(name) ?? 1);
    return propertyRules[name](value) ? value : 1;
  };
  return { colspan: span('colspan'), rowspan: span('rowspan') };
};

export const parsing = {
  paragraph: [
    paragraphTag('h1', 'title'),
    paragraphTag('h2', 'heading1'),
    paragraphTag('h3', 'heading2'),
    paragraphTag('h4', 'heading3'),
    paragraphTag('h5', 'heading4'),
    paragraphTag('h6', 'heading5'),
    paragraphTag('blockquote', 'quotation'),
    paragraphTag('hr', 'rule'),
    paragraphTag('li', 'body'),
    paragraphTag('p', 'body'),
  ],
  cell: [
    { tag: 'td', getAttrs: (element: PageElement) => ({ header: false, ...spansOf(element) }) },
    { tag: 'th', getAttrs: (element: PageElement) => ({ header: true, ...spansOf(element) }) },
  ],
  image: [
    {
      tag: 'img[data-asset]',
      // Only pictures that are here already; what is pasted from elsewhere has none.
      getAttrs: (element: PageElement) => {
        const asset = element.dataset.asset;
        const points = (name: string) => Number(element.getAttribute(name)) || null;
        return propertyRules.asset(asset)
          ? {
              asset,
              alt: element.getAttribute('alt') ?? '',
              width: points('width'),
              height: points('height'),
              carried: carriedOf(element),
            }
          : false;
      },
    },
  ],
  footnote: [
    {
      tag: 'span.footnote',
      getAttrs: (element: PageElement) => ({ kind: element.dataset.kind === 'end' ? 'end' : 'foot' }),
    },
  ],
  carriedThing: [
    {
      tag: 'span.carried-thing',
      getAttrs: ({ dataset: { carried, what, part = 'whole', says = '' } }: PageElement) =>
        propertyRules.asset(carried) && propertyRules.what(what) && propertyRules.part(part) && propertyRules.says(says)
          ? { carried, what, part, says }
          : false,
    },
  ],
  carriedLook: [
    {
      tag: 'span[data-carried-look]',
      getAttrs: ({ dataset: { carriedLook: value } }: PageElement) =>
        propertyRules.carriedLook(value) ? { value } : false,
    },
  ],
  link: [
    {
      tag: 'a[href]',
      getAttrs: (element: PageElement) => {
        const href = element.getAttribute('href') ?? '';
        return isSafeAddress(href) ? { href } : false;
      },
    },
  ],
  language: [
    {
      tag: 'span.language[lang]',
      getAttrs: (element: PageElement) => {
        const value = element.getAttribute('lang');
        return isLanguage(value) ? { value } : false;
      },
    },
  ],
  colour: [named('span', 'colour', wordColours)],
  highlight: [named('mark', 'highlight', highlightColours), { tag: 'mark', attrs: { value: 'tea' } }],
  size: [
    {
      tag: 'span.size',
      getAttrs: (element: PageElement) => {
        // A page that may hold no styles says it besides.
        const value = parseFloat(element.dataset.size ?? '');
        return value >= 4 && value <= 96 ? { value } : false;
      },
    },
  ],
  script: [
    { tag: 'sup', attrs: { value: 'super' } },
    { tag: 'sub', attrs: { value: 'sub' } },
  ],
  italic: [{ tag: 'em' }, { tag: 'i' }],
  bold: [{ tag: 'strong' }, { tag: 'b' }],
};
