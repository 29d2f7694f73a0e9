import type { Node } from 'prosemirror-model';
import type { Mark } from 'prosemirror-model';
import { differences, sameValue } from '../../manuscript/properties.js';
import { schema, type ParagraphProperties } from '../../manuscript/schema.js';
import { signatureOf } from '../../manuscript/signature.js';
import { entriesOf, former, pushEntry } from '../../row/entries.js';
import { toEndings, toOpenings, type Boundary, type Styled } from '../endings.js';
import { attribute, tag } from '../xml.js';
import type { Piece } from '../kept/telling.js';
import { styleId, writeParagraph } from './paragraphs.js';
import { styledOf } from './read-blocks.js';
import { isSo } from '../kept/said.js';
import { element } from '../kept/telling.js';
import { listNumber } from '../kept/unsettled.js';
import { levelOf, type WordsWriter } from './write-words.js';

/** Blocks of a container as paragraphs and tables, with what is proposed about their openings hung on endings. */

const first = (marks: readonly Mark[], type: string) => {
  const mark = marks.find((one) => one.type.name === type);
  return mark ? signatureOf(mark) : null;
};
const none: Boundary = { inserted: null, deleted: null };

/** Whether a paragraph begins where its file drops a capital, and how many letters that has. */
function dropCapOf(rest: readonly Piece[], node: Node): { piece: Piece; letters: number } | null {
  const piece = rest.find((one) => one.element.name === 'tp:dropCap');
  const letters = Number(attribute(piece?.element, 'tp:letters'));
  const start = node.firstChild;
  const fits =
    start?.isText && start.text!.length >= letters && !start.marks.some(({ type }) => unsplit.has(type.name));
  return piece && fits ? { piece, letters } : null;
}
/** What cannot be said of half of a run. */
const unsplit = new Set(['insertion', 'deletion', 'formatting', 'anchor', 'link']);

export class BlocksWriter {
  #lists = 0;
  #inList: 'bullet' | 'number' | null = null;

  constructor(
    readonly words: WordsWriter,
    /** Writes a table; in a cell or a note there is none. */
    readonly table: (blocks: BlocksWriter, table: Node, pos: number) => string,
    /** Puts the paragraphs of tables down somewhere else, and says what stands in their place. */
    readonly inTable: (xml: string, node: Node | null) => string = (xml) => xml,
    /** What stands before the first words. */
    private lead = '',
  ) {}

  /**
   * The blocks of a container, each as XML.
   * @param each what is made of the XML of a block as soon as it is written
   */
  container<T = string>(content: Node, start: number, each: (xml: string, block: Node) => T): T[] {
    const all: T[] = [];
    let run: { node: Node; pos: number }[] = [];
    const close = () => {
      this.#paragraphs(run, (xml, block) => all.push(each(xml, block)));
      run = [];
    };
    content.forEach((node, offset) => {
      if (node.isTextblock) return void run.push({ node, pos: start + offset });
      close();
      this.#inList = null;
      all.push(each(this.table(this, node, start + offset), node));
    });
    close();
    return all;
  }

  /** Paragraphs between two tables, or all of a container. */
  #paragraphs(run: readonly { node: Node; pos: number }[], done: (xml: string, block: Node) => void): void {
    const boundaries = run.map(({ node: { marks } }, k) =>
      k ? { inserted: first(marks, 'openingInserted'), deleted: first(marks, 'openingDeleted') } : none,
    );
    const openings = run.map(({ node }) => {
      const before = former(node.attrs, node.marks, 'restyled') as ParagraphProperties;
      return { ...styledOf(node), before };
    });
    const endings = toEndings(openings, boundaries);
    const again = toOpenings(endings, boundaries);
    run.forEach(({ node, pos }, k) => {
      const entries = entriesOf(node.marks, 'restyled').map(({ mark }) => mark);
      const told = endings[k]!.by ? entries : [];
      const seen = predicted(again[k]!, boundaries[k]!, told);
      const isKept =
        sameValue(again[k]!.fair, node.attrs) &&
        seen.length === node.marks.length &&
        seen.every((mark) => mark.isInSet(node.marks));
      const override = isKept
        ? ''
        : this.words.target.told('tp:marks', node.marks) + this.words.target.own('tp:attrs', node.attrs);
      done(this.#paragraph(node, pos, endings[k]!, boundaries[k + 1] ?? none, told, override), node);
    });
  }

  /** A new list begins wherever items of that kind follow something else, so that numbers start again. */
  #numbering = (kind: 'bullet' | 'number'): string => {
    if (this.#inList !== kind) this.#lists++;
    this.#inList = kind;
    return listNumber(kind, this.#lists);
  };

  #paragraph(
    node: Node,
    pos: number,
    ending: Styled,
    boundary: Boundary,
    entries: readonly Mark[],
    override: string,
  ): string {
    const { words } = this;
    const { target } = words;
    if (!ending.fair.list) this.#inList = null;
    const rest = target.pieces(ending.fair.carried);
    const setting = { definitions: target.definitions, numbering: this.#numbering };
    const moved = (id: string, plain: string, name: string) => `w:${words.places.moves.has(id) ? name : plain}`;
    const { inserted, deleted } = boundary;
    const mark =
      (inserted ? element(moved(inserted.change, 'ins', 'moveTo'), target.by(inserted)) : '') +
      (deleted ? element(moved(deleted.change, 'del', 'moveFrom'), target.by(deleted)) : '');
    let change = '';
    if (ending.by) {
      const before = target.pieces(ending.before.carried);
      const told = entries.length ? target.told('tp:entries', entries) : '';
      const was = writeParagraph(ending.before, before, setting, { former: true });
      change = element('w:pPrChange', target.by(ending.by) + told, `<w:pPr>${was}</w:pPr>`);
    }
    const dropCap = dropCapOf(rest, node);
    const kept = rest.filter((one) => one.element.name !== 'tp:dropCap');
    const properties = writeParagraph(ending.fair, kept, setting, { mark, change });
    const style = kept.find((one) => one.element.name === 'w:pStyle');
    const id = attribute(style?.element, 'w:val') ?? styleId(ending.fair.style, target.definitions);
    const before = this.#blocksIn(node) + (dropCap ? dropped(dropCap, node) : '');
    const line = this.lead + words.line(node, pos, id, dropCap?.letters ?? 0);
    this.lead = '';
    // Something that was a block of its own is one again, if nothing else came beside it.
    if (before && !dropCap && !line && !mark && node.childCount === 1) return before;
    return before + element('w:p', override, (properties && `<w:pPr>${properties}</w:pPr>`) + line);
  }

  /** Things that are blocks in their file. */
  #blocksIn(node: Node): string {
    let xml = '';
    node.forEach((inline) => {
      if (inline.type.name !== 'carried_thing') return;
      const [piece] = this.words.target.pieces(inline.attrs.carried as string);
      if (piece && levelOf(piece.element.name) === 'block') xml += piece.xml;
    });
    return xml;
  }
}

/** The dropped capital of a paragraph, as its file sets it. */
function dropped({ piece, letters }: { piece: Piece; letters: number }, node: Node): string {
  const inner = piece.xml.replace(/^<tp:dropCap[^>]*>|<\/tp:dropCap>$/g, '');
  const end = inner.indexOf('</w:pPr>');
  const [pPr, rPr] = end < 0 ? ['', inner] : [inner.slice(0, end + 8), inner.slice(end + 8)];
  const text = tag('w:t', { 'xml:space': 'preserve' }, node.firstChild!.text!.slice(0, letters));
  return `<w:p>${pPr}<w:r>${rPr}${text}</w:r></w:p>`;
}

/** The marks that reading would give a paragraph, if nothing more were said. */
function predicted({ fair, before, by }: Styled, boundary: Boundary, told: readonly Mark[]): readonly Mark[] {
  let marks: readonly Mark[] = [];
  if (boundary.inserted) marks = schema.marks.openingInserted.create(boundary.inserted).addToSet(marks);
  if (boundary.deleted) marks = schema.marks.openingDeleted.create(boundary.deleted).addToSet(marks);
  if (told.length && told.every((mark) => isSo(mark, fair, told)))
    return told.reduce((all, mark) => mark.addToSet(all), marks);
  const differing = by ? differences(before, fair) : [];
  if (!by || !differing.length) return marks;
  const pick = (side: 'was' | 'now') => Object.fromEntries(differing.map((d) => [d.name, d[side]]));
  return pushEntry(marks, 'restyled', by, pick('was'), pick('now'));
}
