import { Fragment, type Mark, type Node } from 'prosemirror-model';
import { hasChanges } from '../changes/blocks.js';
import { changeIds } from '../changes/list.js';
import { changeOf, isReview, type ChangeId } from '../manuscript/signature.js';
import { layOut, neverSame, type Alignment } from '../row/align.js';
import { keep, type Plan } from '../row/plan.js';
import { insertionName, type Token } from '../row/row.js';
import { among, byEnds, refined, standing, type IsThere } from './alive.js';
import { assembled } from './assembled.js';
import { partsOf } from './paragraphs.js';
import { wholly } from './whole.js';
import type { Also } from './units.js';
import { byContent, pairedBy } from './words.js';

/** Changes that two texts have in common. */

/** A node with other review marks; null takes one off. Where nothing is pending it stays the same node. */
export function withReviewMarks(node: Node, made: (mark: Mark) => Mark | null): Node {
  if (!node.isText && node.type.name !== 'doc' && !hasChanges(node)) return node;
  const marks = node.marks.flatMap((mark) => (isReview(mark) ? (made(mark) ?? []) : mark));
  if (node.isText) return node.mark(marks);
  const content = node.children.map((child) => withReviewMarks(child, made));
  return node.type.create(node.attrs, Fragment.fromArray(content), marks);
}

/** A text whose changes are none: all that they take away and all that they bring stands in it. */
export const unmarked = (doc: Node): Node => withReviewMarks(doc, () => null);

/** By what a change is the same in two texts: what a mark of either side says of it. */
export interface Key {
  before(mark: Mark): string;
  after(mark: Mark): string;
}
const byId: Key = { before: (mark) => changeOf(mark)!, after: (mark) => changeOf(mark)! };

export const isSame = (key: Key, was: Mark, now: Mark) =>
  was.type === now.type && isReview(was) && key.before(was) === key.after(now);

const insertionOf = (token: Pick<Token, 'kind' | 'node'>) =>
  token.node.marks.find(({ type }) => type.name === insertionName(token));

/**
 * What of two texts is the same as it stands, whatever is pending: first what the same changes have put in, then by what
 * it says. What has been put in since by other changes is in neither.
 */
export function besides(before: Node, after: Node, key: Key) {
  const known = new Set<string>();
  before.descendants(({ marks }) => marks.forEach((mark) => isReview(mark) && known.add(key.before(mark))));
  const putIn = (side: keyof Key) => (token: Parameters<Also>[0]) => {
    const mark = insertionOf(token);
    return mark ? key[side](mark) : '';
  };
  const wasThere: IsThere = (token) => {
    const mark = insertionOf(token);
    return !mark || known.has(key.after(mark));
  };
  const byWords = refined(pairedBy(putIn('before'), putIn('after')), byContent);
  const pairing = among(standing, wasThere, refined(byWords, byEnds));
  const opened = (side: keyof Key) => (block: Node) =>
    putIn(side)({ kind: block.isTextblock ? 'opening' : 'block', node: block });
  const also = { before: opened('before'), after: opened('after') };
  return partsOf(before, after, also).map((part) => ({ ...part, alignment: layOut(part, pairing, wholly, neverSame) }));
}

/** What came, without the marks that it bore before already. */
function bare({ after: region, items }: Alignment): Plan {
  const targets = items.flatMap(({ before, after, inside }) => {
    if (!after) return [];
    if (!before) return [keep(after)];
    const { marks } = after.node;
    const had = (mark: Mark) => isReview(mark) && before.node.marks.some((one) => isSame(byId, one, mark));
    const target = keep(after, marks.some(had) ? marks.filter((mark) => !had(mark)) : marks);
    if (inside) target.inside = [bare(inside)];
    // What is the same all through is not laid out.
    return [inside || after.kind === 'letter' ? target : { ...target, node: unmarked(after.node) }];
  });
  return { region, targets };
}

/**
 * The text after, made anew.
 * @param planned what becomes of a part
 * @param same what becomes of a block that is the same in both texts
 */
export function madeAnew(
  after: Node,
  parts: ReturnType<typeof besides>,
  planned: (alignment: Alignment) => Plan,
  same: (block: Node) => Node,
): Node {
  let next = 0;
  const blocks = parts.flatMap(({ alignment, firstAfter, endAfter }) => {
    const between = after.children.slice(next, firstAfter).map(same);
    next = endAfter;
    return [...between, ...assembled(planned(alignment))];
  });
  return after.copy(Fragment.fromArray([...blocks, ...after.children.slice(next).map(same)]));
}

/**
 * The text after, where only what has become pending since the text before is pending. Where a change of the text before
 * has grown, what it has grown by is a change of its own.
 */
export function pendingSince(before: Node, after: Node, newChange: () => ChangeId): Node {
  const came = madeAnew(after, besides(before, after, byId), bare, unmarked);
  const known = changeIds(before);
  const grown = new Map<ChangeId, ChangeId>();
  return withReviewMarks(came, (mark) => {
    const id = changeOf(mark)!;
    if (!known.has(id)) return mark;
    if (!grown.has(id)) grown.set(id, newChange());
    return mark.type.create({ ...mark.attrs, change: grown.get(id) });
  });
}
