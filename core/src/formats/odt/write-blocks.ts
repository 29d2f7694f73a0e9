import type { Mark, Node } from 'prosemirror-model';
import { sameValue } from '../../manuscript/properties.js';
import type { ParagraphProperties } from '../../manuscript/schema.js';
import { signatureOf, type Signature } from '../../manuscript/signature.js';
import { entriesOf } from '../../row/entries.js';
import { attributes, element } from '../kept/telling.js';
import type { Where } from './names.js';
import { readParagraph, writeParagraph, type WrittenParagraph } from './paragraphs.js';
import { styled } from './target.js';
import { Lists, type ListPlace } from './write-lists.js';
import {
  changeAt,
  changeEnd,
  changeStart,
  Flow,
  isBlock,
  pendingOf,
  type Pending,
  type WordsWriter,
} from './write-words.js';

/**
 * Blocks of a container as paragraphs, lists and tables. The text runs on as the standard sees it (5.5): what is inserted
 * stands between two marks, what is deleted stands on the list of changes, with a mark where it was.
 */

/** A paragraph that is being written: an element, or a piece of what was deleted. */
interface Open {
  written: WrittenParagraph;
  own: string;
  flow: Flow;
  nodes: Node[];
  place: ListPlace | null;
  /** A recorded change of its properties, which the standard only knows as a change of looks. */
  restyled: string | null;
}

const same = (a: Signature | null, b: Signature | null) =>
  a === b || (!!a && !!b && a.change === b.change && a.author === b.author && a.date === b.date);
const alike = (a: readonly Signature[], b: readonly Signature[]) =>
  a.length === b.length && a.every((one, i) => same(one, b[i]!));
const nothing: Pending = { inserted: null, deleted: [], formatted: [] };

export class BlocksWriter {
  #el: Open | null = null;
  #inserted: { by: Signature; id: string } | null = null;
  #deleted: { by: readonly Signature[]; lists: Lists; xml: string; open: Open | null } | null = null;
  #formatted: { entries: readonly Mark[]; id: string } | null = null;
  readonly #lists: Lists;
  /** The pieces from which an insertion goes on into the next one. */
  readonly tied: number[] = [];
  #howMany = 0;
  #goesOn = false;

  constructor(
    readonly words: WordsWriter,
    readonly where: Where,
    readonly tableXml: (table: Node, pos: number) => string,
    /** What is done with each piece, of so many blocks. */
    readonly done: (xml: string, nodes: readonly Node[]) => void,
    /** Puts paragraphs in lists and tables down somewhere else, and says what stands in their place. */
    readonly inner: ((xml: string, nodes: readonly Node[]) => string) | null,
    readonly isCell = false,
  ) {
    this.#lists = new Lists(words.target, (xml, nodes) => this.#piece(xml, nodes));
  }

  get #target() {
    return this.words.target;
  }

  /** Writes the blocks of a container. */
  container(content: Node, start: number): void {
    content.forEach((node, offset, i) => {
      const pos = start + offset;
      if (!node.isTextblock) return this.#table(node, pos, content.maybeChild(i + 1));
      const isLone = node.childCount === 1 && this.#blockThing(node.firstChild!);
      if (isLone && !node.marks.length) {
        this.#state(nothing);
        this.#close();
        this.#lists.flush();
        return this.#piece(isLone, [node]);
      }
      this.#opening(node, pos, !i);
      this.#line(node, pos + 1);
    });
    this.#state(nothing);
    this.#close();
    this.#lists.flush();
  }

  /** Something that is a block in its file, and stands alone in a paragraph here. */
  #blockThing(node: Node): string | null {
    if (node.type.name !== 'carried_thing' || node.attrs.part !== 'whole' || node.marks.length) return null;
    const [piece] = this.#target.pieces(node.attrs.carried as string);
    return piece && isBlock(piece.element.name) ? piece.xml : null;
  }

  #piece(xml: string, nodes: readonly Node[]): void {
    if (this.#goesOn) this.tied.push(this.#howMany);
    this.#goesOn = false;
    this.#howMany++;
    this.done(xml, nodes);
  }

  // ---- what is pending

  #at = (): Open => this.#deleted?.open ?? this.#el!;

  /** Goes on with what is pending about what comes. */
  #state({ inserted, deleted, formatted }: Pending): void {
    const goesOn = alike(deleted, this.#deleted?.by ?? []) && same(inserted, this.#inserted?.by ?? null);
    const isFormatted = sameValue(
      this.#formatted?.entries.map(({ attrs }) => attrs),
      formatted.length ? formatted.map(({ attrs }) => attrs) : undefined,
    );
    if (goesOn && isFormatted) return;
    if (this.#formatted) this.#at().flow.put(changeEnd(this.#formatted.id));
    this.#formatted = null;
    if (!goesOn) {
      this.#endDeleted();
      if (this.#inserted && !same(inserted, this.#inserted.by)) {
        this.#el!.flow.put(changeEnd(this.#inserted.id));
        this.#inserted = null;
      }
      if (inserted && !this.#inserted) {
        this.#inserted = { by: inserted, id: this.#target.region('insertion', inserted) };
        this.#el!.flow.put(changeStart(this.#inserted.id));
      }
      if (deleted.length) this.#beginDeleted(deleted);
    }
    const top = formatted.at(-1);
    if (!top) return;
    const own = this.#target.told('tp:entries', formatted);
    this.#formatted = { entries: formatted, id: this.#target.region('format-change', signatureOf(top)!, own) };
    this.#at().flow.put(changeStart(this.#formatted.id));
  }

  #beginDeleted(by: readonly Signature[]): void {
    const { written } = this.#el!;
    const name = written.attributes['text:style-name'];
    const open: Open = {
      written: { ...written, name: 'text:p', attributes: { 'text:style-name': name } },
      own: '',
      flow: new Flow(),
      nodes: [],
      place: null,
      restyled: null,
    };
    const lists: Lists = new Lists(this.#target, (xml) => void (this.#deleted!.xml += xml));
    this.#deleted = { by, xml: '', open, lists };
  }

  /** A paragraph of what was deleted is whole. */
  #paragraphDeleted(): void {
    const { open, lists } = this.#deleted!;
    if (!open) return;
    const xml = this.#xmlOf(open);
    if (open.place) return lists.add(open.place, xml, []);
    lists.flush();
    this.#deleted!.xml += xml;
  }

  #endDeleted(): void {
    if (!this.#deleted) return;
    this.#paragraphDeleted();
    const { by, lists } = this.#deleted;
    lists.flush();
    const { xml } = this.#deleted;
    this.#deleted = null;
    this.#el!.flow.put(this.#regionsOf(by, xml));
  }

  /** Puts what several have deleted on the list of changes, one in the other; the mark that stands where it was. */
  #regionsOf(by: readonly Signature[], xml: string, isBlock = false): string {
    return [...by].reverse().reduce((content, signature, i) => {
      const inside = i && !isBlock ? element('text:p', '', content) : content;
      return changeAt(this.#target.region('deletion', signature, '', inside));
    }, xml);
  }

  // ---- paragraphs

  /** The beginning of a paragraph: a new element, or one that goes on in what was deleted. */
  #opening(node: Node, pos: number, isFirst: boolean): void {
    const pending = pendingOf(node.marks, true);
    const isStart = isFirst || !this.#el;
    if (isStart) {
      const goesOn = !!this.#inserted && same(pending.inserted, this.#inserted.by);
      const told = node.marks.filter(({ type: { name } }) => !(goesOn && name === 'openingInserted'));
      this.#begin(node, told);
    } else {
      this.#state({ ...pending, formatted: [] });
      const entries = node.marks.filter(({ type }) => type.name === 'restyled');
      if (this.#deleted) {
        this.#paragraphDeleted();
        const place = this.#deleted.lists.place(node);
        this.#deleted.open = this.#opened(node, entries, place);
        this.#el!.nodes.push(node);
      } else {
        this.#close();
        this.#begin(node, entries);
      }
    }
    this.words.annotations(this.words.places.placed.get(pos), 'begin', false, this.#at().flow);
  }

  #begin(node: Node, told: readonly Mark[]): void {
    const place = this.#lists.place(node);
    if (!place) this.#lists.flush();
    this.#el = this.#opened(node, told, place);
    this.#el.nodes.push(node);
    const top = entriesOf(node.marks, 'restyled').at(-1);
    if (!top) return;
    this.#el.restyled = this.#target.region('format-change', signatureOf(top.mark)!, ' tp:restyled="1"');
    this.#el.flow.put(changeStart(this.#el.restyled));
  }

  #opened(node: Node, told: readonly Mark[], place: ListPlace | null): Open {
    const { definitions } = this.#target;
    const came = this.#target.came(node.attrs.carried, 'tp:p');
    const file = came && {
      name: came.attributes['tp:el'] ?? 'text:p',
      attributes: Object.fromEntries(Object.entries(came.attributes).filter(([name]) => name !== 'tp:el')),
    };
    const now = { ...(node.attrs as ParagraphProperties) };
    // Where a list indents what goes on in its item, the paragraph need not say so.
    if (place && !now.list && file) {
      const own = readParagraph(file, definitions, this.where).properties.indent;
      if (now.indent === Math.max(own, Math.min(8, place.levels.length))) now.indent = own;
    }
    const written = writeParagraph(now, file, definitions, this.where);
    const own = told.length ? this.#target.told('tp:marks', told) : '';
    return { written, own, flow: new Flow(), nodes: [], place, restyled: null };
  }

  #xmlOf({ written: { name, attributes: given, style }, own, flow }: Open): string {
    const { definitions } = this.#target;
    const styleName =
      style === null ? given['text:style-name'] : (definitions.known(style) ?? this.#target.style('paragraph', style));
    const { 'text:style-name': _, ...others } = given;
    return element(name, styled(styleName) + attributes(others) + own, flow.xml);
  }

  /** The element that is open is whole. */
  #close(): void {
    const open = this.#el;
    if (!open) return;
    if (open.restyled !== null) open.flow.put(changeEnd(open.restyled));
    this.#el = null;
    this.#goesOn = !!this.#inserted;
    const xml = this.#xmlOf(open);
    if (open.place) this.#lists.add(open.place, this.inner ? this.inner(xml, open.nodes) : xml, open.nodes);
    else this.#piece(this.inner && this.isCell ? this.inner(xml, open.nodes) : xml, open.nodes);
  }

  // ---- words

  #line(paragraph: Node, start: number): void {
    const { starts, ends } = this.words.places;
    let pos = start;
    for (let i = 0; i < paragraph.childCount;) {
      const node = paragraph.child(i);
      this.#state(pendingOf(node.marks));
      const { flow, written } = this.#at();
      this.words.annotations(starts.get(pos), 'begin', true, flow);
      const field = this.words.field(paragraph, i, pos, written.base, flow);
      if (!field) this.words.inline(node, pos, written.base, flow);
      for (const next = i + Math.max(1, field); i < next; i++) pos += paragraph.child(i).nodeSize;
      this.words.annotations(ends.get(pos), 'end', true, flow);
    }
  }

  // ---- tables

  #table(table: Node, pos: number, next: Node | null): void {
    const { inserted, deleted } = pendingOf(table.marks);
    const behind = next ? pendingOf(next.marks, true) : nothing;
    const xml = this.tableXml(table, pos);
    const goesOn =
      !!deleted.length && alike(deleted, this.#deleted?.by ?? []) && same(inserted, this.#inserted?.by ?? null);
    const joins = !!deleted.length && alike(deleted, behind.deleted) && same(inserted, behind.inserted);
    if (this.#el && (goesOn || joins)) {
      this.#state({ inserted, deleted, formatted: [] });
      this.#paragraphDeleted();
      this.#deleted!.lists.flush();
      this.#deleted!.xml += xml;
      this.#deleted!.open = null;
      this.#el.nodes.push(table);
      // What comes goes with it, or is a paragraph of its own.
      if (joins) return;
      this.#state(nothing);
      this.#close();
      return this.#lists.flush();
    }
    if (deleted.length) {
      this.#state(nothing);
      this.#close();
      this.#lists.flush();
      const id = inserted && this.#target.region('insertion', inserted);
      const mark = this.#regionsOf(deleted, xml, true);
      return this.#piece(id ? changeStart(id) + mark + changeEnd(id) : mark, [table]);
    }
    this.#state({ inserted: this.#inserted?.by ?? null, deleted: [], formatted: [] });
    let before = '';
    if (!same(inserted, this.#inserted?.by ?? null)) {
      this.#state(nothing);
      this.#close();
      this.#lists.flush();
      if (inserted) {
        this.#inserted = { by: inserted, id: this.#target.region('insertion', inserted) };
        before = changeStart(this.#inserted.id);
      }
    } else {
      this.#close();
      this.#lists.flush();
    }
    let after = '';
    if (this.#inserted && !same(behind.inserted, this.#inserted.by)) {
      after = changeEnd(this.#inserted.id);
      this.#inserted = null;
    }
    this.#goesOn = !!this.#inserted;
    this.#piece(before + xml + after, [table]);
  }
}
