import type { Comment, Remark, RemarkLine, RemarkMark, RemarkPiece, Thread } from '../../manuscript/threads.js';
import { asText, isChangeId, isPersonId, linkOf } from '../../manuscript/values.js';
import { readCommentFacts, readThreadFacts } from '../kept/comment-facts.js';
import type { PageContext } from './context.js';
import { attr, elementsIn, findAll, isElement, isText, wordsIn, type PageElement } from './page.js';

/** The threads below a page of ours. */

type Look = { link: string | null; italic: boolean; bold: boolean };
const order = ['link', 'italic', 'bold'] as const;

function piecesOf(parent: PageElement, look: Look, context: PageContext, into: RemarkPiece[]): void {
  for (const node of parent.childNodes) {
    if (isText(node)) {
      const text = asText(node.value);
      const marks: RemarkMark[] = order
        .filter((type) => look[type])
        .map((type) => (type === 'link' ? { type, attrs: { href: look.link! } } : { type }));
      const last = into.at(-1);
      if (!text) continue;
      if (last?.type === 'text' && JSON.stringify(last.marks ?? []) === JSON.stringify(marks)) last.text += text;
      else into.push({ type: 'text', text, ...(marks.length && { marks }) });
    } else if (isElement(node)) {
      const mention = attr(node, 'data-mention');
      if (isPersonId(mention)) {
        into.push({ type: 'mention', attrs: { person: context.person(wordsIn(node).replace(/^@/, ''), mention) } });
        continue;
      }
      const href = linkOf(attr(node, 'href'));
      piecesOf(
        node,
        {
          link: node.tagName === 'a' ? (href ?? look.link) : look.link,
          italic: look.italic || node.tagName === 'em',
          bold: look.bold || node.tagName === 'strong',
        },
        context,
        into,
      );
    }
  }
}

function lineOf(element: PageElement, list: RemarkLine['attrs']['list'], context: PageContext): RemarkLine {
  const content: RemarkPiece[] = [];
  piecesOf(element, { link: null, italic: false, bold: false }, context, content);
  return { type: 'line', attrs: { list }, ...(content.length && { content }) };
}

function remarkOf(said: PageElement | undefined, context: PageContext): Remark {
  const lines = (said ? elementsIn(said) : []).flatMap((one): RemarkLine[] => {
    if (one.tagName === 'p') return [lineOf(one, null, context)];
    const list = one.tagName === 'ol' ? 'number' : 'bullet';
    return elementsIn(one).map((item) => lineOf(item, list, context));
  });
  return { type: 'doc', content: lines.length ? lines : [{ type: 'line', attrs: { list: null } }] };
}

function placeOf(told: string | undefined): Thread['place'] {
  const [, from, to] = /^\[(\d{1,9}),(\d{1,9})\]$/.exec(told ?? '') ?? [];
  return from === undefined ? undefined : { version: 0, from: Number(from), to: Number(to) };
}

/** Threads of a page of ours; another page has none. */
export function readThreads(body: PageElement, context: PageContext): Thread[] {
  if (!context.isOwn) return [];
  return findAll(body, (one) => one.tagName === 'aside' && attr(one, 'data-thread') !== undefined).map((aside, i) => {
    const { author, date } = context.signed(aside);
    const id = attr(aside, 'data-thread');
    const change = attr(aside, 'data-change');
    const { bare: _, quote = '', ...facts } = readThreadFacts(attr(aside, 'data-facts'), context.person);
    const place = placeOf(attr(aside, 'data-place'));
    const comments = elementsIn(aside)
      .filter(({ tagName }) => tagName === 'article')
      .map((article, n): Comment => {
        const { people: __, ...known } = readCommentFacts(attr(article, 'data-facts'), context.person);
        const said = elementsIn(article).find((one) => attr(one, 'class') === 'said');
        const own = attr(article, 'data-comment');
        const by = context.signed(article);
        return { id: isPersonId(own) ? own : `k${i}-${n}`, ...by, body: remarkOf(said, context), ...known };
      });
    return {
      id: isPersonId(id) ? id : `t${i}`,
      author,
      date,
      ...(isChangeId(change) && { change }),
      ...(place && { place }),
      quote,
      resolved: attr(aside, 'data-resolved') === 'true',
      ...facts,
      comments,
    };
  });
}
