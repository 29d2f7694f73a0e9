import { Fragment, type Mark, type Node } from 'prosemirror-model';
import { limits } from '../../manuscript/limits.js';
import type { Properties } from '../../manuscript/properties.js';
import { plainParagraph, schema, type ParagraphProperties } from '../../manuscript/schema.js';
import { isSo } from '../kept/said.js';
import { TooMuch } from '../unreadable.js';
import { attribute, child, elements, tag, type Element } from '../xml.js';
import type { Region } from './context.js';
import { Line } from '../kept/line.js';
import { levelXml, saysMore, type Chain, type Level } from './levels.js';
import type { Where } from './names.js';
import { readParagraph } from './paragraphs.js';
import type { Sink, Words } from './read-words.js';

/** Paragraphs, lists and tables of a container: the text, a cell, a note (OpenDocument 1.3 part 3, 5). */

/** A piece of the file, and the blocks that it became. */
export interface Piece {
  start: number;
  end: number;
  nodes: Node[];
}

interface Draft {
  inline: Node[];
  attrs: ParagraphProperties;
  marks: readonly Mark[];
  element: Element | null;
  pieces: readonly Piece[];
}

/** Someone says something of a place without words: in which block, and how far behind its beginning. */
export interface PlacedThread {
  thread: { id: string };
  block: number;
  offset: number;
}

/** What is found of the whole text, besides its blocks. */
export interface Found {
  /** Pieces of the text, and paragraphs in its lists and tables. */
  units: Piece[];
  inner: Piece[];
  placed: PlacedThread[];
  lists: number;
  text?: Blocks;
}

const blockMarks = new Set(['openingInserted', 'openingDeleted', 'restyled']);
/** What stands between blocks and is not read. */
const between =
  /^(text:(soft-page-break|tracked-changes|sequence-decls|variable-decls|user-field-decls|alphabetical-index-auto-mark-file)|text:dde-connection-decls|office:forms|table:(calculation-settings|content-validations|.*-source)|office:(annotation|annotation-end|event-listeners))$/;

/** How many deletions can stand in one another. */
const deepest = 30;

export class Blocks implements Sink {
  readonly #blocks: { node: Node; pieces: readonly Piece[] }[] = [];
  #run: Draft[] = [];
  /** What a table ended although its paragraph goes on. */
  #goesOn: Draft | null = null;
  #unit: Piece | null = null;
  #inner: Piece | null = null;
  line = new Line();

  constructor(
    readonly words: Words,
    readonly where: Where,
    readonly found: Found,
    /** Reads a table, where one can stand; where not, it is one thing among words. */
    readonly readTable: ((blocks: Blocks, element: Element) => Node) | null,
    readonly isText = false,
    /** Within a list or table, each paragraph is a piece of its own. */
    readonly isInside = false,
  ) {}

  /** Which block one reads. */
  get index(): number {
    return this.#run.length ? this.length - 1 : this.length;
  }

  get length(): number {
    return this.#blocks.length + this.#run.length;
  }

  block(element: Element, chain: Chain = []): void {
    if (this.length > limits.paragraphs) throw new TooMuch('paragraphs');
    if (element.name === 'text:section') return this.inside(element);
    if (between.test(element.name)) return;
    if (!this.isText || this.#unit) return this.#block(element, chain);
    if (this.words.range(element)) return;
    this.#unit = { start: element.start, end: element.end, nodes: [] };
    this.found.units.push(this.#unit);
    this.#block(element, chain);
    this.#unit = null;
  }

  #block(element: Element, chain: Chain): void {
    const { name } = element;
    if (name === 'text:p' || name === 'text:h') this.#paragraph(element, chain);
    else if (name === 'text:list') this.#list(element, chain);
    else if (name === 'table:table' && this.readTable) this.#table(element, this.readTable);
    else if (name === 'text:numbered-paragraph') this.#numbered(element, chain);
    else if (name === 'text:change') {
      const region = this.words.context.region(element);
      if (region?.kind === 'deletion') this.#deletedBetween(region);
    } else if (!this.words.range(element)) this.#thing(element);
  }

  inside(parent: Element, chain: Chain = []): void {
    for (const element of elements(parent)) this.block(element, chain);
  }

  // ---- what stands among blocks

  #list(element: Element, outer: Chain): void {
    const number = ++this.found.lists;
    const style = attribute(element, 'text:style-name') ?? outer.at(-1)?.style;
    for (const item of elements(element)) {
      if (item.name !== 'text:list-item' && item.name !== 'text:list-header') continue;
      const paragraphs = [...elements(item)].filter(({ name }) => name === 'text:p' || name === 'text:h').length;
      const level: Level = {
        list: element,
        number,
        style,
        item,
        shared: paragraphs > 1 ? item.start : null,
        header: item.name === 'text:list-header',
      };
      let first = true;
      for (const inner of elements(item)) {
        if (inner.name === 'text:number') continue;
        const isParagraph = inner.name === 'text:p' || inner.name === 'text:h';
        this.#block(inner, [...outer, isParagraph && !first ? { ...level, header: true } : level]);
        if (isParagraph) first = false;
      }
    }
  }

  #numbered(element: Element, chain: Chain): void {
    const inner = [...elements(element)].find(({ name }) => name === 'text:p' || name === 'text:h');
    if (!inner) return;
    const style = attribute(element, 'text:style-name');
    const depth = Math.min(9, Math.max(1, Number(attribute(element, 'text:level') ?? 1) || 1));
    const level = { list: element, number: 0, style, item: null, shared: null, header: false };
    this.#paragraph(inner, [...chain, ...Array.from({ length: depth }, () => level)]);
  }

  #table(element: Element, read: (blocks: Blocks, element: Element) => Node): void {
    const goesOn = this.#run.at(-1) ?? null;
    this.#merging = null;
    this.#close();
    const { words } = this;
    // What is said of the table whole is not said of each word in it once more.
    const [inserted, deleted] = [words.inserted.splice(0), words.deleted.splice(0)];
    const node = read(this, element);
    const still = inserted.filter((region) => !words.ended.delete(region));
    words.inserted.unshift(...still);
    words.deleted.unshift(...deleted);
    let { marks } = node;
    const first = inserted.at(-1);
    if (first) marks = schema.marks.insertion.create(words.context.change(first)).addToSet(marks);
    for (const region of deleted) marks = schema.marks.deletion.create(words.context.change(region)).addToSet(marks);
    this.#put(node.mark(marks), this.#pieces());
    this.#goesOn = deleted.length ? goesOn : null;
  }

  /** Something that is a block there and a thing among words here, in a paragraph of its own. */
  #thing(element: Element): void {
    const draft = this.#begin(plainParagraph, null);
    draft.inline.push(this.words.whole(element, { spans: [], link: null, base: {} }));
  }

  /** What was deleted between two paragraphs: whole ones, whose openings went with them. */
  #deletedBetween(region: Region): void {
    this.#expand(region, (element) => this.#block(element, []));
  }

  /** What was deleted in a paragraph: its first paragraph goes on where the text was, be it an item of a list. */
  deleted(region: Region): void {
    const outer = this.line;
    this.#merging = outer;
    this.#expand(region, (element) => this.#block(element, []));
    this.#merging = null;
    this.line = outer;
  }

  /** The line that the first paragraph of what was deleted goes on with. */
  #merging: Line | null = null;

  #expand(region: Region, each: (element: Element) => void): void {
    const { deleted, context } = this.words;
    if (region.read || deleted.length >= deepest) {
      context.losses.add('deletion that is told twice', 'changes');
      return;
    }
    region.read = true;
    const last = lastParagraph(region.element);
    if (last) this.#openEnded.add(last);
    deleted.push(region);
    for (const element of elements(region.element)) if (element.name !== 'office:change-info') each(element);
    deleted.splice(deleted.lastIndexOf(region), 1);
  }

  // ---- paragraphs

  #paragraph(element: Element, chain: Chain): void {
    const { context } = this.words;
    const { properties, base, plain } = readParagraph(element, context.definitions, this.where);
    if (this.#merging) {
      const line = this.#merging.goingOn();
      this.#merging = null;
      return this.#words(element, base, line);
    }
    const attrs = this.#listed(properties, element, plain, chain);
    const isPiece = (this.isInside || chain.length > 0) && !this.words.deleted.length;
    if (isPiece) {
      this.#inner = { start: element.start, end: element.end, nodes: [] };
      this.found.inner.push(this.#inner);
    }
    this.#goesOn = null;
    this.#begin(attrs, element);
    this.#words(element, base);
    if (isPiece) this.#inner = null;
  }

  /** The properties of a paragraph in the lists it stands in, with what is carried. */
  #listed(properties: ParagraphProperties, element: Element, plain: boolean, chain: Chain): ParagraphProperties {
    const { definitions, fragments } = this.words.context;
    const inner = chain.at(-1);
    let { indent } = properties;
    let list: ParagraphProperties['list'] = null;
    const level = Math.min(8, chain.length - 1);
    if (inner && !inner.header) list = { kind: definitions.listKind(inner.style, level), level };
    else if (inner) indent = Math.max(indent, Math.min(8, chain.length));
    const isOurs = chain.every(
      (one) => !one.header && one.shared === null && definitions.isOwnList(one.style) && !saysMore(one),
    );
    const xml = isOurs ? '' : chain.map(levelXml).join('');
    const carried = plain && !xml ? null : tag('tp:p', { ...bare(element.attributes), 'tp:el': element.name }, xml);
    return { ...properties, indent, list, carried: carried === null ? null : fragments.named(carried) };
  }

  /** Paragraphs at whose end the text goes on. */
  readonly #openEnded = new WeakSet<Element>();

  #words(element: Element, base: Properties, line = new Line()): void {
    const before = this.line;
    this.line = line;
    this.words.inline(element, { spans: [], link: null, base }, this);
    if (this.line.trailing && !this.#openEnded.has(element)) this.#dropSpace();
    this.line = before;
  }

  /** The space that the end of a paragraph takes away. */
  #dropSpace(): void {
    const inline = this.inline();
    const last = inline.at(-1);
    if (!last?.isText || !last.text!.endsWith(' ')) return;
    inline.pop();
    if (last.text!.length > 1) inline.push(schema.text(last.text!.slice(0, -1), last.marks));
  }

  /** Begins a paragraph; its opening is inserted or deleted where one reads something that is. */
  #begin(attrs: ParagraphProperties, element: Element | null): Draft {
    const { context, inserted, deleted } = this.words;
    let marks: readonly Mark[] = [];
    if (this.length) {
      const by = inserted.at(-1);
      if (by) marks = schema.marks.openingInserted.create(context.change(by)).addToSet(marks);
      for (const region of deleted) marks = schema.marks.openingDeleted.create(context.change(region)).addToSet(marks);
    }
    if (!marks.length) context.apart();
    const draft: Draft = { inline: [], attrs, marks, element, pieces: this.#pieces() };
    this.#run.push(draft);
    return draft;
  }

  /** The content of the paragraph one reads; one that goes on behind a table begins anew. */
  inline(): Node[] {
    const last = this.#run.at(-1);
    if (last) return last.inline;
    const from = this.#goesOn;
    return this.#begin(from?.attrs ?? plainParagraph, null).inline;
  }

  note(element: Element, marks: readonly Mark[]): Node {
    const kind = attribute(element, 'text:note-class') === 'endnote' ? 'end' : 'foot';
    const { words } = this;
    const [inserted, deleted, formatted] = [
      words.inserted.splice(0),
      words.deleted.splice(0),
      words.formatted.splice(0),
    ];
    const blocks = new Blocks(words, kind, { ...this.found, units: [], inner: [] }, null);
    blocks.inside(child(element, 'text:note-body') ?? { ...element, children: [] });
    const content = blocks.finish();
    words.inserted.splice(0, Infinity, ...inserted);
    words.deleted.splice(0, Infinity, ...deleted);
    words.formatted.splice(0, Infinity, ...formatted);
    return schema.nodes.footnote.create({ kind }, Fragment.fromArray(content), marks);
  }

  placed = (thread: { id: string }): void => {
    if (!this.isText) return void this.found.placed.push({ thread, block: this.found.text?.index ?? 0, offset: 0 });
    const inline = this.inline();
    const offset = inline.reduce((sum, { nodeSize }) => sum + nodeSize, 0);
    this.found.placed.push({ thread, block: this.length - 1, offset });
  };

  // ---- blocks

  #pieces = (): readonly Piece[] => [this.#unit, this.#inner].filter((one) => one !== null);

  #put(node: Node, pieces: readonly Piece[]): void {
    for (const piece of pieces) piece.nodes.push(node);
    this.#blocks.push({ node, pieces });
  }

  #close(): void {
    for (const { inline, attrs, marks, element, pieces } of this.#run) {
      const told = element ? this.#told(element, attrs, marks) : marks;
      this.#put(schema.nodes.paragraph.create({ ...attrs }, Fragment.fromArray(inline), told), pieces);
    }
    this.#run = [];
  }

  /** What our own file tells of a paragraph and the standard has no place for. */
  #told(element: Element, attrs: ParagraphProperties, marks: readonly Mark[]): readonly Mark[] {
    const told = this.words.context.marks(element, 'tp:marks', blockMarks);
    const entries = told?.filter(({ type }) => type.name === 'restyled') ?? [];
    if (!told || !entries.every((mark) => isSo(mark, attrs, entries))) return marks;
    return told.reduce((all, mark) => mark.addToSet(all), marks);
  }

  /** All blocks, with paragraphs where a table must stand between some. */
  finish(): Node[] {
    this.#close();
    const nodes: Node[] = [];
    let unit: Piece | undefined;
    /** A paragraph that the file has none of is a piece of no length. */
    const add = () => {
      const node = schema.nodes.paragraph.create();
      nodes.push(node);
      if (!this.isText) return;
      const at = unit?.end ?? 0;
      if (at) this.found.units.splice(this.found.units.indexOf(unit!) + 1, 0, { start: at, end: at, nodes: [node] });
    };
    for (const { node, pieces } of this.#blocks) {
      if (!node.isTextblock && !nodes.at(-1)?.isTextblock) add();
      nodes.push(node);
      unit = pieces[0];
    }
    if (!nodes.at(-1)?.isTextblock) add();
    return nodes;
  }
}

/** The paragraph with which some content ends; nothing where it ends otherwise. */
function lastParagraph(parent: Element): Element | undefined {
  const last = [...elements(parent)].at(-1);
  if (last?.name === 'text:p' || last?.name === 'text:h') return last;
  return last && /^text:list(-item|-header)?$/.test(last.name) ? lastParagraph(last) : undefined;
}

const bare = (attributes: Element['attributes']) =>
  Object.fromEntries(Object.entries(attributes).filter(([name]) => !name.startsWith('tp:')));
