import { Schema, type DOMOutputSpec, type MarkSpec, type NodeSpec } from 'prosemirror-model';
import { looks, parsing } from './appearance.js';
import { nodeStepsFail, setsStayFlat } from './steps.js';
import {
  areProperties,
  isChangeId,
  isDate,
  isPersonId,
  propertyRules,
  type ListItem,
  type ParagraphStyle,
  type PropertyName,
} from './values.js';

/**
 * What a manuscript is made of: a flat run of paragraphs (a heading, a list item and a quotation are paragraphs with
 * other properties), tables between them, and inline content. The marks come in two families: properties of the text
 * (bold, link, ...) and review marks, which say who proposes what.
 */

// A type and no interface: it is a table of properties too.
export type ParagraphProperties = {
  style: ParagraphStyle;
  list: ListItem | null;
  align: 'left' | 'center' | 'right' | 'justify' | null;
  /** Steps of indentation, 0 to 8. */
  indent: number;
  /** Which way it runs; null: as its words do (UAX #9, rules P2 and P3). */
  direction: 'ltr' | 'rtl' | null;
  /** What the file it came from says of it besides, by name. */
  carried: string | null;
};

/** What a new paragraph is where nothing else is said. */
export const plainParagraph: ParagraphProperties = {
  style: 'body',
  list: null,
  align: null,
  indent: 0,
  direction: null,
  carried: null,
};

/** The nodes and marks there are; nothing else in the house writes their names as free text. */
export type NodeName =
  | 'doc'
  | 'paragraph'
  | 'table'
  | 'table_row'
  | 'table_cell'
  | 'text'
  | 'line_break'
  | 'image'
  | 'footnote'
  | 'carried_thing';
export type ReviewMarkName =
  'insertion' | 'deletion' | 'formatting' | 'restyled' | 'openingInserted' | 'openingDeleted';
export type PropertyMarkName =
  | 'carriedLook'
  | 'link'
  | 'language'
  | 'colour'
  | 'highlight'
  | 'size'
  | 'script'
  | 'strike'
  | 'underline'
  | 'italic'
  | 'bold';
export type MarkName = ReviewMarkName | PropertyMarkName | 'anchor';

/** An attribute that only takes values by a rule. */
const ruled = (name: string, rule: (value: unknown) => boolean) => ({
  validate: (value: unknown) => {
    if (!rule(value)) throw new RangeError(`No value of ${name}: ${JSON.stringify(value)}`);
  },
});
const property = (name: PropertyName) => ruled(name, propertyRules[name]);
const value = (name: PropertyName) => ({ value: property(name) });
const carried = { carried: { default: null, ...property('carried') } };

const blockReview = 'openingInserted openingDeleted restyled';
const structureReview = 'insertion deletion restyled';
const inlineMarks =
  'anchor deletion insertion formatting carriedLook link language colour highlight size script strike underline italic bold';

const nodes: Record<NodeName, NodeSpec> = {
  // A table always stands between paragraphs; the opening after it lives and goes with the table.
  doc: { content: 'paragraph+ (table paragraph+)*', marks: `${blockReview} insertion deletion` },
  paragraph: {
    content: 'inline*',
    marks: inlineMarks,
    attrs: {
      style: { default: 'body', ...property('style') },
      list: { default: null, ...property('list') },
      align: { default: null, ...property('align') },
      indent: { default: 0, ...property('indent') },
      direction: { default: null, ...property('direction') },
      ...carried,
    },
    toDOM: looks.paragraph as (n: unknown) => DOMOutputSpec,
    parseDOM: parsing.paragraph,
  },
  table: {
    content: 'table_row+',
    marks: structureReview,
    attrs: carried,
    tableRole: 'table',
    isolating: true,
    toDOM: () => ['table', ['tbody', 0]],
    parseDOM: [{ tag: 'table' }],
  },
  table_row: {
    content: 'table_cell+',
    marks: structureReview,
    attrs: carried,
    tableRole: 'row',
    toDOM: () => ['tr', 0],
    parseDOM: [{ tag: 'tr' }],
  },
  table_cell: {
    content: 'paragraph+',
    marks: blockReview,
    attrs: {
      header: { default: false, ...property('header') },
      colspan: { default: 1, ...property('colspan') },
      rowspan: { default: 1, ...property('rowspan') },
      colwidth: { default: null, ...property('colwidth') },
      ...carried,
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
    parseDOM: parsing.image,
    attrs: {
      asset: property('asset'),
      alt: { default: '', ...property('alt') },
      width: { default: null, ...property('width') },
      height: { default: null, ...property('height') },
      ...carried,
    },
    toDOM: looks.image as (n: unknown) => DOMOutputSpec,
  },
  footnote: {
    inline: true,
    group: 'inline',
    content: 'paragraph+',
    marks: blockReview,
    isolating: true,
    // Without a default the editor never makes a footnote of its own accord, to hold what it cannot place.
    attrs: { kind: property('kind') },
    toDOM: looks.footnote as (n: unknown) => DOMOutputSpec,
    parseDOM: parsing.footnote,
  },
  // What a file held and a manuscript does not know. Its XML is kept beside the text; here is what it is, and what it says.
  carried_thing: {
    inline: true,
    group: 'inline',
    draggable: true,
    attrs: {
      carried: property('carried'),
      what: property('what'),
      /** Some stand around words: where they begin, and where they end. */
      part: { default: 'whole', ...property('part') },
      says: { default: '', ...property('says') },
    },
    toDOM: looks.carriedThing as (n: unknown) => DOMOutputSpec,
    parseDOM: parsing.carriedThing,
  },
};

const change = {
  change: ruled('change', isChangeId),
  author: ruled('author', isPersonId),
  date: ruled('date', isDate),
};
const entry = {
  ...change,
  order: { default: 1, ...ruled('order', Number.isInteger) },
  was: ruled('was', areProperties),
  now: ruled('now', areProperties),
};

const marks: Record<MarkName, MarkSpec> = {
  // Review marks. They may stand on each other, and several of one type may stand on the same words.
  anchor: { attrs: { thread: ruled('thread', isPersonId) }, excludes: '', inclusive: false, toDOM: looks.anchor },
  deletion: { attrs: change, excludes: '', inclusive: false, toDOM: looks.deletion },
  insertion: { attrs: change, excludes: '', inclusive: false, toDOM: looks.insertion },
  formatting: { attrs: entry, excludes: '', inclusive: false, toDOM: looks.formatting },
  restyled: { attrs: entry, excludes: '', inclusive: false, toDOM: looks.restyled },
  openingInserted: { attrs: change, excludes: '', inclusive: false, toDOM: looks.openingInserted },
  openingDeleted: { attrs: change, excludes: '', inclusive: false, toDOM: looks.openingDeleted },
  // Properties of the text.
  carriedLook: { attrs: value('carriedLook'), toDOM: looks.carriedLook, parseDOM: parsing.carriedLook },
  link: { attrs: { href: property('link') }, inclusive: false, toDOM: looks.link, parseDOM: parsing.link },
  language: { attrs: value('language'), toDOM: looks.language, parseDOM: parsing.language },
  colour: { attrs: value('colour'), toDOM: looks.colour, parseDOM: parsing.colour },
  highlight: { attrs: value('highlight'), toDOM: looks.highlight, parseDOM: parsing.highlight },
  size: { attrs: value('size'), toDOM: looks.size, parseDOM: parsing.size },
  script: { attrs: value('script'), toDOM: looks.script, parseDOM: parsing.script },
  strike: { toDOM: () => ['s', 0], parseDOM: [{ tag: 's' }, { tag: 'strike' }] },
  underline: { toDOM: () => ['u', 0], parseDOM: [{ tag: 'u' }] },
  italic: { toDOM: () => ['em', 0], parseDOM: parsing.italic },
  bold: { toDOM: () => ['strong', 0], parseDOM: parsing.bold },
};

/** The one schema of all manuscripts. */
export const schema: Schema<NodeName, MarkName> = new Schema({ nodes, marks });
nodeStepsFail();
setsStayFlat(schema);

/** Marks that say who proposes what; the anchor of a thread is not among them. */
export const reviewMarks: ReadonlySet<string> = new Set<ReviewMarkName>([
  'insertion',
  'deletion',
  'formatting',
  'restyled',
  'openingInserted',
  'openingDeleted',
]);

/** Whether a mark is a property of the text itself, neither review mark nor anchor. */
export const isProperty = (markName: string): markName is PropertyMarkName =>
  !reviewMarks.has(markName) && markName !== 'anchor';

/** Whether there is a mark of that name. */
export const isMarkName = (name: string): name is MarkName => Object.hasOwn(marks, name);
