import { unnamed, type Person, type PersonId } from '../../manuscript/people.js';
import { type Comment, type Thread, type ThreadId } from '../../manuscript/threads.js';
import type { RemarkLine, RemarkPiece } from '../../manuscript/threads.js';
import { escapeXml, tag } from '../xml.js';
import { commentFacts, threadFacts } from './comment-facts.js';
import { namespaces } from './names.js';

/** Where the lists of comments begin to be counted, so that they never meet those of the text. */
const firstList = 10_001;

type Names = (id: PersonId) => string;

/** Writes what comments say, and collects the links and lists that stand in parts of their own. */
class RemarkWriter {
  readonly links: string[] = [];
  readonly lists: { kind: 'bullet' | 'number'; id: number }[] = [];
  constructor(readonly nameOf: Names) {}

  paragraphs(lines: readonly RemarkLine[]): string[] {
    let inList: string | null = null;
    return lines.map(({ attrs, content = [] }) => {
      const { list } = attrs;
      if (list && list !== inList) this.lists.push({ kind: list, id: firstList + this.lists.length });
      inList = list;
      const numbers = tag('w:ilvl', { 'w:val': 0 }) + tag('w:numId', { 'w:val': this.lists.at(-1)?.id ?? 0 });
      return (
        (list ? tag('w:pPr', {}, tag('w:numPr', {}, numbers)) : '') + content.map((piece) => this.#run(piece)).join('')
      );
    });
  }

  #run(piece: RemarkPiece): string {
    if (piece.type === 'mention') {
      const { person } = piece.attrs;
      return tag('w:r', { 'tp:mention': person }, words(`@${this.nameOf(person)}`));
    }
    const marks = piece.marks ?? [];
    const has = (name: string) => marks.some(({ type }) => type === name);
    const look = (has('bold') ? tag('w:b') : '') + (has('italic') ? tag('w:i') : '');
    const run = tag('w:r', {}, (look ? tag('w:rPr', {}, look) : '') + words(piece.text));
    const href = marks.find(({ type }) => type === 'link')?.attrs?.href;
    return href === undefined ? run : tag('w:hyperlink', { 'r:id': `rLink${this.links.push(href)}` }, run);
  }
}

const words = (text: string): string =>
  text
    .split('\t')
    .map((part) => (part ? `<w:t xml:space="preserve">${escapeXml(part)}</w:t>` : ''))
    .join(tag('w:tab'));

/** What only we know of a comment, in words for other programs; we leave these paragraphs out when we read them. */
function asides(
  { query, proposal, deleted }: Pick<Comment, 'query' | 'proposal' | 'deleted'>,
  nameOf: Names,
): string[] {
  return [
    ...(deleted ? ['(This comment was deleted.)'] : []),
    ...(query ? [`(Asks ${nameOf(query.to)} for an answer${query.settled ? '; answered' : ''}.)`] : []),
    ...(proposal ? [`Proposed wording: ${proposal.words || '(none)'}`] : []),
  ];
}

/** A comment as the file knows it; one that is none stands for a highlight that says nothing. */
interface Written {
  author: PersonId;
  date: string;
  comment: Comment | null;
}

/** The comments of all threads, numbered, and the parts that hold them: the comments, and who answers whom. */
export function commentParts(threads: readonly Thread[], people: readonly Person[]) {
  const byId = new Map(people.map((person) => [person.id, person]));
  const nameOf: Names = (id) => byId.get(id)?.name ?? unnamed;
  const writer = new RemarkWriter(nameOf);
  const numbered = new Map<ThreadId, number[]>();
  let number = 0;
  let main = '';
  let extended = '';
  for (const thread of threads) {
    // What is only for oneself is in no file.
    if (thread.toSelf) continue;
    const bare: Written = { author: thread.author, date: thread.date, comment: null };
    const said = thread.comments.map((comment): Written => ({ author: comment.author, date: comment.date, comment }));
    const written = thread.tint ? [bare, ...said] : said;
    const numbers = written.map(() => number++);
    numbered.set(thread.id, numbers);
    written.forEach(({ author, date, comment }, k) => {
      const id = numbers[k]!;
      const person = byId.get(author);
      const own = comment && !comment.deleted ? writer.paragraphs(comment.body.content) : [];
      const beside = comment ? asides(comment, nameOf) : ['(Highlighted.)'];
      const all = [...own.map((content) => ({ content, aside: false })), ...beside.map(asideOf)];
      const paragraphs = all.map(({ content, aside }, i) =>
        tag(
          'w:p',
          {
            'w14:paraId': i === all.length - 1 ? paragraphId(id) : undefined,
            'tp:aside': aside ? 1 : undefined,
          },
          content,
        ),
      );
      main += tag(
        'w:comment',
        {
          'w:id': id,
          'w:author': person?.name ?? unnamed,
          'w:initials': person?.initials ?? '?',
          'w:date': date,
          'tp:person': author,
          'tp:comment': comment?.id,
          'tp:thread': thread.id,
          'tp:change': thread.change,
          'tp:facts': comment ? commentFacts(comment, nameOf) : undefined,
          'tp:threadFacts': k ? undefined : threadFacts(thread, !comment, nameOf),
        },
        paragraphs.join(''),
      );
      extended += tag('w15:commentEx', {
        'w15:paraId': paragraphId(id),
        'w15:paraIdParent': k ? paragraphId(numbers[0]!) : undefined,
        'w15:done': thread.resolved ? 1 : 0,
      });
    });
  }
  return {
    numbered,
    links: writer.links,
    lists: writer.lists,
    main: tag('w:comments', namespaces, main),
    extended: tag('w15:commentsEx', namespaces, extended),
  };
}

const asideOf = (text: string) => ({ content: tag('w:r', {}, words(text)), aside: true });

/** Eight hexadecimal digits below 80000000, as the extension part asks for. */
const paragraphId = (n: number) => (n + 1).toString(16).toUpperCase().padStart(8, '0');
