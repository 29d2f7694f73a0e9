import { Fragment, type Mark, type Node } from 'prosemirror-model';
import { limits } from '../../manuscript/limits.js';
import { plainParagraph, schema, type ParagraphProperties } from '../../manuscript/schema.js';
import { asText, propertyRules } from '../../manuscript/values.js';
import { marksOf } from '../kept/context.js';
import { isSo, say } from '../kept/said.js';
import { TooMuch, UnreadableFile } from '../unreadable.js';
import type { Around } from './around.js';
import type { PageContext } from './context.js';
import { blocks, cellsIn, holdsBlocks, left, nextOf, onlyChild, rowsIn, silent, styles } from './elements.js';
import { lookOf } from './looks.js';
import { Line } from '../kept/line.js';
import {
  attr,
  elementsIn,
  hasRole,
  isElement,
  isText,
  wordsIn,
  type Notes,
  type PageElement,
  type PageNode,
} from './page.js';

/** What stands on a page as paragraphs, lists and tables (WHATWG HTML, 4.3 to 4.9). */

interface Draft {
  attrs: ParagraphProperties;
  marks: readonly Mark[];
  inline: Node[];
  /** Whether something began it, or only words that stood bare. */
  meant: boolean;
}

const blockMarks = new Set(['openingInserted', 'openingDeleted', 'restyled']);
const structure = new Set(['insertion', 'deletion', 'restyled']);
const ofPictures: ReadonlySet<string> = new Set(['asset', 'alt', 'width', 'height', 'carried']);
const deepest = 400;

export class PageBlocks {
  readonly #blocks: Node[] = [];
  #open: Draft | null = null;
  #space = new Line();

  constructor(
    readonly context: PageContext,
    readonly notes: Notes,
    readonly where: 'text' | 'cell' | 'note' = 'text',
  ) {}

  get start(): Around {
    return {
      properties: {},
      link: null,
      inserted: [],
      deleted: [],
      formatted: [],
      threads: [],
      style: 'body',
      align: null,
      list: [],
      keepsSpace: this.context.isOwn,
      depth: 0,
    };
  }

  inside(parent: PageElement, around: Around): void {
    if (around.depth > deepest) throw new UnreadableFile('has elements that stand too deep in one another');
    const within = { ...around, depth: around.depth + 1 };
    for (const node of parent.childNodes) this.#node(node, within);
  }

  #node(node: PageNode, around: Around): void {
    if (isText(node)) this.#text(node.value, around);
    else if (isElement(node)) this.#element(node, around);
  }

  #text(raw: string, around: Around): void {
    const clean = asText(raw);
    if (around.keepsSpace) {
      // Between blocks, what keeps its white space has none that means anything.
      if (!this.#open && !clean.trim()) return;
      if (clean) say(clean, this.#marks(around), this.#inline(around));
      return;
    }
    if (!this.#open && !clean.trim()) return;
    if (!this.#open) this.#begin(around, false);
    const text = this.#space.text(clean);
    if (text) say(text, this.#marks(around), this.#inline(around));
  }

  // ---- elements

  #element(element: PageElement, around: Around): void {
    const name = element.tagName;
    if (silent.has(name) || attr(element, 'data-tp') !== undefined || this.notes.around.has(element)) return;
    if (attr(element, 'hidden') !== undefined) return;
    if (this.context.isOwn && name === 'aside' && attr(element, 'data-thread') !== undefined) return;
    if (Object.hasOwn(left, name)) return this.#leftOut(element, around);
    if (name === 'table') return this.#table(element, around);
    if (name === 'ins' || name === 'del') return this.#changed(element, around);
    if (name === 'br') return this.#break(element, around);
    if (name === 'img') return this.#picture(element, around);
    if (name === 'a' && hasRole(element, 'doc-noteref') && this.#note(element, around)) return;
    if (hasRole(element, 'doc-backlink')) return;
    if (name === 'sup' && attr(element, 'class') === 'ref') return this.inside(element, around);
    if (blocks.test(name)) return this.#block(element, around);
    this.inside(element, lookOf(element, around, this.context));
    if (name === 'q') this.#text('”', around);
  }

  #leftOut(element: PageElement, around: Around): void {
    this.context.losses.add(left[element.tagName]!);
    // Words that stand in it are words.
    if (!/^(iframe|select|input|textarea|video|audio|canvas|map)$/.test(element.tagName) && wordsIn(element).trim())
      this.#text(wordsIn(element), around);
  }

  #changed(element: PageElement, around: Around): void {
    const classes = (attr(element, 'class') ?? '').split(/\s+/);
    // A sign of ours for what the paragraph itself tells.
    if (this.context.isOwn && classes.includes('opening')) return;
    const kind = element.tagName === 'ins' ? 'inserted' : 'deleted';
    this.inside(element, { ...around, [kind]: [...around[kind], element] });
  }

  #break(element: PageElement, around: Around): void {
    // One that ends a paragraph is no line of its own.
    const isLast = !nextOf(element);
    if (isLast && !this.context.isOwn) return;
    if (isLast && this.#open?.inline.length === 0 && attr(element, 'class') === undefined && onlyChild(element)) return;
    this.#inline(around).push(schema.nodes.line_break.create(null, null, this.#marks(around)));
    this.#space.other(true);
  }

  #picture(img: PageElement, around: Around): void {
    const asset = this.context.shown(img);
    const alt = asText(attr(img, 'alt') ?? '').slice(0, 2000);
    if (asset === null) {
      this.context.losses.add('picture that is not in the file');
      if (alt) this.#text(`[${alt}]`, around);
      return;
    }
    const size = (name: 'width' | 'height') => {
      const n = Math.round(Number(attr(img, name)));
      return propertyRules[name](n) ? n : null;
    };
    const attrs = { asset, alt, width: size('width'), height: size('height') };
    this.#inline(around).push(schema.nodes.image.create(attrs, null, this.#marks(around, true)));
    this.#space.other();
  }

  /** A note, where the text refers to it. */
  #note(link: PageElement, around: Around): boolean {
    const id = /^#(.+)$/.exec(attr(link, 'href') ?? '')?.[1];
    const element = id === undefined ? undefined : this.notes.byId.get(id);
    if (!element || this.where === 'note') return false;
    const inner = new PageBlocks(this.context, { byId: new Map(), around: new Set() }, 'note');
    inner.inside(element, inner.start);
    const kind = attr(element, 'data-kind') === 'end' ? 'end' : 'foot';
    const marks = this.#marks(around);
    this.#inline(around).push(schema.nodes.footnote.create({ kind }, Fragment.fromArray(inner.finish()), marks));
    return true;
  }

  // ---- blocks

  #block(element: PageElement, around: Around): void {
    const name = element.tagName;
    this.#end();
    if (name === 'hr') {
      this.#begin({ ...lookOf(element, around, this.context), style: 'rule' }, true, element);
      return this.#end();
    }
    const inner = { ...lookOf(element, around, this.context), style: styles[name] ?? around.style };
    if (name === 'ul' || name === 'ol' || name === 'menu' || name === 'dir')
      return this.#list(element, { ...inner, list: [...around.list, name === 'ol' ? 'number' : 'bullet'] });
    if (name === 'pre') inner.keepsSpace = true;
    const isParagraph = /^(p|h[1-6])$/.test(name) || (name === 'blockquote' && !holdsBlocks(element));
    if (isParagraph) this.#begin(inner, true, element);
    this.inside(element, inner);
    this.#end();
  }

  #list(element: PageElement, around: Around): void {
    for (const node of element.childNodes) {
      if (!isElement(node) || node.tagName !== 'li') {
        this.#node(node, around);
        continue;
      }
      this.#end();
      // The first paragraph of an item bears its sign; the others stand under it.
      const item = { ...around, depth: around.depth + 1 };
      let first = true;
      for (const inner of node.childNodes) {
        const isBlock = isElement(inner) && blocks.test(inner.tagName);
        const isList = isElement(inner) && /^(ul|ol|menu|dir)$/.test(inner.tagName);
        if (!isBlock && !isElement(inner) && !this.#open && isText(inner) && !inner.value.trim()) continue;
        if (isList) {
          this.#end();
          this.#node(inner, item);
          continue;
        }
        this.#asItem = first;
        this.#node(inner, item);
        if (isBlock) this.#end();
        first = first && !this.#begun;
      }
      this.#asItem = true;
      this.#begun = false;
      this.#end();
    }
  }

  #asItem = true;
  #begun = false;

  #begin(around: Around, meant: boolean, element?: PageElement): Draft {
    if (this.#blocks.length > limits.paragraphs) throw new TooMuch('paragraphs');
    const own = (name: string) => (element && this.context.isOwn ? attr(element, name) : undefined);
    const style = own('data-style');
    const dir = own('data-dir') ?? (this.context.isOwn ? undefined : element && attr(element, 'dir'));
    const level = Math.min(8, around.list.length - 1);
    const isItem = around.list.length > 0 && this.#asItem;
    const indent = Number(/(?:^| )indent-(\d)(?: |$)/.exec((element && attr(element, 'class')) ?? '')?.[1] ?? 0);
    const attrs: ParagraphProperties = {
      ...plainParagraph,
      style: propertyRules.style(style) ? (style as ParagraphProperties['style']) : around.style,
      list: isItem ? { kind: around.list.at(-1)!, level } : null,
      align: around.align,
      indent: this.context.isOwn
        ? Math.min(8, indent)
        : around.list.length && !isItem
          ? Math.min(8, around.list.length)
          : 0,
      direction: dir === 'rtl' || dir === 'ltr' ? dir : null,
    };
    this.#begun = true;
    let marks: readonly Mark[] = [];
    const told = element && this.context.told(element, 'data-marks', blockMarks);
    const entries = told?.filter(({ type }) => type.name === 'restyled') ?? [];
    if (told && entries.every((mark) => isSo(mark, attrs, entries))) marks = told;
    else if (this.#blocks.length && !this.context.isOwn) {
      const [by] = around.inserted.slice(-1);
      if (by) marks = schema.marks.openingInserted.create(this.context.change(by)).addToSet(marks);
      for (const one of around.deleted)
        marks = schema.marks.openingDeleted.create(this.context.change(one)).addToSet(marks);
    }
    this.#space = new Line();
    return (this.#open = { attrs, marks, inline: [], meant });
  }

  #inline(around: Around): Node[] {
    return (this.#open ?? this.#begin(around, false)).inline;
  }

  #end(): void {
    const open = this.#open;
    if (!open) return;
    this.#open = null;
    const last = open.inline.at(-1);
    if (this.#space.trailing && last?.isText && last.text!.endsWith(' ')) {
      open.inline.pop();
      if (last.text!.length > 1) open.inline.push(schema.text(last.text!.slice(0, -1), last.marks));
    }
    // A paragraph that nobody meant and that says nothing is none; an empty one of another page neither.
    if (!open.inline.length && !(open.meant && (this.context.isOwn || open.attrs.style === 'rule'))) return;
    this.#blocks.push(schema.nodes.paragraph.create({ ...open.attrs }, Fragment.fromArray(open.inline), open.marks));
  }

  // ---- tables

  #table(element: PageElement, around: Around): void {
    this.#end();
    if (this.where !== 'text') {
      this.context.losses.add('table in a table, its words are kept');
      for (const one of cellsIn(element)) {
        this.inside(one, around);
        this.#end();
      }
      return;
    }
    for (const caption of elementsIn(element).filter(({ tagName }) => tagName === 'caption')) {
      this.inside(caption, around);
      this.#end();
    }
    const rows = rowsIn(element).flatMap((row) => this.#row(row));
    if (!rows.length) return;
    const attrs = { carried: null };
    let marks: readonly Mark[] = this.context.told(element, 'data-marks', structure) ?? [];
    if (!marks.length) {
      const [by] = around.inserted.slice(-1);
      if (by) marks = schema.marks.insertion.create(this.context.change(by)).addToSet(marks);
      for (const one of around.deleted) marks = schema.marks.deletion.create(this.context.change(one)).addToSet(marks);
    }
    this.#blocks.push(schema.nodes.table.create(attrs, rows, marks));
  }

  #row(row: PageElement): Node[] {
    const cells = elementsIn(row)
      .filter(({ tagName }) => tagName === 'td' || tagName === 'th')
      .map((cell) => this.#cell(cell));
    if (!cells.length) return [];
    return [schema.nodes.table_row.create(null, cells, this.context.told(row, 'data-marks', structure) ?? [])];
  }

  #cells = 0;

  #cell(cell: PageElement): Node {
    if (++this.#cells > limits.cells) throw new TooMuch('cells');
    const inner = new PageBlocks(this.context, this.notes, 'cell');
    inner.inside(cell, inner.start);
    const span = (name: 'colspan' | 'rowspan') => {
      const n = Math.floor(Number(attr(cell, name) ?? 1));
      return propertyRules[name](n) ? n : 1;
    };
    const told = this.context.data(cell, 'data-colwidth');
    const colwidth = propertyRules.colwidth(told) ? (told ?? null) : null;
    const attrs = {
      header: cell.tagName === 'th',
      colspan: span('colspan'),
      rowspan: span('rowspan'),
      colwidth,
    };
    const marks = this.context.told(cell, 'data-marks', structure) ?? [];
    return schema.nodes.table_cell.create(attrs, Fragment.fromArray(inner.finish()), marks);
  }

  // ---- what is pending about words

  #marks(around: Around, isPicture = false): readonly Mark[] {
    const { context } = this;
    const properties = Object.fromEntries(Object.entries(around.properties).filter(([, value]) => value !== null));
    let marks = marksOf({ properties, carriedLook: null });
    if (around.link) marks = schema.marks.link.create({ href: around.link }).addToSet(marks);
    const [inserted] = around.inserted.slice(-1);
    if (inserted) marks = schema.marks.insertion.create(context.change(inserted)).addToSet(marks);
    for (const one of around.deleted) marks = schema.marks.deletion.create(context.change(one)).addToSet(marks);
    if (!inserted && !around.deleted.length) context.apart();
    const now = { ...properties, ...(around.link && { link: around.link }) };
    for (const told of around.formatted)
      if (told.every((mark) => isSo(mark, now, told, isPicture ? ofPictures : undefined)))
        marks = told.reduce((all, mark) => mark.addToSet(all), marks);
    for (const thread of around.threads) marks = schema.marks.anchor.create({ thread }).addToSet(marks);
    return marks;
  }

  /** All blocks, with paragraphs where a table must stand between some. */
  finish(): Node[] {
    this.#end();
    const nodes: Node[] = [];
    for (const block of this.#blocks) {
      if (!block.isTextblock && !nodes.at(-1)?.isTextblock) nodes.push(schema.nodes.paragraph.create());
      nodes.push(block);
    }
    if (!nodes.at(-1)?.isTextblock) nodes.push(schema.nodes.paragraph.create());
    return nodes;
  }
}
