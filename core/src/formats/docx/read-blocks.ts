import { Fragment, type Mark, type Node } from 'prosemirror-model';
import { limits } from '../../manuscript/limits.js';
import { differences, sameValue } from '../../manuscript/properties.js';
import { plainParagraph, schema, type ParagraphProperties } from '../../manuscript/schema.js';
import { pushEntry } from '../../row/entries.js';
import { toEndings, toOpenings, type Boundary, type Styled } from '../endings.js';
import { TooMuch } from '../unreadable.js';
import { dataIn } from '../kept/context.js';
import { isSo } from '../kept/said.js';
import { attribute, child, elements, textOf, type Element } from '../xml.js';
import { changeName, type Part } from './context.js';
import { readParagraph } from './paragraphs.js';
import type { Words } from './read-words.js';

/** Paragraphs and tables of one container: the main text, a cell, a note (ISO/IEC 29500-1, 17.2.2, 17.3.1, 17.4). */

interface FileParagraph {
  inline: Node[];
  styled: Styled;
  /** What is proposed about its ending, which is the boundary to the next paragraph. */
  ending: Boundary;
  element: Element | null;
}

/** A block as a manuscript has it, and where it stood; nowhere, if the file has none there. */
export interface ReadBlock {
  node: Node;
  start: number;
  end: number;
}

const none: Boundary = { inserted: null, deleted: null };
const blockMarks = new Set(['openingInserted', 'openingDeleted', 'restyled']);
const onlyEntries = new Set(['restyled']);
const isDropCap = (element: Element | undefined) => ['drop', 'margin'].includes(attribute(element, 'w:dropCap') ?? '');

/** What a paragraph with a dropped capital says beside the letters: how it is set. */
interface DropCap {
  text: string;
  xml: string;
  start: number;
}

export class Blocks {
  readonly #blocks: ReadBlock[] = [];
  #run: { paragraph: FileParagraph; start: number; end: number }[] = [];
  #dropCap: DropCap | null = null;

  constructor(
    readonly part: Part,
    readonly words: Words,
    /** Reads a table, where one can stand; where not, it is one thing among words. */
    readonly readTable: ((blocks: Blocks, element: Element) => Node) | null,
    /** What is done for each paragraph in a table, with where it stood. */
    readonly inner: (node: Node, start: number, end: number) => void = () => undefined,
  ) {}

  /** How many paragraphs there are so far. */
  get length(): number {
    return this.#blocks.length + this.#run.length;
  }

  block(element: Element): void {
    const { name } = element;
    if (this.length > limits.paragraphs) throw new TooMuch('paragraphs');
    if (name === 'w:p') this.#paragraph(element);
    else if (name === 'w:tbl' && this.readTable) {
      this.#close();
      this.#blocks.push({ node: this.readTable(this, element), start: element.start, end: element.end });
    } else if (name === 'w:tbl' || name === 'w:altChunk') this.#thing(element);
    else if (name === 'w:sdt') this.inside(child(element, 'w:sdtContent') ?? element);
    else if (name === 'w:customXml' || name === 'w:ins' || name === 'w:del') this.inside(element);
    else this.words.range(element);
  }

  inside(parent: Element): void {
    for (const element of elements(parent)) this.block(element);
  }

  /** Something that is a block there and a thing among words here, in a paragraph of its own. */
  #thing(element: Element): void {
    const styled = { fair: plainParagraph, before: plainParagraph, by: null };
    const inline = [this.words.whole(element, [])];
    this.#run.push({
      paragraph: { inline, styled, ending: none, element: null },
      start: element.start,
      end: element.end,
    });
  }

  #paragraph(element: Element): void {
    const { context, slice } = this.part;
    const pPr = child(element, 'w:pPr');
    if (isDropCap(child(pPr, 'w:framePr')) && !this.#dropCap && this.#drop(element, pPr)) return;
    const style = attribute(child(pPr, 'w:pStyle'), 'w:val');
    const dropCap = this.#dropCap;
    this.#dropCap = null;
    let inline = this.words.read(element, style);
    if (dropCap) {
      const marks = inline[0]?.isText ? inline[0].marks.filter(({ type }) => type.name !== 'anchor') : [];
      inline = [schema.text(dropCap.text, marks), ...inline];
    }
    const mark = child(pPr, 'w:rPr');
    const find = (plain: string, moved: string) => {
      const found = child(mark, plain) ?? child(mark, moved);
      return found ? context.change(found, found.name === moved ? this.words.move() : undefined) : null;
    };
    const ending: Boundary = { inserted: find('w:ins', 'w:moveTo'), deleted: find('w:del', 'w:moveFrom') };
    if (!ending.inserted && !ending.deleted) context.apart();
    const read = readParagraph(pPr, context.definitions, slice);
    const fair = this.#carrying(read.properties, read.rest + (dropCap?.xml ?? ''));
    this.#run.push({
      paragraph: { inline, styled: this.#styled(pPr, fair), ending, element },
      start: dropCap?.start ?? element.start,
      end: element.end,
    });
    if (child(pPr, 'w:sectPr')) context.carried.add('section with a layout of its own', 'page layout');
  }

  /** Takes the letters of a dropped capital, to join them to their word (17.3.1.11). */
  #drop(element: Element, pPr: Element | undefined): boolean {
    const text = textOf(element).trim();
    const runs = [...elements(element)].filter(({ name }) => name === 'w:r');
    if (!text || text.length > 5 || /[\n\t]/.test(text) || runs.length !== 1) return false;
    const { slice } = this.part;
    const look = child(runs[0], 'w:rPr');
    const xml = `<tp:dropCap tp:letters="${text.length}">${pPr ? slice(pPr) : ''}${look ? slice(look) : ''}</tp:dropCap>`;
    this.#dropCap = { text, xml, start: element.start };
    return true;
  }

  #carrying = (properties: ParagraphProperties, rest: string): ParagraphProperties => ({
    ...properties,
    carried: this.part.context.fragments.named(rest),
  });

  #styled(pPr: Element | undefined, fair: ParagraphProperties): Styled {
    const changed = child(pPr, 'w:pPrChange');
    if (!changed) return { fair, before: fair, by: null };
    const { context, slice } = this.part;
    const former = readParagraph(child(changed, 'w:pPr'), context.definitions, slice);
    // The former properties never speak of the paragraph’s mark and section (17.13.5.29); those stay.
    const stays = [...elements(pPr)]
      .filter(({ name }) => name === 'w:sectPr')
      .map(slice)
      .join('');
    const look = child(pPr, 'w:rPr');
    const mark = look ? readParagraph({ ...pPr!, children: [look] }, context.definitions, slice).rest : '';
    const before = this.#carrying(former.properties, former.rest + mark + stays);
    const by = { change: changeName(changed) ?? context.newChange(), ...context.signed(changed) };
    return { fair, before, by: sameValue(fair, before) ? null : by };
  }

  /** The paragraphs since the last table, with boundaries and properties hung on their openings. */
  #close(): void {
    const run = this.#run.map(({ paragraph }) => paragraph);
    const boundaries = [none, ...run.slice(0, -1).map(({ ending }) => ending)];
    const last = run.at(-1)?.ending;
    if (last?.inserted || last?.deleted)
      this.part.context.losses.add('pending end of a paragraph before a table', 'changes');
    const endings = run.map(({ styled }) => styled);
    const openings = toOpenings(endings, boundaries);
    const told = this.#told(run, openings, boundaries, endings);
    run.forEach(({ inline, element }, k) => {
      const { fair, before, by } = openings[k]!;
      let marks: readonly Mark[] = [];
      let attrs: ParagraphProperties = fair;
      if (told?.[k]) ({ attrs, marks } = told[k]);
      else {
        const { inserted, deleted } = boundaries[k]!;
        if (inserted) marks = schema.marks.openingInserted.create(inserted).addToSet(marks);
        if (deleted) marks = schema.marks.openingDeleted.create(deleted).addToSet(marks);
        marks = this.#restyled(marks, fair, before, by, element);
      }
      const node = schema.nodes.paragraph.create({ ...attrs }, Fragment.fromArray(inline), marks);
      const { start, end } = this.#run[k]!;
      this.#blocks.push({ node, start, end });
    });
    this.#run = [];
  }

  #restyled(
    marks: readonly Mark[],
    fair: ParagraphProperties,
    before: ParagraphProperties,
    by: Styled['by'],
    element: Element | null,
  ): readonly Mark[] {
    const changed = child(child(element, 'w:pPr'), 'w:pPrChange');
    const entries = this.part.context.marks(changed, 'tp:entries', onlyEntries);
    if (entries?.every((mark) => isSo(mark, fair, entries)))
      return entries.reduce((all: readonly Mark[], mark) => mark.addToSet(all), marks);
    const differing = by ? differences(before, fair) : [];
    if (!by || !differing.length) return marks;
    const pick = (side: 'was' | 'now') => Object.fromEntries(differing.map((d) => [d.name, d[side]]));
    return pushEntry(marks, 'restyled', by, pick('was'), pick('now'));
  }

  /**
   * What our own file tells of openings where endings cannot say it; believed as far as it would be written just so.
   */
  #told(
    run: readonly FileParagraph[],
    openings: readonly Styled[],
    boundaries: readonly Boundary[],
    endings: readonly Styled[],
  ): ({ attrs: ParagraphProperties; marks: readonly Mark[] } | null)[] | null {
    const { context } = this.part;
    const told = run.map(({ element }) => {
      const marks = element && context.marks(element, 'tp:marks', blockMarks);
      const attrs = dataIn(element ?? undefined, 'tp:attrs');
      if (!marks || typeof attrs !== 'object' || !attrs) return null;
      try {
        return { attrs: schema.nodes.paragraph.create(attrs).attrs as ParagraphProperties, marks };
      } catch {
        return null;
      }
    });
    if (!told.some(Boolean)) return null;
    const claimed = told.map((one, k): Styled => {
      if (!one) return openings[k]!;
      const node = schema.nodes.paragraph.create(one.attrs, null, one.marks);
      try {
        node.check();
      } catch {
        return openings[k]!;
      }
      return styledOf(node);
    });
    const again = toEndings(claimed, boundaries);
    const agrees = again.every(
      ({ fair, before }, k) => sameValue(fair, endings[k]!.fair) && sameValue(before, endings[k]!.before),
    );
    return agrees ? told : null;
  }

  /** All blocks, with paragraphs where a table must stand between some. */
  finish(): ReadBlock[] {
    if (this.#dropCap) this.part.context.losses.add('dropped capital without its paragraph');
    this.#close();
    const blocks: ReadBlock[] = [];
    const add = (at: number) => blocks.push({ node: schema.nodes.paragraph.create(), start: at, end: at });
    for (const block of this.#blocks) {
      const before = blocks.at(-1)?.node;
      if (!block.node.isTextblock && !before?.isTextblock) add(block.start);
      blocks.push(block);
    }
    const last = blocks.at(-1);
    if (!last?.node.isTextblock) add(last?.end ?? 0);
    return blocks;
  }
}

/** The properties of a paragraph if all is accepted and if all is rejected, by what is pending about it. */
export function styledOf({ attrs, marks }: Pick<Node, 'attrs' | 'marks'>): Styled {
  const entries = marks
    .filter(({ type }) => type.name === 'restyled')
    .sort(
      (a, b) => (a.attrs.order as number) - (b.attrs.order as number) || (a.attrs.change < b.attrs.change ? -1 : 1),
    );
  const before: Record<string, unknown> = { ...attrs };
  for (const { attrs: entry } of [...entries].reverse()) Object.assign(before, entry.was);
  const top = entries.at(-1);
  const { change, author, date } = (top?.attrs ?? {}) as Record<string, string>;
  return {
    fair: attrs as ParagraphProperties,
    before: before as ParagraphProperties,
    by: top ? { change: change!, author: author!, date: date! } : null,
  };
}
