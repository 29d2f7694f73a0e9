import { Node, Schema, type DOMOutputSpec, type Mark } from 'prosemirror-model';
import type { PersonId } from '../manuscript/people.js';
import type { Remark, RemarkLine, RemarkPiece } from '../manuscript/threads.js';
import { isPersonId, isSafeAddress } from '../manuscript/values.js';

/**
 * What a comment says: lines of words, some of them bold, italic or a link, some of them items of a list, with people
 * mentioned between them. Kept as the JSON of a node of `remarkSchema`, so that it can be sent and stored as it is.
 */

/** The most letters a comment may have, and the most lines. */
const longestRemark = 10_000;
const mostLines = 500;

/** An attribute whose values keep to a rule. */
const ruled = (rule: (value: unknown) => boolean) => ({
  validate: (value: unknown) => {
    if (!rule(value)) throw new RangeError('No such value');
  },
});

const lists: readonly unknown[] = [null, 'bullet', 'number'];

/** The schema of comments. A person's name is not in it; whoever shows a mention knows the people. */
export const remarkSchema: Schema = new Schema({
  nodes: {
    doc: { content: 'line+' },
    line: {
      content: '(text | mention)*',
      attrs: { list: { default: null, ...ruled((value) => lists.includes(value)) } },
      toDOM: ({ attrs }): DOMOutputSpec => ['p', { class: attrs.list ? `remark-${attrs.list}` : undefined }, 0],
      parseDOM: [
        { tag: 'ol > li', attrs: { list: 'number' } },
        { tag: 'li', attrs: { list: 'bullet' } },
        { tag: 'p.remark-bullet', attrs: { list: 'bullet' } },
        { tag: 'p.remark-number', attrs: { list: 'number' } },
        { tag: 'p' },
        { tag: 'div' },
      ],
    },
    mention: {
      inline: true,
      atom: true,
      attrs: { person: ruled(isPersonId) },
      toDOM: ({ attrs }): DOMOutputSpec => ['span', { class: 'mention', 'data-person': attrs.person }],
      parseDOM: [{ tag: 'span[data-person]', getAttrs: (element) => ({ person: element.dataset.person }) }],
    },
    text: {},
  },
  marks: {
    link: {
      attrs: { href: ruled((value) => typeof value === 'string' && value.length <= 2000 && isSafeAddress(value)) },
      inclusive: false,
      toDOM: (mark: Mark): DOMOutputSpec => ['a', { href: mark.attrs.href, rel: 'noopener noreferrer nofollow' }, 0],
      parseDOM: [
        {
          tag: 'a[href]',
          getAttrs: (element) => {
            const href = element.getAttribute('href') ?? '';
            return isSafeAddress(href) ? { href } : false;
          },
        },
      ],
    },
    italic: { toDOM: () => ['em', 0], parseDOM: [{ tag: 'em' }, { tag: 'i' }] },
    bold: { toDOM: () => ['strong', 0], parseDOM: [{ tag: 'strong' }, { tag: 'b' }] },
  },
});

/** A comment of plain words, a line a paragraph. */
export const remarkOf = (text: string): Remark => ({
  type: 'doc',
  content: text.split('\n').map((line) => ({
    type: 'line',
    attrs: { list: null },
    ...(line && { content: [{ type: 'text', text: line }] }),
  })),
});

const piecesOf = ({ content }: Remark): RemarkPiece[] => content.flatMap((line) => line.content ?? []);

/** The people a comment mentions, each once. */
export const mentionsIn = (remark: Remark): PersonId[] => [
  ...new Set(piecesOf(remark).flatMap((piece) => (piece.type === 'mention' ? [piece.attrs.person] : []))),
];

/** The numbers of lines that are items of a numbered list; of the others 0. */
export function itemNumbers({ content }: Remark): number[] {
  let n = 0;
  return content.map(({ attrs }) => (n = attrs.list === 'number' ? n + 1 : 0));
}

/** Its words without their looks, a line a line; a mention as `@` and the name. */
export function remarkText(remark: Remark, nameOf: (person: PersonId) => string): string {
  const numbers = itemNumbers(remark);
  const line = ({ attrs, content = [] }: RemarkLine, i: number) =>
    (attrs.list === 'bullet' ? '• ' : attrs.list === 'number' ? `${numbers[i]}. ` : '') +
    content.map((piece) => (piece.type === 'text' ? piece.text : `@${nameOf(piece.attrs.person)}`)).join('');
  return remark.content.map(line).join('\n');
}

/** Whether it says nothing. */
export const isBlank = (remark: Remark): boolean =>
  piecesOf(remark).every((piece) => piece.type === 'text' && !piece.text.trim());

/** Why something is no comment. */
export class UnreadableRemark extends Error {}

/**
 * A comment from data of unknown origin, in the one shape it is kept in.
 * @param mayBeBlank whether something else speaks for it, as a wording it proposes does
 * @throws UnreadableRemark with a sentence that says why it is none: shapeless, empty, too long
 */
export function readRemark(json: unknown, mayBeBlank = false): Remark {
  let node: Node;
  try {
    node = Node.fromJSON(remarkSchema, json);
    node.check();
  } catch {
    throw new UnreadableRemark('This comment cannot be understood: it holds something that no comment can.');
  }
  const remark = node.toJSON() as Remark;
  if (node.type !== remarkSchema.topNodeType) throw new UnreadableRemark('This comment cannot be understood.');
  if (isBlank(remark) && !mayBeBlank) throw new UnreadableRemark('The comment is empty. Write what you want to say.');
  if (node.textContent.length > longestRemark || node.childCount > mostLines)
    throw new UnreadableRemark(
      `The comment is too long: at most ${longestRemark.toLocaleString('en')} letters and ${mostLines} lines are kept.`,
    );
  return remark;
}
