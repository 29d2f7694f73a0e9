import type { PersonId } from '../../manuscript/people.js';
import { noDate } from '../../manuscript/signature.js';
import { type Comment, type Thread } from '../../manuscript/threads.js';
import type { RemarkLine, RemarkPiece } from '../../manuscript/threads.js';
import { escapeXml, tag } from '../xml.js';
import { asides } from '../kept/asides.js';
import { commentFacts, threadFacts } from '../kept/comment-facts.js';
import { attributes, element } from '../kept/telling.js';
import type { Target } from './target.js';
import { aside, listNumber, printOf } from '../kept/unsettled.js';

/** Comments (ISO/IEC 29500-1, 17.13.4) as elements of their part. */

/** Where the lists of comments begin to be counted, so that they never meet those of the text. */
const firstList = 10_001;

/** Writes what comments say. */
class RemarkWriter {
  #lists = firstList;
  constructor(
    readonly target: Target,
    /** The part that comments stand in. */
    readonly part: string,
  ) {}

  paragraphs(lines: readonly RemarkLine[]): string[] {
    let inList: string | null = null;
    return lines.map(({ attrs, content = [] }) => {
      const { list } = attrs;
      if (list && list !== inList) this.#lists++;
      inList = list;
      const numId = list ? listNumber(list, this.#lists) : '';
      const pPr = list ? `<w:pPr><w:numPr><w:ilvl w:val="0"/><w:numId w:val="${numId}"/></w:numPr></w:pPr>` : '';
      return pPr + content.map((piece) => this.#run(piece)).join('');
    });
  }

  #run(piece: RemarkPiece): string {
    if (piece.type === 'mention') {
      const { person } = piece.attrs;
      return element('w:r', aside(attributes({ 'tp:mention': person })), words(`@${this.target.nameOf(person)}`));
    }
    const marks = piece.marks ?? [];
    const has = (name: string) => marks.some(({ type }) => type === name);
    const look = (has('bold') ? tag('w:b') : '') + (has('italic') ? tag('w:i') : '');
    const run = tag('w:r', {}, (look ? tag('w:rPr', {}, look) : '') + words(piece.text));
    const href = marks.find(({ type }) => type === 'link')?.attrs?.href;
    if (href === undefined) return run;
    return tag('w:hyperlink', { 'r:id': this.target.relate(this.part, 'hyperlink', href, true) }, run);
  }
}

const words = (text: string): string =>
  text
    .split('\t')
    .map((part) => (part ? `<w:t xml:space="preserve">${escapeXml(part)}</w:t>` : ''))
    .join(tag('w:tab'));

/** A comment as the file knows it; one that is none stands for a highlight that says nothing. */
interface Written {
  author: PersonId;
  date: string;
  comment: Comment | null;
}

/** One comment, written, and by what it is known again. */
export interface WrittenComment {
  thread: Thread;
  /** Which of its thread it is, from 0. */
  nth: number;
  print: string;
  /** Its XML under a number of the file. */
  xml(id: number): string;
}

/** Eight hexadecimal digits below 80000000, as the extension part asks for. */
export const paragraphName = (n: number): string => ((0x7a000000 + n) % 0x80000000).toString(16).toUpperCase();

/** The comments of all threads that go into files, in their order. */
export function writtenComments(threads: readonly Thread[], target: Target, part: string): WrittenComment[] {
  const writer = new RemarkWriter(target, part);
  const found: WrittenComment[] = [];
  for (const thread of threads) {
    // What is only for oneself is in no file.
    if (thread.toSelf) continue;
    const bare: Written = { author: thread.author, date: thread.date, comment: null };
    const said = thread.comments.map((comment): Written => ({ author: comment.author, date: comment.date, comment }));
    (thread.tint ? [bare, ...said] : said).forEach((written, k) =>
      found.push(writtenComment(writer, thread, written, k)),
    );
  }
  return found;
}

function writtenComment(writer: RemarkWriter, thread: Thread, written: Written, nth: number): WrittenComment {
  const { author, date, comment } = written;
  const { target } = writer;
  const { nameOf } = target;
  const own = comment && !comment.deleted ? writer.paragraphs(comment.body.content) : [];
  const beside = comment ? asides(comment, nameOf) : ['(Highlighted.)'];
  const all = [...own.map((content) => ({ content, isAside: false })), ...beside.map(asideOf)];
  // The words a thread is about are for ourselves only, and do not make it another comment.
  const facts = (quote?: string) =>
    nth === 0 ? threadFacts({ ...thread, quote: quote! }, !comment, nameOf) : undefined;
  const ids = {
    'tp:person': target.personName(author),
    'tp:comment': comment?.id,
    'tp:thread': thread.id,
    'tp:change': thread.change && (target.names.changes[thread.change] ?? thread.change),
  };
  const more = comment ? commentFacts(comment, nameOf) : undefined;
  const xml = (id: number) =>
    element(
      'w:comment',
      attributes({ 'w:id': id, 'w:author': nameOf(author), 'w:date': date === noDate ? undefined : date }) +
        aside(attributes({ 'w:initials': target.initialsOf(author), ...ids, 'tp:threadFacts': facts(thread.quote) })) +
        attributes({ 'tp:facts': more }),
      all
        .map(({ content, isAside }, i) => {
          const name = i === all.length - 1 ? aside(attributes({ 'w14:paraId': paragraphName(id) })) : '';
          return element('w:p', name + (isAside ? ' tp:aside="1"' : ''), content);
        })
        .join(''),
    );
  return { thread, nth, xml, print: printOf(xml(0), () => '') + (facts() ?? '') };
}

const asideOf = (text: string) => ({ content: tag('w:r', {}, words(text)), isAside: true });
