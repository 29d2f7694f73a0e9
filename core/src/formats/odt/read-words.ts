import type { Mark, Node } from 'prosemirror-model';
import type { Properties } from '../../manuscript/properties.js';
import { schema } from '../../manuscript/schema.js';
import { asText, linkOf, type CarriedKind } from '../../manuscript/values.js';
import { marksOf } from '../kept/context.js';
import { isSo, say } from '../kept/said.js';
import { attribute, declarations, elements, tag, textOf, type Element } from '../xml.js';
import type { Context, Region } from './context.js';
import { kindOf, readPicture } from './drawings.js';
import type { Line } from '../kept/line.js';
import type { Annotations } from './read-annotations.js';

/** What stands in paragraphs: characters and elements (OpenDocument 1.3 part 3, 6 and 7). */

/** What words stand in. */
export interface Around {
  /** The spans, the outermost first. */
  spans: readonly Element[];
  link: string | null;
  /** What is set directly on all words of the paragraph. */
  base: Properties;
}

/** Where words go, and what is done with what is no word. */
export interface Sink {
  readonly line: Line;
  inline(): Node[];
  /** Reads what was deleted, where it stood. */
  deleted(region: Region): void;
  /** A note, read as a text of its own. */
  note(element: Element, marks: readonly Mark[]): Node;
  /** Someone says something of a place that has no words. */
  placed(thread: { id: string }): void;
}

/** What says nothing that a reader would miss. */
const noise = new Set(['text:soft-page-break', 'text:number', 'office:event-listeners']);
/** Names of what marks a place or a range that something else refers to. */
const ranges = /^text:(bookmark|reference-mark|toc-mark|user-index-mark|alphabetical-index-mark)-(start|end)$/;
const places = /^text:(bookmark|reference-mark|toc-mark|user-index-mark|alphabetical-index-mark)$/;
const ofWords = new Set(['formatting']);
const ofPictures: ReadonlySet<string> = new Set(['asset', 'alt', 'width', 'height', 'carried']);

export class Words {
  /** What is inserted, and looked otherwise before, where one now reads; and what deleted stretch one reads. */
  readonly inserted: Region[] = [];
  readonly formatted: Region[] = [];
  readonly deleted: Region[] = [];
  /** What ends where one reads what is said of it whole. */
  readonly ended = new Set<Region>();
  readonly #ranges = new Map<string, string>();
  readonly #looks = new Map<string, { now: Properties; marks: readonly Mark[] }>();
  readonly #told = new Map<Region, readonly Mark[] | null>();
  readonly #numbers = new WeakMap<Properties, number>();
  #howManyBases = 0;

  constructor(
    readonly context: Context,
    readonly annotations: Annotations,
  ) {}

  /** Marks of ranges of changes, which may stand between paragraphs too. */
  range(element: Element): boolean {
    const isStart = element.name === 'text:change-start';
    if (!isStart && element.name !== 'text:change-end') return false;
    const region = this.context.region(element);
    if (!region || region.kind === 'deletion') return true;
    const open = region.kind === 'insertion' ? this.inserted : this.formatted;
    const at = open.indexOf(region);
    if (isStart && at < 0) open.push(region);
    else if (!isStart && at >= 0) open.splice(at, 1);
    else if (!isStart) this.ended.add(region);
    return true;
  }

  inline(parent: Element, around: Around, sink: Sink): void {
    for (const node of parent.children) {
      if (typeof node !== 'string') {
        this.#element(node, around, sink);
        continue;
      }
      const text = asText(node);
      if (this.#behind && sink.line.swallows && /^[\t\r\n ]/.test(text)) this.#spaceBehind(this.#behind, around, sink);
      this.#behind = null;
      this.#say(sink.line.text(text), around, sink);
    }
  }

  /** What was deleted just before what one reads. */
  #behind: Region | null = null;

  /** Of two spaces around what was deleted one is none (6.1.2), as long as that is not there; so it is deleted with it. */
  #spaceBehind(region: Region, around: Around, sink: Sink): void {
    this.deleted.push(region);
    this.#say(' ', around, sink);
    this.deleted.pop();
  }

  #say(text: string, around: Around, sink: Sink): void {
    if (text) say(text, this.marks(around), sink.inline());
  }

  #element(element: Element, around: Around, sink: Sink): void {
    const { name } = element;
    const { line } = sink;
    if (!name.startsWith('text:change') && name !== 'text:span') this.#behind = null;
    switch (name) {
      case 'text:span':
        return this.inline(element, { ...around, spans: [...around.spans, element] }, sink);
      case 'text:s':
      case 'text:tab': {
        line.other();
        const n = Math.min(10_000, Math.max(1, Math.floor(Number(attribute(element, 'text:c') ?? 1)) || 1));
        return this.#say(name === 'text:s' ? ' '.repeat(n) : '\t', around, sink);
      }
      case 'text:line-break':
        line.other();
        return void sink.inline().push(schema.nodes.line_break.create(null, null, this.marks(around)));
      case 'text:a':
        return this.#link(element, around, sink);
      case 'text:note':
        return void sink.inline().push(sink.note(element, this.marks(around, noteLook(element))));
      case 'text:change': {
        const region = this.context.region(element);
        if (region?.kind !== 'deletion') return;
        sink.deleted(region);
        this.#behind = region;
        return;
      }
      case 'office:annotation':
        return this.annotations.begin(element, sink);
      case 'office:annotation-end':
        return this.annotations.end(element);
      case 'text:meta':
        return this.#around(element, 'thing', around, sink);
    }
    if (this.range(element) || noise.has(name)) return;
    if (ranges.test(name)) return this.#range(element, around, sink);
    if (places.test(name)) {
      const says = nameOf(element);
      this.context.carried.add('bookmark');
      return this.#push({ xml: this.context.slice(element) }, 'bookmark', 'whole', says, around, sink);
    }
    // What a field says is text as long as it holds nothing but words.
    const isField = name.startsWith('text:') && name !== 'text:ruby' && !name.startsWith('text:script');
    if (isField && ![...elements(element)].length)
      return textOf(element).trim() ? this.#around(element, 'field', around, sink) : this.#whole(element, around, sink);
    this.#whole(element, around, sink);
  }

  #link(element: Element, around: Around, sink: Sink): void {
    const href = attribute(element, 'xlink:href');
    const link = linkOf(href);
    if (link !== null) this.inline(element, { ...around, link }, sink);
    else this.#around(element, 'link', around, sink, asText(href ?? '').slice(0, 300));
  }

  /** Something that is no text and stands among words as one. */
  #whole(element: Element, around: Around, sink: Sink): void {
    sink.line.other();
    sink.inline().push(this.whole(element, around));
  }

  whole(element: Element, around: Around): Node {
    const picture = readPicture(this.context, element, this.marks(around, '', true));
    if (picture) return picture;
    const { what, says } = kindOf(element, this.context.file);
    this.context.carried.add(what);
    const carried = this.context.fragments.nameOf({ xml: this.context.slice(element) });
    return schema.nodes.carried_thing.create({ carried, what, says }, null, this.marks(around));
  }

  #push(
    fragment: { xml: string; close?: string },
    what: CarriedKind,
    part: 'whole' | 'begin' | 'end',
    says: string,
    around: Around,
    sink: Sink,
  ): void {
    const carried = this.context.fragments.nameOf(fragment);
    sink.inline().push(schema.nodes.carried_thing.create({ carried, what, part, says }, null, this.marks(around)));
  }

  /** Something that stands around words: its beginning and its end are things among them. */
  #around(element: Element, what: CarriedKind, around: Around, sink: Sink, told?: string): void {
    const { context } = this;
    if (!element.children.length) return this.#whole(element, around, sink);
    const { content } = context.file;
    const closing = content.lastIndexOf('</', element.end - 1);
    const name = /^<[^\s/>]+/.exec(content.slice(element.start, element.start + 200))![0];
    const scoped = element.scope === context.base() ? '' : declarations(element.scope, context.base().bound);
    const xml = name + scoped + content.slice(element.start + name.length, element.inside);
    const fragment = { xml, close: content.slice(closing, element.end) };
    context.carried.add(what);
    const says = told ?? element.name.replace(/^\w+:/, '').replaceAll('-', ' ');
    this.#push(fragment, what, 'begin', says, around, sink);
    this.inline(element, around, sink);
    this.#push(fragment, what, 'end', says, around, sink);
  }

  /** The beginning or the end of a range that has a name (6.2.1.3, 7.7.3, 8.1). */
  #range(element: Element, around: Around, sink: Sink): void {
    const [, kind, side] = ranges.exec(element.name)!;
    const key = `${kind} ${attribute(element, 'text:name') ?? attribute(element, 'text:id') ?? ''}`;
    if (side === 'start') {
      const by = attribute(element, 'text:name') === undefined ? 'text:id' : 'text:name';
      const close = tag(`text:${kind}-end`, { [by]: attribute(element, by) });
      const fragment = { xml: this.context.slice(element), close };
      this.#ranges.set(key, this.context.fragments.nameOf(fragment));
      this.context.carried.add('bookmark');
      return this.#push(fragment, 'bookmark', 'begin', nameOf(element), around, sink);
    }
    const carried = this.#ranges.get(key);
    if (carried === undefined) return;
    this.#ranges.delete(key);
    const attrs = { carried, what: 'bookmark', part: 'end' };
    sink.inline().push(schema.nodes.carried_thing.create(attrs, null, this.marks(around)));
  }

  /** What words look like in their spans, and what those say besides. */
  #look({ spans, base }: Around, more: string): { now: Properties; marks: readonly Mark[] } {
    let number = this.#numbers.get(base);
    if (number === undefined) this.#numbers.set(base, (number = this.#howManyBases++));
    const key = `${number}|${more}|${spans.map((span) => tag('s', span.attributes)).join('')}`;
    let look = this.#looks.get(key);
    if (!look) {
      const { definitions, fragments } = this.context;
      const properties: Properties = { ...base };
      let rest = more;
      for (const { attributes } of spans) {
        const name = attributes['text:style-name'];
        Object.assign(properties, definitions.lookOfText(name));
        if (!this.#isOwn(name) || Object.keys(attributes).length > 1) rest += tag('tp:span', attributes);
      }
      for (const name of Object.keys(properties)) if (properties[name] === null) delete properties[name];
      const carriedLook = fragments.named(rest);
      look = { now: { ...properties, carriedLook }, marks: marksOf({ properties, carriedLook }) };
      this.#looks.set(key, look);
    }
    return look;
  }

  /** Whether a style of words says no more than what the words are. */
  #isOwn(name: string | undefined): boolean {
    if (name === undefined) return true;
    const style = this.context.definitions.text(name);
    return !!style?.automatic && this.context.definitions.isPlain(style);
  }

  /**
   * The properties of words and what is pending about them.
   * @param more what a file says of something beside how it looks
   */
  marks(around: Around, more = '', isPicture = false): readonly Mark[] {
    const { now, marks: bare } = this.#look(around, more);
    let marks = bare;
    const { link } = around;
    if (link) marks = schema.marks.link.create({ href: link }).addToSet(marks);
    const inserted = this.inserted.at(-1);
    if (inserted) marks = schema.marks.insertion.create(this.context.change(inserted)).addToSet(marks);
    for (const region of this.deleted)
      marks = schema.marks.deletion.create(this.context.change(region)).addToSet(marks);
    if (!inserted && !this.deleted.length) this.context.apart();
    for (const region of this.formatted)
      marks = this.#formatting(marks, region, { ...now, ...(link && { link }) }, isPicture);
    return this.annotations.fastened(marks);
  }

  #formatting(marks: readonly Mark[], region: Region, now: Properties, isPicture: boolean): readonly Mark[] {
    let told = this.#told.get(region);
    if (told === undefined) {
      told = this.context.marks(region.element, 'tp:entries', ofWords);
      this.#told.set(region, told);
      if (!told && attribute(region.element, 'tp:restyled') === undefined)
        this.context.losses.add('change of a look of which the file does not say what it was', 'changes');
    }
    const entries = told;
    if (!entries?.every((mark) => isSo(mark, now, entries, isPicture ? ofPictures : undefined))) return marks;
    return entries.reduce((all, mark) => mark.addToSet(all), marks);
  }
}

const nameOf = (element: Element): string =>
  asText(attribute(element, 'text:name') ?? attribute(element, 'text:string-value') ?? '').slice(0, 300);

/** How the number of a note is set, where somebody has set it (6.3.3). */
function noteLook(note: Element): string {
  const citation = [...elements(note)].find(({ name }) => name === 'text:note-citation');
  const label = attribute(citation, 'text:label');
  return label === undefined ? '' : tag('tp:note', { 'text:label': label });
}
