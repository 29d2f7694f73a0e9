import { unnamed, type Comment, type Person, type Thread, type ThreadId } from '../../manuscript/manuscript.js';
import { escapeXml, tag } from '../xml.js';
import { namespaces } from './names.js';

export interface WrittenComment {
  comment: Comment;
  /** Its id in the file. */
  number: number;
}

/** The comments of all threads, numbered, and the two parts that hold them: the comments, and who answers whom. */
export function commentParts(threads: readonly Thread[], people: readonly Person[]) {
  const byId = new Map(people.map((person) => [person.id, person]));
  const numbered = new Map<ThreadId, WrittenComment[]>();
  let number = 0;
  let main = '';
  let extended = '';
  for (const thread of threads) {
    const written = thread.comments.map((comment) => ({ comment, number: number++ }));
    numbered.set(thread.id, written);
    written.forEach(({ comment, number: id }, k) => {
      const person = byId.get(comment.author);
      const lines = comment.text.split('\n');
      const paragraphs = lines.map((line, l) => {
        const last = l === lines.length - 1 ? { 'w14:paraId': paragraphId(id) } : {};
        const text = `<w:t xml:space="preserve">${escapeXml(line).replaceAll('&#9;', '\t')}</w:t>`;
        return tag('w:p', last, tag('w:r', {}, text));
      });
      main += tag(
        'w:comment',
        {
          'w:id': id,
          'w:author': person?.name ?? unnamed,
          'w:initials': person?.initials ?? '?',
          'w:date': comment.date,
          'tp:person': comment.author,
          'tp:comment': comment.id,
          'tp:thread': thread.id,
          'tp:change': thread.change,
        },
        paragraphs.join(''),
      );
      extended += tag('w15:commentEx', {
        'w15:paraId': paragraphId(id),
        'w15:paraIdParent': k ? paragraphId(written[0]!.number) : undefined,
        'w15:done': thread.resolved ? 1 : 0,
      });
    });
  }
  return {
    numbered,
    main: tag('w:comments', namespaces, main),
    extended: tag('w15:commentsEx', namespaces, extended),
  };
}

/** Eight hexadecimal digits below 80000000, as the extension part asks for. */
const paragraphId = (n: number) => (n + 1).toString(16).toUpperCase().padStart(8, '0');
