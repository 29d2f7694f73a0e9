import type { Mark, Node } from 'prosemirror-model';
import { initialsOf, unnamed, type Person } from '../../manuscript/people.js';
import { toDate, type Signature } from '../../manuscript/signature.js';
import { type Loss, type Reading } from '../../manuscript/manuscript.js';
import { type Place } from '../../manuscript/threads.js';
import { differences, type Properties } from '../../manuscript/properties.js';
import { limits } from '../../manuscript/limits.js';
import { mend } from '../../manuscript/mend.js';
import { schema } from '../../manuscript/schema.js';
import { isChangeId, isSafeAddress } from '../../manuscript/values.js';
import { pushEntry } from '../../row/entries.js';
import { anchors, withoutChangeAnchors } from '../../threads/anchors.js';
import { toOpenings, type Boundary, type Styled } from '../endings.js';
import { unpack } from '../package.js';
import { TooMuch, UnreadableFile } from '../unreadable.js';
import { attribute, child, elements, parseXml, type Element } from '../xml.js';
import type { Readers } from './readers.js';
import { readComments, type FileThreads } from './read-comments.js';
import { readDefinitions, readParagraphProperties, readRunProperties, type Definitions } from './read-parts.js';

/** Reads DOCX (ISO/IEC 29500, WordprocessingML). What a manuscript cannot hold is counted, never dropped in silence. */

class People {
  readonly people: Person[] = [];
  of(name: string | undefined, initials: string | undefined, id: string | undefined): string {
    const known = name?.trim() || unnamed;
    let person = this.people.find((p) => (id ? p.id === id : p.name === known));
    if (!person) {
      person = { id: id ?? `p${this.people.length + 1}`, name: known, initials: initials?.trim() || initialsOf(known) };
      this.people.push(person);
    } else if (initials?.trim() && person.initials === initialsOf(known)) person.initials = initials.trim();
    return person.id;
  }
}

class Losses {
  readonly #found = new Map<string, Loss>();
  add(what: string, where = 'text'): void {
    const key = `${what}|${where}`;
    const loss = this.#found.get(key);
    if (loss) loss.howMany++;
    else this.#found.set(key, { what, where, howMany: 1 });
  }
  list = (): Loss[] => [...this.#found.values()];
}

/** Which pending changes an element of the text stands in. */
interface Around {
  inserted: Element | null;
  deleted: Element | null;
  link: string | null;
}

interface FileParagraph {
  inline: Node[];
  styled: Styled;
  /** What is proposed about its ending, which is the boundary to the next paragraph. */
  ending: Boundary;
}

/** The change an element names, as our own files do. */
function changeName(element: Element): string | undefined {
  const named = attribute(element, 'tp:change');
  return isChangeId(named) ? named : undefined;
}

const insertions = new Set(['w:ins', 'w:moveTo']);
const deletions = new Set(['w:del', 'w:moveFrom']);
const see = new Set(['w:smartTag', 'w:sdtContent', 'w:fldSimple', 'w:customXml', 'w:dir', 'w:bdo']);
const lostElements: Record<string, string> = {
  'w:drawing': 'picture',
  'w:pict': 'picture',
  'w:object': 'embedded object',
  'w:footnoteReference': 'footnote',
  'w:endnoteReference': 'endnote',
  'm:oMath': 'formula',
  'm:oMathPara': 'formula',
  'w:sym': 'special character',
  'w:fldChar': 'field',
  'w:altChunk': 'embedded document',
};
const lostProperties: Record<string, string> = {
  'w:color': 'text colour',
  'w:sz': 'text size',
  'w:highlight': 'highlight',
  'w:shd': 'shading',
  'w:caps': 'capitals',
  'w:smallCaps': 'small capitals',
};

class DocxReader {
  readonly people = new People();
  readonly losses = new Losses();
  readonly paragraphs: FileParagraph[] = [];
  /** In which paragraph each thread is referred to. */
  readonly referred = new Map<string, number>();
  #open = new Set<string>();
  #changes = 0;
  /** The change of the token before, which the next one continues if author and date are the same. */
  #last: Signature | null = null;

  constructor(
    readonly definitions: Definitions,
    readonly fallbackDate: string,
    readonly threadsOf: (readers: Readers) => FileThreads,
  ) {
    this.threads = threadsOf(this);
  }
  readonly threads: FileThreads;

  signed(element: Element): { author: string; date: string } {
    const author = this.people.of(
      attribute(element, 'w:author'),
      attribute(element, 'w:initials'),
      attribute(element, 'tp:person'),
    );
    const time = Date.parse(attribute(element, 'w:date') ?? '');
    if (Number.isNaN(time)) this.losses.add('date that was missing, taken as that of the file', 'changes and comments');
    return { author, date: Number.isNaN(time) ? this.fallbackDate : toDate(new Date(time)) };
  }

  person = (name: string, id: string): string => this.people.of(name, undefined, id);

  /** The change an element belongs to: the one it names, else the neighbouring one of the same author and date. */
  change(element: Element): Signature {
    const { author, date } = this.signed(element);
    const named = changeName(element);
    const continues = this.#last?.author === author && this.#last.date === date;
    const change = named ?? (continues ? this.#last!.change : `c${++this.#changes}`);
    return (this.#last = { change, author, date });
  }

  body(parent: Element): void {
    for (const element of elements(parent)) {
      const name = element.nodeName;
      if (this.paragraphs.length > limits.paragraphs) throw new TooMuch('paragraphs');
      if (name === 'w:p') this.paragraph(element);
      else if (name === 'w:tbl') {
        this.losses.add('table, its text kept as paragraphs');
        this.table(element);
      } else if (name === 'w:sdt') this.body(child(element, 'w:sdtContent') ?? element);
      else if (see.has(name) || insertions.has(name) || deletions.has(name)) this.body(element);
      else this.other(element);
    }
  }

  table(parent: Element): void {
    for (const element of elements(parent)) {
      if (element.nodeName === 'w:tc') this.body(element);
      else if (/^w:(tr|sdt|sdtContent)$/.test(element.nodeName)) this.table(element);
    }
  }

  /** What is neither text nor held: counted when it is something a reader would miss. */
  other({ nodeName }: Element): void {
    const lost = lostElements[nodeName];
    if (lost) this.losses.add(lost);
  }

  paragraph(element: Element): void {
    const pPr = child(element, 'w:pPr');
    const inline: Node[] = [];
    this.inline(element, { inserted: null, deleted: null, link: null }, inline);
    const mark = child(pPr, 'w:rPr');
    const inserted = child(mark, 'w:ins') ?? child(mark, 'w:moveTo');
    const deleted = child(mark, 'w:del') ?? child(mark, 'w:moveFrom');
    const ending: Boundary = {
      inserted: inserted ? this.change(inserted) : null,
      deleted: deleted ? this.change(deleted) : null,
    };
    if (!inserted && !deleted) this.#last = null;
    this.paragraphs.push({ inline, styled: this.styled(pPr), ending });
    if (child(pPr, 'w:sectPr')) this.losses.add('section with a layout of its own', 'page layout');
  }

  styled(pPr: Element | undefined): Styled {
    const fair = readParagraphProperties(pPr, this.definitions);
    const changed = child(pPr, 'w:pPrChange');
    if (!changed) return { fair, before: fair, by: null };
    const before = readParagraphProperties(child(changed, 'w:pPr'), this.definitions);
    return {
      fair,
      before,
      by: { change: changeName(changed) ?? `c${++this.#changes}`, ...this.signed(changed) },
    };
  }

  inline(parent: Element, around: Around, into: Node[]): void {
    for (const element of elements(parent)) {
      const name = element.nodeName;
      if (name === 'w:r') this.run(element, around, into);
      else if (insertions.has(name)) this.inline(element, { ...around, inserted: element }, into);
      else if (deletions.has(name)) this.inline(element, { ...around, deleted: element }, into);
      else if (name === 'w:hyperlink') {
        const href = this.definitions.target(attribute(element, 'r:id')) ?? '';
        this.inline(element, { ...around, link: isSafeAddress(href) ? href : null }, into);
      } else if (name === 'w:commentRangeStart') this.#open.add(attribute(element, 'w:id') ?? '');
      else if (name === 'w:commentRangeEnd') this.#open.delete(attribute(element, 'w:id') ?? '');
      else if (name === 'w:sdt' || see.has(name)) this.inline(element, around, into);
      else this.other(element);
    }
  }

  run(run: Element, around: Around, into: Node[]): void {
    const rPr = child(run, 'w:rPr');
    for (const element of elements(rPr)) {
      const lost = lostProperties[element.nodeName];
      if (lost) this.losses.add(lost, 'formatting');
    }
    let marks: readonly Mark[] | null = null;
    const push = (make: (marks: readonly Mark[]) => Node) => into.push(make((marks ??= this.marks(rPr, around))));
    for (const element of elements(run)) {
      const name = element.nodeName;
      const text = name === 'w:t' || name === 'w:delText' ? (element.textContent ?? '') : characters[name];
      if (text) push((m) => schema.text(text, m));
      else if (
        (name === 'w:br' && !['page', 'column'].includes(attribute(element, 'w:type') ?? '')) ||
        name === 'w:cr'
      ) {
        push((m) => schema.nodes.line_break.create(null, null, m));
      } else if (name === 'w:br') this.losses.add('page or column break', 'page layout');
      else if (name === 'w:commentReference') {
        const thread = this.threads.threadOf(attribute(element, 'w:id') ?? '');
        if (thread && !this.referred.has(thread.id)) this.referred.set(thread.id, this.paragraphs.length);
      } else if (name !== 'w:fldChar' || attribute(element, 'w:fldCharType') === 'begin') this.other(element);
    }
  }

  marks(rPr: Element | undefined, { inserted, deleted, link }: Around): readonly Mark[] {
    let marks: readonly Mark[] = [];
    const now = readRunProperties(rPr, this.definitions);
    const set = (name: string, value: unknown) => {
      if (value !== null) marks = schema.marks[name]!.create(value === true ? null : { value }).addToSet(marks);
    };
    for (const [name, value] of Object.entries(now)) set(name, value);
    if (link) marks = schema.marks.link.create({ href: link }).addToSet(marks);
    if (inserted) marks = schema.marks.insertion.create(this.change(inserted)).addToSet(marks);
    if (deleted) marks = schema.marks.deletion.create(this.change(deleted)).addToSet(marks);
    if (!inserted && !deleted) this.#last = null;
    marks = this.formatting(marks, now, child(rPr, 'w:rPrChange'));
    for (const id of this.#open) {
      const thread = this.threads.threadOf(id);
      if (thread) marks = schema.marks.anchor.create({ thread: thread.id }).addToSet(marks);
    }
    return marks;
  }

  #lastFormatting: Signature | null = null;
  formatting(marks: readonly Mark[], now: Properties, changed: Element | undefined): readonly Mark[] {
    if (!changed) {
      this.#lastFormatting = null;
      return marks;
    }
    const former = differences(readRunProperties(child(changed, 'w:rPr'), this.definitions), now);
    if (!former.length) return marks;
    const { author, date } = this.signed(changed);
    const last = this.#lastFormatting;
    const continues = last?.author === author && last.date === date;
    const change = changeName(changed) ?? (continues ? last.change : `c${++this.#changes}`);
    this.#lastFormatting = { change, author, date };
    const pick = (side: 'was' | 'now') => Object.fromEntries(former.map((d) => [d.name, d[side]]));
    return pushEntry(marks, 'formatting', this.#lastFormatting, pick('was'), pick('now'));
  }

  /** The paragraphs with boundaries and properties hung on their openings. */
  document(): Node {
    if (!this.paragraphs.length) return schema.nodes.doc.create(null, schema.nodes.paragraph.create());
    const none: Boundary = { inserted: null, deleted: null };
    const boundaries = [none, ...this.paragraphs.slice(0, -1).map(({ ending }) => ending)];
    const openings = toOpenings(
      this.paragraphs.map(({ styled }) => styled),
      boundaries,
    );
    const blocks = this.paragraphs.map(({ inline }, k) => {
      const { fair, before, by } = openings[k]!;
      let marks: readonly Mark[] = [];
      const { inserted, deleted } = boundaries[k]!;
      if (inserted) marks = schema.marks.openingInserted.create(inserted).addToSet(marks);
      if (deleted) marks = schema.marks.openingDeleted.create(deleted).addToSet(marks);
      const changed = by ? differences(before, fair) : [];
      if (by && changed.length) {
        const pick = (side: 'was' | 'now') => Object.fromEntries(changed.map((d) => [d.name, d[side]]));
        marks = pushEntry(marks, 'restyled', by, pick('was'), pick('now'));
      }
      return schema.nodes.paragraph.create({ ...fair }, inline, marks);
    });
    return schema.nodes.doc.create(null, blocks);
  }
}

/** Characters that stand as elements of their own (17.3.3). */
const characters: Record<string, string> = { 'w:tab': '\t', 'w:noBreakHyphen': '\u2011', 'w:softHyphen': '\u00ad' };

/** The start of a paragraph, for a thread that stands on no words. */
function placeIn(doc: Node, paragraph: number): Place {
  let from = 1;
  let left = paragraph;
  doc.descendants((node, pos) => {
    if (node.isTextblock && left-- === 0) from = pos + 1;
    return !node.isTextblock;
  });
  return { version: 0, from, to: from };
}

/** The moment the file says it was last changed (ISO/IEC 29500-2, core properties), for marks that have no date. */
function fileDate(part: string | undefined): string {
  const modified = part && child(parseXml(part), 'dcterms:modified')?.textContent;
  const time = Date.parse(modified || '');
  return toDate(new Date(Number.isNaN(time) ? 0 : time));
}

/**
 * Reads a DOCX file.
 * @returns the manuscript, with ids of its own where the file names none, and what could not be held
 * @throws UnreadableFile when the bytes are no such file, with the reason
 */
export async function readDocx(bytes: Uint8Array): Promise<Reading> {
  const parts = unpack(bytes);
  const part = (name: string) => parts.get(name);
  const main = part('word/document.xml');
  if (main === undefined) throw new UnreadableFile('is not a DOCX file: it has no main text');
  const body = child(parseXml(main), 'w:body');
  if (!body) throw new UnreadableFile('is not a DOCX file: its main text has no body');
  const definitions = readDefinitions(part);
  const reader = new DocxReader(definitions, fileDate(part('docProps/core.xml')), (readers) =>
    readComments(part, readers, definitions),
  );
  reader.body(body);
  for (const [name] of parts) {
    if (/^word\/(header|footer)\d*\.xml$/.test(name)) reader.losses.add('header or footer', 'page layout');
  }
  const { doc, mends } = mend(reader.document().toJSON(), toDate(new Date()));
  const { threads } = reader.threads;
  const ranges = anchors(doc);
  for (const thread of threads) {
    const words = (ranges.get(thread.id) ?? []).map(({ from, to }) => doc.textBetween(from, to, ' '));
    thread.quote ||= words.join(' ');
    if (!words.length && !thread.whole && thread.change === undefined)
      thread.place = placeIn(doc, reader.referred.get(thread.id) ?? 0);
  }
  return {
    manuscript: { doc: withoutChangeAnchors(doc, threads), people: reader.people.people, threads, assets: [] },
    losses: [...reader.losses.list(), ...mends],
  };
}
