import { attribute, child, elements, textOf, type Element } from '../xml.js';
import type { Comment, Thread } from '../../manuscript/threads.js';
import { asText, isChangeId, isPersonId, isSafeAddress } from '../../manuscript/values.js';
import type { Remark, RemarkLine, RemarkMark, RemarkPiece } from '../../manuscript/threads.js';
import { readCommentFacts, readThreadFacts } from '../kept/comment-facts.js';
import type { Part } from './context.js';
import { readParagraphProperties } from './paragraphs.js';

/** Comments by their id in the file, as the threads they make together. */
export interface FileThreads {
  threads: Thread[];
  /** The thread that a comment of the file belongs to. */
  threadOf(commentId: string): Thread | undefined;
  sources: CommentSource[];
  /** Those that have words of their own in the text. */
  ranged: Set<string>;
}

/** Where a comment stood in its part. */
export interface CommentSource {
  id: string;
  start: number;
  end: number;
  /** The name of its last paragraph, by which replies refer to it. */
  paragraph: string | null;
  /** Its thread, and which of that it is, from 0. */
  thread: Thread;
  nth: number;
}

const characters: Record<string, string> = { 'w:tab': '\t', 'w:noBreakHyphen': '\u2011', 'w:softHyphen': '\u00ad' };
/** Marks of one piece, in the order in which they are always kept. */
const order = ['link', 'italic', 'bold'] as const;

/** Reads one paragraph of a comment; a line break in it begins another line. */
class LineReader {
  readonly lines: RemarkPiece[][] = [[]];
  constructor(readonly part: Part) {}

  read(parent: Element, href: string | null): void {
    for (const element of elements(parent)) {
      const { name } = element;
      if (name === 'w:r') this.#run(element, href);
      else if (name === 'w:hyperlink') {
        const { context, name: from } = this.part;
        const address = context.file.relationship(from, attribute(element, 'r:id'))?.target ?? '';
        this.read(element, isSafeAddress(address) ? address : href);
      } else if (name !== 'w:del' && name !== 'w:pPr') this.read(element, href);
    }
  }

  #run(run: Element, href: string | null): void {
    const mention = attribute(run, 'tp:mention');
    if (isPersonId(mention)) {
      const name = textOf(run).replace(/^@/, '');
      const person = this.part.context.person(name, mention);
      return void this.lines.at(-1)!.push({ type: 'mention', attrs: { person } });
    }
    const { bold, italic } = this.part.look(child(run, 'w:rPr'), undefined).properties;
    const has = { link: href !== null, italic: !!italic, bold: !!bold };
    const marks: RemarkMark[] = order
      .filter((type) => has[type])
      .map((type) => (type === 'link' ? { type, attrs: { href: href! } } : { type }));
    for (const element of elements(run)) {
      if (element.name === 'w:br' || element.name === 'w:cr') this.lines.push([]);
      const text = element.name === 'w:t' ? asText(textOf(element)) : (characters[element.name] ?? '');
      if (text) this.#push(text, marks);
    }
  }

  /** Neighbouring words of one look are one piece. */
  #push(text: string, marks: RemarkMark[]): void {
    const line = this.lines.at(-1)!;
    const last = line.at(-1);
    if (last?.type === 'text' && JSON.stringify(last.marks ?? []) === JSON.stringify(marks)) last.text += text;
    else line.push({ type: 'text', text, ...(marks.length && { marks }) });
  }
}

function bodyOf(comment: Element, part: Part): Remark {
  const lines: RemarkLine[] = [];
  for (const paragraph of elements(comment)) {
    if (paragraph.name !== 'w:p' || attribute(paragraph, 'tp:aside')) continue;
    const reader = new LineReader(part);
    reader.read(paragraph, null);
    const list = readParagraphProperties(child(paragraph, 'w:pPr'), part.context.definitions).list?.kind ?? null;
    for (const content of reader.lines)
      lines.push({ type: 'line', attrs: { list }, ...(content.length && { content }) });
  }
  return { type: 'doc', content: lines.length ? lines : [{ type: 'line', attrs: { list: null } }] };
}

const lastParagraphId = (comment: Element): string | undefined => {
  const paragraphs = [...elements(comment)].filter((element) => element.name === 'w:p');
  return attribute(paragraphs[paragraphs.length - 1], 'w14:paraId');
};

/** What the extended part says of a comment: whose reply it is, and whether it is done. */
function readExtended(part: Element | undefined): Map<string, { parent?: string | undefined; done: boolean }> {
  const found = new Map<string, { parent?: string | undefined; done: boolean }>();
  for (const element of elements(part)) {
    const id = attribute(element, 'w15:paraId');
    const done = attribute(element, 'w15:done') === '1';
    if (id) found.set(id, { parent: attribute(element, 'w15:paraIdParent'), done });
  }
  return found;
}

/**
 * Reads comments (ISO/IEC 29500-1, 17.13.4) and, where there is one, the published extension part with their replies.
 * @param part the part they stand in, if there is one
 */
export function readComments(part: Part | undefined, extended: Element | undefined): FileThreads {
  const threads: Thread[] = [];
  const ofComment = new Map<string, Thread>();
  const sources: CommentSource[] = [];
  const found: FileThreads = { threads, threadOf: (id) => ofComment.get(id), sources, ranged: new Set() };
  if (!part) return found;
  const { context } = part;
  const more = readExtended(extended);
  const ofParagraph = new Map<string, Thread>();
  const counts = new Map<Thread, number>();
  part.parse({
    within: 'w:comments',
    each: (element) => {
      if (element.name !== 'w:comment') return;
      const { author, date } = context.signed(element);
      const id = attribute(element, 'w:id') ?? '';
      const paragraph = lastParagraphId(element);
      const { parent, done } = more.get(paragraph ?? '') ?? { done: false };
      const { bare, quote = '', ...facts } = readThreadFacts(attribute(element, 'tp:threadFacts'), context.person);
      let thread = parent ? ofParagraph.get(parent) : undefined;
      if (!thread) {
        const change = attribute(element, 'tp:change');
        const about = isChangeId(change) ? { change } : {};
        const own = attribute(element, 'tp:thread') ?? `t${id}`;
        thread = {
          id: isPersonId(own) ? own : `t${threads.length}`,
          author,
          date,
          ...about,
          quote,
          resolved: done,
          ...facts,
          comments: [],
        };
        threads.push(thread);
      }
      if (!bare) {
        const { people: _, ...known } = readCommentFacts(attribute(element, 'tp:facts'), context.person);
        const comment: Comment = {
          id: attribute(element, 'tp:comment') ?? `k${id}`,
          author,
          date,
          body: bodyOf(element, part),
          ...known,
        };
        thread.comments.push(comment);
      }
      const nth = counts.get(thread) ?? 0;
      counts.set(thread, nth + 1);
      sources.push({ id, start: element.start, end: element.end, paragraph: paragraph ?? null, thread, nth });
      if (paragraph) ofParagraph.set(paragraph, thread);
      if (!ofComment.has(id)) ofComment.set(id, thread);
    },
  });
  return found;
}
