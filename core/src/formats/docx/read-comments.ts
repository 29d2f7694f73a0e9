import { attribute, child, elements, parseXml, type Element } from '../xml.js';
import type { Comment, Thread } from '../../manuscript/threads.js';
import type { PersonId } from '../../manuscript/people.js';
import { isChangeId, isPersonId, isSafeAddress } from '../../manuscript/values.js';
import type { Remark, RemarkLine, RemarkMark, RemarkPiece } from '../../manuscript/threads.js';
import { readCommentFacts, readThreadFacts } from './comment-facts.js';
import { readParagraphProperties, readRunProperties, targetsIn, type Definitions } from './read-parts.js';
import type { Readers } from './readers.js';

/** Comments by their id in the file, as the threads they make together. */
export interface FileThreads {
  threads: Thread[];
  /** The thread that a comment of the file belongs to. */
  threadOf(commentId: string): Thread | undefined;
}

/** What comments refer to. */
interface Around {
  definitions: Definitions;
  target(relationship: string | undefined): string | undefined;
  personOf(name: string, id: PersonId): PersonId;
}

const characters: Record<string, string> = { 'w:tab': '\t', 'w:noBreakHyphen': '\u2011', 'w:softHyphen': '\u00ad' };
/** Marks of one piece, in the order in which they are always kept. */
const order = ['link', 'italic', 'bold'] as const;

/** Reads one paragraph of a comment; a line break in it begins another line. */
class LineReader {
  readonly lines: RemarkPiece[][] = [[]];
  constructor(readonly around: Around) {}

  read(parent: Element, href: string | null): void {
    for (const element of elements(parent)) {
      const name = element.nodeName;
      if (name === 'w:r') this.#run(element, href);
      else if (name === 'w:hyperlink') {
        const address = this.around.target(attribute(element, 'r:id')) ?? '';
        this.read(element, isSafeAddress(address) ? address : href);
      } else if (name !== 'w:del' && name !== 'w:pPr') this.read(element, href);
    }
  }

  #run(run: Element, href: string | null): void {
    const mention = attribute(run, 'tp:mention');
    if (isPersonId(mention)) {
      const name = (run.textContent ?? '').replace(/^@/, '');
      return void this.lines.at(-1)!.push({ type: 'mention', attrs: { person: this.around.personOf(name, mention) } });
    }
    const { bold, italic } = readRunProperties(child(run, 'w:rPr'), this.around.definitions);
    const has = { link: href !== null, italic: !!italic, bold: !!bold };
    const marks: RemarkMark[] = order
      .filter((type) => has[type])
      .map((type) => (type === 'link' ? { type, attrs: { href: href! } } : { type }));
    for (const element of elements(run)) {
      if (element.nodeName === 'w:br' || element.nodeName === 'w:cr') this.lines.push([]);
      const text = element.nodeName === 'w:t' ? (element.textContent ?? '') : (characters[element.nodeName] ?? '');
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

function bodyOf(comment: Element, around: Around): Remark {
  const lines: RemarkLine[] = [];
  for (const paragraph of elements(comment)) {
    if (paragraph.nodeName !== 'w:p' || attribute(paragraph, 'tp:aside')) continue;
    const reader = new LineReader(around);
    reader.read(paragraph, null);
    const list = readParagraphProperties(child(paragraph, 'w:pPr'), around.definitions).list?.kind ?? null;
    for (const content of reader.lines)
      lines.push({ type: 'line', attrs: { list }, ...(content.length && { content }) });
  }
  return { type: 'doc', content: lines.length ? lines : [{ type: 'line', attrs: { list: null } }] };
}

const lastParagraphId = (comment: Element): string | undefined => {
  const paragraphs = [...elements(comment)].filter((element) => element.nodeName === 'w:p');
  return attribute(paragraphs[paragraphs.length - 1], 'w14:paraId');
};

/** What the extended part says of a comment: whose reply it is, and whether it is done. */
function readExtended(part: string | undefined): Map<string, { parent?: string | undefined; done: boolean }> {
  const found = new Map<string, { parent?: string | undefined; done: boolean }>();
  if (!part) return found;
  for (const element of elements(parseXml(part))) {
    const id = attribute(element, 'w15:paraId');
    const done = attribute(element, 'w15:done') === '1';
    if (id) found.set(id, { parent: attribute(element, 'w15:paraIdParent'), done });
  }
  return found;
}

/** Reads comments (ISO/IEC 29500-1, 17.13.4) and, where there is one, the published extension part with their replies. */
export function readComments(
  part: (name: string) => string | undefined,
  readers: Readers,
  definitions: Definitions,
): FileThreads {
  const threads: Thread[] = [];
  const ofComment = new Map<string, Thread>();
  const main = part('word/comments.xml');
  if (!main) return { threads, threadOf: () => undefined };
  const more = readExtended(part('word/commentsExtended.xml'));
  const personOf = (name: string, id: PersonId) => readers.person(name, id);
  const around: Around = { definitions, target: targetsIn(part('word/_rels/comments.xml.rels')), personOf };
  const ofParagraph = new Map<string, Thread>();
  for (const element of elements(parseXml(main))) {
    if (element.nodeName !== 'w:comment') continue;
    const { author, date } = readers.signed(element);
    const id = attribute(element, 'w:id') ?? '';
    const paragraph = lastParagraphId(element);
    const { parent, done } = more.get(paragraph ?? '') ?? { done: false };
    const { bare, quote = '', ...facts } = readThreadFacts(attribute(element, 'tp:threadFacts'), personOf);
    let thread = parent ? ofParagraph.get(parent) : undefined;
    if (!thread) {
      const change = attribute(element, 'tp:change');
      const about = isChangeId(change) ? { change } : {};
      const own = attribute(element, 'tp:thread') ?? `t${id}`;
      thread = { id: own, author, date, ...about, quote, resolved: done, ...facts, comments: [] };
      threads.push(thread);
    }
    if (!bare) {
      const { people: _, ...known } = readCommentFacts(attribute(element, 'tp:facts'), personOf);
      const comment: Comment = {
        id: attribute(element, 'tp:comment') ?? `k${id}`,
        author,
        date,
        body: bodyOf(element, around),
        ...known,
      };
      thread.comments.push(comment);
    }
    if (paragraph) ofParagraph.set(paragraph, thread);
    ofComment.set(id, thread);
  }
  return { threads, threadOf: (id) => ofComment.get(id) };
}
