import type { Mark, Node } from 'prosemirror-model';
import { inlineProperties, type Properties } from '../../manuscript/properties.js';
import { signatureOf, type ChangeId } from '../../manuscript/signature.js';
import type { ThreadId } from '../../manuscript/threads.js';
import { entriesOf, former } from '../../row/entries.js';
import { escapeXml, tag } from '../xml.js';
import { writeLook } from './looks.js';
import { strangeWords } from '../kept/strange.js';
import { element } from '../kept/telling.js';
import type { Target } from './target.js';
import { aside, elsewhere } from '../kept/unsettled.js';
import { pictureXml } from './write-pictures.js';

/** The words of paragraphs as runs, in what is pending about them and what stands around them. */

/** What stands at places of the text besides what is in it. */
export interface Places {
  /** The comments of threads that begin and end at a position. */
  starts: ReadonlyMap<number, readonly ThreadId[]>;
  ends: ReadonlyMap<number, readonly ThreadId[]>;
  /** Comments that stand on no words, by the position of the paragraph they are at. */
  placed: ReadonlyMap<number, readonly ThreadId[]>;
  /** The numbers of the comments of a thread. */
  numbers: ReadonlyMap<ThreadId, readonly number[]>;
  /** Those that are only referred to. */
  bare: ReadonlySet<number>;
  /** Moves, and where their ends begin and end. */
  moves: ReadonlySet<ChangeId>;
  moveStarts: ReadonlyMap<number, readonly MoveEnd[]>;
  moveEnds: ReadonlyMap<number, readonly MoveEnd[]>;
  /** The positions of things in two parts that are written. */
  whole: ReadonlySet<number>;
}

export interface MoveEnd {
  change: ChangeId;
  side: 'From' | 'To';
  mark: Mark;
  /** The number of its range, of which beginning and end say the same. */
  range: number;
}

const noThreads: readonly ThreadId[] = [];
const none: readonly number[] = [];
const all = (marks: readonly Mark[], type: string) => marks.filter((mark) => mark.type.name === type);

const run = (content: string) => `<w:r>${content}</w:r>`;
const signs: Record<string, string> = {
  '\t': '<w:tab/>',
  '\u2011': '<w:noBreakHyphen/>',
  '\u00ad': '<w:softHyphen/>',
};

const apart = /[\t\u2011\u00ad]/;

/** Where a thing of a file stands: in a run, among runs, or among paragraphs. */
export type Level = 'run' | 'line' | 'block';
const amongRuns =
  /^(m:oMath|m:oMathPara|w:(r|sdt|smartTag|customXml|hyperlink|fldSimple|dir|bdo|subDoc|(bookmark|perm)(Start|End)))$/;
export const levelOf = (name: string): Level =>
  name === 'w:tbl' || name === 'w:altChunk' ? 'block' : amongRuns.test(name) ? 'line' : 'run';

/** Writes the lines of one part. */
export class WordsWriter {
  constructor(
    readonly target: Target,
    readonly part: string,
    readonly places: Places,
    /** Writes a note, and tells its place among those of its kind. */
    readonly note: (node: Node, pos: number) => number,
  ) {}

  numbersOf = (threads: readonly ThreadId[] = noThreads): readonly number[] =>
    threads.length ? threads.flatMap((thread) => [...(this.places.numbers.get(thread) ?? [])]) : none;

  #edge = (edge: 'Start' | 'End', numbers: readonly number[]): string =>
    numbers.map((id) => (this.places.bare.has(id) ? '' : tag(`w:commentRange${edge}`, { 'w:id': id }))).join('');

  /** Comments that stand at a place and on no words. */
  emptyRanges = (numbers: readonly number[]): string =>
    numbers.map((id) => this.#edge('Start', [id]) + this.#edge('End', [id])).join('') + this.references(numbers);

  references = (numbers: readonly number[]): string =>
    numbers.map((number) => run(tag('w:commentReference', { 'w:id': number }))).join('');

  moveMark = ({ side, mark, range }: MoveEnd, edge: 'Start' | 'End'): string => {
    const id = ` w:id="${aside(String(range))}"`;
    const name = `w:move${side}Range${edge}`;
    if (edge === 'End') return element(name, id);
    const by = this.target.by(signatureOf(mark)!).replace(/ w:id="\u0001"/, id);
    return element(name, `${by} w:name="${aside(`move-${String(mark.attrs.change)}`)}"`);
  };

  /** All that stands in a paragraph. Ranges of comments never begin or end inside one of its nodes. */
  line(paragraph: Node, start: number, style: string | undefined, skip = 0): string {
    const { starts, ends, moveStarts, moveEnds } = this.places;
    let xml = this.emptyRanges(this.numbersOf(this.places.placed.get(start)));
    paragraph.forEach((whole, offset, i) => {
      const pos = start + 1 + offset;
      const node = i === 0 && skip ? whole.cut(skip) : whole;
      for (const end of moveStarts.get(pos) ?? []) xml += this.moveMark(end, 'Start');
      xml += this.#edge('Start', this.numbersOf(starts.get(pos)));
      if (!node.isText || node.text) xml += this.inline(node, pos, style);
      const end = this.numbersOf(ends.get(pos + whole.nodeSize));
      xml += this.#edge('End', end) + this.references(end);
      for (const one of moveEnds.get(pos + whole.nodeSize) ?? []) xml += this.moveMark(one, 'End');
    });
    return xml;
  }

  inline(node: Node, pos: number, style: string | undefined): string {
    if (node.isText && !node.marks.length) return run(this.#text(node.text!, false));
    const deleted = all(node.marks, 'deletion');
    const inserted = all(node.marks, 'insertion');
    const content = this.content(node, pos, style, deleted.length > 0);
    if (!content.xml) return '';
    let { xml } = content;
    if (content.marked) {
      for (const mark of [...deleted].reverse())
        xml = element(this.#nameOf(mark, 'del', 'moveFrom'), this.target.by(signatureOf(mark)!), xml);
      for (const mark of [...inserted].reverse())
        xml = element(this.#nameOf(mark, 'ins', 'moveTo'), this.target.by(signatureOf(mark)!), xml);
    }
    const link = all(node.marks, 'link')[0]?.attrs.href as string | undefined;
    return link === undefined || !content.marked ? xml : this.#linked(link, xml);
  }

  #nameOf = (mark: Mark, plain: string, moved: string) =>
    `w:${this.places.moves.has(mark.attrs.change as string) ? moved : plain}`;

  #linked(href: string, xml: string): string {
    if (href.startsWith('#')) return tag('w:hyperlink', { 'w:anchor': href.slice(1) }, xml);
    return tag('w:hyperlink', { 'r:id': this.target.relate(this.part, 'hyperlink', href, true) }, xml);
  }

  /** A node without what is pending about it, and whether that can stand around it. */
  content(node: Node, pos: number, style: string | undefined, deleted: boolean): { xml: string; marked: boolean } {
    if (node.type.name !== 'carried_thing')
      return { xml: run(this.look(node, style) + this.#inRun(node, pos, deleted)), marked: true };
    const { carried, part, what, says } = node.attrs as Record<'carried' | 'part' | 'what' | 'says', string>;
    const fragment = this.target.fragment(carried);
    if (!fragment) {
      // Of another file: its words are all there is of it here.
      const words = strangeWords({ part, what, says });
      return { xml: words && run(this.look(node, style) + this.#text(words, deleted)), marked: true };
    }
    if (part !== 'whole') {
      if (!this.places.whole.has(pos)) return { xml: '', marked: false };
      const xml = part === 'begin' ? fragment.xml : (fragment.close ?? '');
      const isRuns = xml.startsWith('<w:r>');
      return { xml: isRuns && deleted ? xml.replace(/(<\/?w:)instrText/g, '$1delInstrText') : xml, marked: isRuns };
    }
    const [piece] = this.target.pieces(carried);
    const level = levelOf(piece?.element.name ?? '');
    if (level === 'block') return { xml: '', marked: false };
    return level === 'run'
      ? { xml: run(this.look(node, style) + fragment.xml), marked: true }
      : { xml: fragment.xml, marked: true };
  }

  look(node: Node, style: string | undefined): string {
    const { definitions } = this.target;
    const now = inlineProperties(node.marks);
    const ofParagraph = definitions.lookOfParagraph(style);
    const lookOf = ({ carriedLook, ...properties }: Properties) =>
      writeLook(properties, this.target.pieces((carriedLook ?? null) as string | null), definitions, ofParagraph);
    let xml = lookOf(now);
    if (node.type.name === 'footnote' && !/<w:(rStyle|vertAlign)\b/.test(xml))
      xml += tag('w:vertAlign', { 'w:val': 'superscript', 'tp:own': 1 });
    const entries = entriesOf(node.marks, 'formatting');
    const top = entries.at(-1);
    if (top) {
      const by = this.target.by(signatureOf(top.mark)!);
      const told = this.target.told(
        'tp:entries',
        entries.map(({ mark }) => mark),
      );
      xml += element('w:rPrChange', by + told, `<w:rPr>${lookOf(former(now, node.marks, 'formatting'))}</w:rPr>`);
    }
    return xml && `<w:rPr>${xml}</w:rPr>`;
  }

  #inRun(node: Node, pos: number, deleted: boolean): string {
    if (node.isText) return this.#text(node.text!, deleted);
    if (node.type.name === 'line_break') return '<w:br/>';
    if (node.type.name === 'image') return pictureXml(this.target, this.part, node);
    const kind = node.attrs.kind as 'foot' | 'end';
    return `<w:${kind}noteReference w:id="${elsewhere(kind, this.note(node, pos))}"/>`;
  }

  #text(text: string, deleted: boolean): string {
    const name = deleted ? 'w:delText' : 'w:t';
    if (!apart.test(text)) return `<${name} xml:space="preserve">${escapeXml(text)}</${name}>`;
    return text
      .split(/([\t\u2011\u00ad])/)
      .map((part) => signs[part] ?? (part && `<${name} xml:space="preserve">${escapeXml(part)}</${name}>`))
      .join('');
  }
}
