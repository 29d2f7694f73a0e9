import { attribute, elements, parseXml, type Element } from '../xml.js';
import type { Comment, Thread } from '../../manuscript/manuscript.js';
import type { Readers } from './read.js';

/** Comments by their id in the file, as the threads they make together. */
export interface FileThreads {
  threads: Thread[];
  /** The thread that a comment of the file belongs to. */
  threadOf(commentId: string): Thread | undefined;
}

/** The text of a comment, a line a paragraph. */
function textOf(comment: Element): string {
  const lines: string[] = [];
  for (const paragraph of elements(comment)) {
    if (paragraph.nodeName !== 'w:p') continue;
    let line = '';
    const walk = (parent: Element) => {
      for (const element of elements(parent)) {
        if (element.nodeName === 'w:t') line += element.textContent ?? '';
        else if (element.nodeName === 'w:tab') line += '\t';
        else if (element.nodeName === 'w:br') line += '\n';
        else if (element.nodeName !== 'w:del') walk(element);
      }
    };
    walk(paragraph);
    lines.push(line);
  }
  return lines.join('\n');
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
export function readComments(part: string | undefined, extended: string | undefined, readers: Readers): FileThreads {
  const threads: Thread[] = [];
  const ofComment = new Map<string, Thread>();
  if (!part) return { threads, threadOf: () => undefined };
  const more = readExtended(extended);
  const ofParagraph = new Map<string, Thread>();
  for (const element of elements(parseXml(part))) {
    if (element.nodeName !== 'w:comment') continue;
    const { author, date } = readers.seal(element);
    const id = attribute(element, 'w:id') ?? '';
    const comment: Comment = { id: attribute(element, 'tp:comment') ?? `k${id}`, author, date, text: textOf(element) };
    const paragraph = lastParagraphId(element);
    const { parent, done } = more.get(paragraph ?? '') ?? { done: false };
    let thread = parent ? ofParagraph.get(parent) : undefined;
    if (thread) thread.comments.push(comment);
    else {
      const change = attribute(element, 'tp:change');
      const about = change ? { change } : {};
      const own = attribute(element, 'tp:thread') ?? `t${id}`;
      thread = { id: own, ...about, quote: '', resolved: done, comments: [comment] };
      threads.push(thread);
    }
    if (paragraph) ofParagraph.set(paragraph, thread);
    ofComment.set(id, thread);
  }
  return { threads, threadOf: (id) => ofComment.get(id) };
}
