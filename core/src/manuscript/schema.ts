import { Schema, type DOMOutputSpec, type MarkSpec, type NodeSpec } from 'prosemirror-model';
import { looks, parsing } from './appearance.js';

/**
 * What a manuscript is made of: a flat run of paragraphs (a heading, a list item and a quotation are paragraphs with
 * other properties), tables between them, and inline content. The marks come in two families: properties of the text
 * (bold, link, ...) and review marks, which say who proposes what.
 */

/** The named styles a paragraph can have, in the order a menu shows them. */
export const paragraphStyles = [
  'body',
  'title',
  'heading1',
  'heading2',
  'heading3',
  'heading4',
  'heading5',
  'heading6',
  'quotation',
  'rule',
] as const;
export type ParagraphStyle = (typeof paragraphStyles)[number];

export interface ListPlace {
  kind: 'bullet' | 'number';
  /** 0 is the outermost level. */
  level: number;
}

export interface ParagraphProperties {
  style: ParagraphStyle;
  list: ListPlace | null;
  align: 'left' | 'center' | 'right' | 'justify' | null;
  /** Steps of indentation, 0 to 8. */
  indent: number;
}

/** What a new paragraph is where nothing else is said. */
export const plainParagraph: ParagraphProperties = { style: 'body', list: null, align: null, indent: 0 };

const blockReview = 'openingInserted openingDeleted restyled';
const structureReview = 'insertion deletion restyled';
const inlineMarks =
  'anchor deletion insertion formatting link colour highlight size script strike underline italic bold';

const nodes: Record<string, NodeSpec> = {
  // A table always stands between paragraphs; the opening after it lives and goes with the table.
  doc: { content: 'paragraph+ (table paragraph+)*', marks: `${blockReview} insertion deletion` },
  paragraph: {
    content: 'inline*',
    marks: inlineMarks,
    attrs: { style: { default: 'body' }, list: { default: null }, align: { default: null }, indent: { default: 0 } },
    toDOM: looks.paragraph as (n: unknown) => DOMOutputSpec,
    parseDOM: parsing.paragraph,
  },
  table: {
    content: 'table_row+',
    marks: structureReview,
    tableRole: 'table',
    isolating: true,
    toDOM: () => ['table', ['tbody', 0]],
    parseDOM: [{ tag: 'table' }],
  },
  table_row: {
    content: 'table_cell+',
    marks: structureReview,
    tableRole: 'row',
    toDOM: () => ['tr', 0],
    parseDOM: [{ tag: 'tr' }],
  },
  table_cell: {
    content: 'paragraph+',
    marks: blockReview,
    attrs: {
      header: { default: false },
      colspan: { default: 1 },
      rowspan: { default: 1 },
      colwidth: { default: null },
    },
    tableRole: 'cell',
    isolating: true,
    toDOM: looks.cell as (n: unknown) => DOMOutputSpec,
    parseDOM: parsing.cell,
  },
  text: { group: 'inline' },
  line_break: { inline: true, group: 'inline', selectable: false, toDOM: () => ['br'], parseDOM: [{ tag: 'br' }] },
  image: {
    inline: true,
    group: 'inline',
    draggable: true,
    attrs: { asset: {}, alt: { default: '' }, width: { default: null }, height: { default: null } },
    toDOM: looks.image as (n: unknown) => DOMOutputSpec,
  },
  footnote: {
    inline: true,
    group: 'inline',
    content: 'paragraph+',
    marks: blockReview,
    isolating: true,
    toDOM: () => ['span', { class: 'footnote' }, 0],
  },
};

const change = { change: {}, author: {}, date: {} };
const entry = { ...change, order: { default: 1 }, was: {}, now: {} };

const marks: Record<string, MarkSpec> = {
  // Review marks. They may stand on each other, and several of one type may stand on the same words.
  anchor: { attrs: { thread: {} }, excludes: '', inclusive: false, toDOM: looks.anchor },
  deletion: { attrs: change, excludes: '', inclusive: false, toDOM: looks.deletion },
  insertion: { attrs: change, excludes: '', inclusive: false, toDOM: looks.insertion },
  formatting: { attrs: entry, excludes: '', inclusive: false, toDOM: looks.formatting },
  restyled: { attrs: entry, excludes: '', inclusive: false, toDOM: looks.restyled },
  openingInserted: { attrs: change, excludes: '', inclusive: false, toDOM: looks.openingInserted },
  openingDeleted: { attrs: change, excludes: '', inclusive: false, toDOM: looks.openingDeleted },
  // Properties of the text.
  link: { attrs: { href: {} }, inclusive: false, toDOM: looks.link, parseDOM: parsing.link },
  colour: { attrs: { value: {} }, toDOM: looks.colour },
  highlight: { attrs: { value: {} }, toDOM: looks.highlight, parseDOM: parsing.highlight },
  size: { attrs: { value: {} }, toDOM: looks.size },
  script: { attrs: { value: {} }, toDOM: looks.script, parseDOM: parsing.script },
  strike: { toDOM: () => ['s', 0], parseDOM: [{ tag: 's' }, { tag: 'strike' }] },
  underline: { toDOM: () => ['u', 0], parseDOM: [{ tag: 'u' }] },
  italic: { toDOM: () => ['em', 0], parseDOM: parsing.italic },
  bold: { toDOM: () => ['strong', 0], parseDOM: parsing.bold },
};

/** The one schema of all manuscripts. */
export const schema: Schema = new Schema({ nodes, marks });

/** Marks that say who proposes what; the anchor of a thread is not among them. */
export const reviewMarks: ReadonlySet<string> = new Set([
  'insertion',
  'deletion',
  'formatting',
  'restyled',
  'openingInserted',
  'openingDeleted',
]);

/** Whether a mark is a property of the text itself, neither review mark nor anchor. */
export const isProperty = (markName: string): boolean => !reviewMarks.has(markName) && markName !== 'anchor';
