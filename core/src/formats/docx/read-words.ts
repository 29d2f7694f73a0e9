import type { Mark, Node } from 'prosemirror-model';
import { differences, type Properties } from '../../manuscript/properties.js';
import { schema } from '../../manuscript/schema.js';
import type { Signature } from '../../manuscript/signature.js';
import { asText, linkOf, type CarriedKind } from '../../manuscript/values.js';
import { pushEntry } from '../../row/entries.js';
import { attribute, child, declarations, elements, textOf, type Element } from '../xml.js';
import { marksOf } from '../kept/context.js';
import { isSo, say } from '../kept/said.js';
import { changeName, type Context, type Part } from './context.js';
import { hasChangesInside, kindOf, readPicture } from './drawings.js';
import type { Look } from './looks.js';

/** The words of paragraphs: runs and what they stand in (ISO/IEC 29500-1, 17.3.2, 17.3.3, 17.13.5, 17.16). */

/** What the text refers to in other parts. */
export interface Elsewhere {
  /** The thread that a comment of the file belongs to. */
  threadOf(comment: string): { id: string } | undefined;
  /** A comment has words of its own, be it those of another it answers. */
  ranged(comment: string): void;
  /** A comment is referred to in the paragraph that is being read. */
  referred(comment: string): void;
  /** The footnote or endnote of that number. */
  note(kind: 'foot' | 'end', id: string, marks: readonly Mark[]): Node | null;
}

/** Which pending changes an element of the text stands in, the outermost first. */
interface Around {
  inserted: readonly Element[];
  deleted: readonly Element[];
  link: string | null;
}

const insertions = new Set(['w:ins', 'w:moveTo']);
const deletions = new Set(['w:del', 'w:moveFrom']);
/** What stands around words and means something of its own. */
const wrappers: Record<string, CarriedKind> = {
  'w:smartTag': 'thing',
  'w:customXml': 'thing',
  'w:fldSimple': 'field',
  'w:dir': 'thing',
  'w:bdo': 'thing',
};
/** What says nothing that a reader would miss: where a program broke pages or doubted spelling, and what is read elsewhere. */
const noise = new Set([
  'w:proofErr',
  'w:lastRenderedPageBreak',
  'w:annotationRef',
  'w:footnoteRef',
  'w:endnoteRef',
  'w:separator',
  'w:continuationSeparator',
  'w:pPr',
  'w:rPr',
]);
/** Characters that stand as elements of their own (17.3.3). */
const characters: Record<string, string> = { 'w:tab': '\t', 'w:noBreakHyphen': '\u2011', 'w:softHyphen': '\u00ad' };

/** A field whose code is being read, or whose result (17.16.18). */
interface Field {
  /** Its name beside the text, once its code has been read. */
  name: string | null;
  code: string;
  xml: string;
  marks: readonly Mark[];
  /** How many fields are begun in its code. */
  inner: number;
}

export class Words {
  readonly #open = new Set<string>();
  readonly #moves = new Map<string, string>();
  readonly #bookmarks = new Map<string, string>();
  #fields: Field[] = [];
  #lastFormatting: Signature | null = null;
  #style: string | undefined;
  readonly #looks = new WeakMap<Look, { now: Properties; marks: readonly Mark[] }>();
  readonly #context: Context;

  constructor(
    readonly part: Part,
    readonly elsewhere: Elsewhere,
  ) {
    this.#context = part.context;
  }

  /** The move that is open where one now reads. */
  move = (): string | undefined => [...this.#moves.values()].at(-1);

  /** What a paragraph says. */
  read(paragraph: Element, style: string | undefined): Node[] {
    const into: Node[] = [];
    this.#style = style;
    this.inline(paragraph, { inserted: [], deleted: [], link: null }, into);
    // A field whose code goes on in another paragraph is kept as far as it stands here.
    for (const field of this.#fields.filter(({ name }) => name === null))
      into.push(this.thing({ xml: field.xml }, 'field', field.code, field.marks));
    this.#fields = this.#fields.filter(({ name }) => name !== null);
    return into;
  }

  /** Marks of ranges, which may stand between paragraphs too. */
  range(element: Element): boolean {
    const id = attribute(element, 'w:id') ?? '';
    switch (element.name) {
      case 'w:commentRangeStart':
        this.elsewhere.ranged(id);
        this.#open.add(id);
        return true;
      case 'w:commentRangeEnd':
        this.#open.delete(id);
        return true;
      case 'w:moveFromRangeStart':
      case 'w:moveToRangeStart':
        this.#moves.set(id, attribute(element, 'w:name') ?? id);
        return true;
      case 'w:moveFromRangeEnd':
      case 'w:moveToRangeEnd':
        this.#moves.delete(id);
        return true;
      default:
        return false;
    }
  }

  inline(parent: Element, around: Around, into: Node[]): void {
    for (const element of elements(parent)) {
      const { name } = element;
      if (name === 'w:r') this.run(element, around, into);
      else if (insertions.has(name)) this.inline(element, { ...around, inserted: [...around.inserted, element] }, into);
      else if (deletions.has(name)) this.inline(element, { ...around, deleted: [...around.deleted, element] }, into);
      else if (name === 'w:hyperlink') this.hyperlink(element, around, into);
      else if (name === 'w:sdt') this.around(element, child(element, 'w:sdtContent'), 'content control', around, into);
      else if (Object.hasOwn(wrappers, name)) this.around(element, element, wrappers[name]!, around, into);
      else if (name === 'w:bookmarkStart' || name === 'w:permStart') this.begin(element, around, into);
      else if (name === 'w:bookmarkEnd' || name === 'w:permEnd') this.end(element, around, into);
      else if (!this.range(element) && !noise.has(name)) into.push(this.whole(element, this.marks(undefined, around)));
    }
  }

  hyperlink(element: Element, around: Around, into: Node[]): void {
    const id = attribute(element, 'r:id');
    const place = attribute(element, 'w:anchor');
    const target = id === undefined ? undefined : this.#context.file.relationship(this.part.name, id)?.target;
    const href = target ?? (place === undefined ? '' : `#${place}`);
    const link = linkOf(href);
    if (link !== null) this.inline(element, { ...around, link }, into);
    else this.around(element, element, 'link', around, into, asText(href).slice(0, 300));
  }

  /** Something that stands around words: its beginning and its end are things among them. */
  around(
    element: Element,
    inner: Element | undefined,
    what: CarriedKind,
    around: Around,
    into: Node[],
    told?: string,
  ): void {
    const { source, base } = this.part;
    if (!inner?.children.some((one) => typeof one !== 'string'))
      return void into.push(this.whole(element, this.marks(undefined, around)));
    const closing = source.lastIndexOf('</', inner.end - 1);
    const name = /^<[^\s/>]+/.exec(source.slice(element.start, element.start + 200))![0];
    const scoped = element.scope === base() ? '' : declarations(element.scope, base().bound);
    const xml = name + scoped + source.slice(element.start + name.length, inner.inside);
    const carried = this.#context.fragments.nameOf({ xml, close: source.slice(closing, element.end) });
    const title = attribute(child(child(element, 'w:sdtPr'), 'w:alias'), 'w:val');
    const says = told ?? asText(attribute(element, 'w:instr') ?? title ?? '').slice(0, 300);
    this.#context.carried.add(what);
    const mark = this.marks(undefined, around);
    into.push(schema.nodes.carried_thing.create({ carried, what, part: 'begin', says }, null, mark));
    this.inline(inner, around, into);
    into.push(schema.nodes.carried_thing.create({ carried, what, part: 'end', says }, null, mark));
  }

  /** The beginning of a range that has a name: a bookmark, or words that some may edit (17.13.6, 17.13.7). */
  begin(element: Element, around: Around, into: Node[]): void {
    const says = asText(attribute(element, 'w:name') ?? '').slice(0, 300);
    if (says === '_GoBack') return;
    const id = attribute(element, 'w:id') ?? '';
    const what = element.name === 'w:bookmarkStart' ? 'bookmark' : 'thing';
    const close = `<${element.name.replace('Start', 'End')} w:id="${id.replace(/[^\w-]/g, '')}"/>`;
    const carried = this.#context.fragments.nameOf({ xml: this.part.slice(element), close });
    this.#bookmarks.set(`${what} ${id}`, carried);
    if (!says.startsWith('_')) this.#context.carried.add(what);
    into.push(
      schema.nodes.carried_thing.create({ carried, what, part: 'begin', says }, null, this.marks(undefined, around)),
    );
  }

  end(element: Element, around: Around, into: Node[]): void {
    const what = element.name === 'w:bookmarkEnd' ? 'bookmark' : 'thing';
    const carried = this.#bookmarks.get(`${what} ${attribute(element, 'w:id') ?? ''}`);
    if (carried === undefined) return;
    this.#bookmarks.delete(`${what} ${attribute(element, 'w:id') ?? ''}`);
    into.push(schema.nodes.carried_thing.create({ carried, what, part: 'end' }, null, this.marks(undefined, around)));
  }

  /** Something that is no text and stands among words as one. */
  whole(element: Element, marks: readonly Mark[]): Node {
    const picture = readPicture(this.part, element, marks);
    if (picture) return picture;
    const { what, says } = kindOf(element);
    if (hasChangesInside(element))
      this.#context.carried.add('change inside something carried, to be decided elsewhere');
    return this.thing({ xml: this.part.slice(element) }, what, says, marks);
  }

  thing(fragment: { xml: string; close?: string }, what: CarriedKind, says: string, marks: readonly Mark[]): Node {
    this.#context.carried.add(what);
    const carried = this.#context.fragments.nameOf(fragment);
    return schema.nodes.carried_thing.create({ carried, what, says }, null, marks);
  }

  run(run: Element, around: Around, into: Node[]): void {
    const rPr = child(run, 'w:rPr');
    let known: readonly Mark[] | null = null;
    const marks = () => (known ??= this.marks(rPr, around, run));
    for (const element of elements(run)) {
      const { name } = element;
      if (noise.has(name)) continue;
      if (this.field(rPr, element, marks, into)) continue;
      if (name === 'w:t' || name === 'w:delText') {
        const text = asText(textOf(element).replace(/\r?\n/g, ' '));
        if (text) say(text, marks(), into);
      } else if (Object.hasOwn(characters, name)) say(characters[name]!, marks(), into);
      else if (name === 'w:cr' || (name === 'w:br' && !['page', 'column'].includes(attribute(element, 'w:type') ?? '')))
        into.push(schema.nodes.line_break.create(null, null, marks()));
      else if (name === 'w:commentReference') this.elsewhere.referred(attribute(element, 'w:id') ?? '');
      else if (name === 'w:footnoteReference' || name === 'w:endnoteReference') {
        const note = this.note(element, rPr, marks());
        if (note) into.push(note);
      } else into.push(this.whole(element, marks()));
    }
  }

  note(element: Element, rPr: Element | undefined, marks: readonly Mark[]): Node | null {
    const raised = child(rPr, 'w:vertAlign');
    const bare = attribute(raised, 'tp:own') ? schema.marks.script.removeFromSet(marks) : marks;
    const kind = element.name === 'w:footnoteReference' ? 'foot' : 'end';
    const note = this.elsewhere.note(kind, attribute(element, 'w:id') ?? '', bare);
    if (!note) this.#context.losses.add(`${kind}note that is not in the file`);
    return note;
  }

  /** Takes what belongs to a field: its code goes beside the text, its result is text. */
  field(rPr: Element | undefined, element: Element, marks: () => readonly Mark[], into: Node[]): boolean {
    const type = element.name === 'w:fldChar' ? attribute(element, 'w:fldCharType') : undefined;
    const reading = this.#fields.at(-1);
    const inCode = reading?.name === null;
    if (type === undefined && !inCode) return element.name === 'w:instrText' || element.name === 'w:delInstrText';
    const { source, slice } = this.part;
    const xml = `<w:r>${rPr ? source.slice(rPr.start, rPr.end) : ''}${slice(element)}</w:r>`;
    if (inCode) {
      reading.xml += xml;
      if (/^w:(del)?[iI]nstrText$/.test(element.name)) reading.code += textOf(element);
      if (type === 'begin') reading.inner++;
      else if (type === 'end' && reading.inner > 0) reading.inner--;
      else if (reading.inner === 0 && (type === 'separate' || type === 'end')) {
        reading.code = asText(reading.code.replace(/\s+/g, ' ').trim()).slice(0, 300);
        if (type === 'end') {
          this.#fields.pop();
          into.push(this.thing({ xml: reading.xml }, 'field', reading.code, reading.marks));
        } else {
          const close = '<w:r><w:fldChar w:fldCharType="end"/></w:r>';
          const carried = (reading.name = this.#context.fragments.nameOf({ xml: reading.xml, close }));
          this.#context.carried.add('field');
          const attrs = { carried, what: 'field', part: 'begin', says: reading.code };
          into.push(schema.nodes.carried_thing.create(attrs, null, reading.marks));
        }
      }
      return true;
    }
    if (type === 'begin') this.#fields.push({ name: null, code: '', xml, marks: marks(), inner: 0 });
    else if (type === 'end' && reading) {
      this.#fields.pop();
      const attrs = { carried: reading.name, what: 'field', part: 'end', says: reading.code };
      into.push(schema.nodes.carried_thing.create(attrs, null, marks()));
    }
    return true;
  }

  /** The properties of words and what is pending about them. */
  marks(rPr: Element | undefined, { inserted, deleted, link }: Around, run?: Element): readonly Mark[] {
    const look = this.part.look(rPr, this.#style);
    let known = this.#looks.get(look);
    if (!known) {
      const carriedLook = this.#context.fragments.named(look.rest);
      const marks = marksOf({ properties: look.properties, carriedLook });
      this.#looks.set(look, (known = { now: { ...look.properties, carriedLook }, marks }));
    }
    let { marks } = known;
    if (link) marks = schema.marks.link.create({ href: link }).addToSet(marks);
    for (const element of inserted)
      marks = schema.marks.insertion.create(this.#context.change(element, this.#moveOf(element))).addToSet(marks);
    for (const element of deleted)
      marks = schema.marks.deletion.create(this.#context.change(element, this.#moveOf(element))).addToSet(marks);
    if (!inserted.length && !deleted.length) this.#context.apart();
    marks = this.formatting(marks, { ...known.now, ...(link && { link }) }, child(rPr, 'w:rPrChange'), run);
    for (const id of this.#open) {
      const thread = this.elsewhere.threadOf(id);
      if (thread) marks = schema.marks.anchor.create({ thread: thread.id }).addToSet(marks);
    }
    return marks;
  }

  #moveOf = (element: Element): string | undefined => (/^w:move/.test(element.name) ? this.move() : undefined);

  formatting(
    marks: readonly Mark[],
    now: Properties,
    changed: Element | undefined,
    run: Element | undefined,
  ): readonly Mark[] {
    if (!changed) {
      this.#lastFormatting = null;
      return marks;
    }
    const told = this.#context.marks(changed, 'tp:entries', ofWords);
    // What a picture is stands in the run itself, where none can say otherwise.
    const besides = child(run, 'w:drawing') ? ofPictures : undefined;
    if (told?.every((mark) => isSo(mark, now, told, besides)))
      return told.reduce((all, mark) => mark.addToSet(all), marks);
    const look = this.part.look(child(changed, 'w:rPr'), this.#style);
    const was = { ...look.properties, carriedLook: this.#context.fragments.named(look.rest), link: now.link ?? null };
    const former = differences(was, now);
    if (!former.length) return marks;
    const { author, date } = this.#context.signed(changed);
    const last = this.#lastFormatting;
    const continues = last?.author === author && last.date === date;
    const change = changeName(changed) ?? (continues ? last.change : this.#context.newChange());
    this.#lastFormatting = { change, author, date };
    const pick = (side: 'was' | 'now') => Object.fromEntries(former.map((d) => [d.name, d[side]]));
    return pushEntry(marks, 'formatting', this.#lastFormatting, pick('was'), pick('now'));
  }
}

const ofWords = new Set(['formatting']);
const ofPictures: ReadonlySet<string> = new Set(['asset', 'alt', 'width', 'height', 'carried']);
