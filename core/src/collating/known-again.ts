import type { Mark, Node } from 'prosemirror-model';
import { changeIds } from '../changes/list.js';
import type { PersonId } from '../manuscript/people.js';
import { isProperty, schema } from '../manuscript/schema.js';
import { changeOf, isReview } from '../manuscript/signature.js';
import type { Alignment } from '../row/align.js';
import { keep, type Plan, type Target } from '../row/plan.js';
import type { Token } from '../row/row.js';
import { besides, isSame, madeAnew, withReviewMarks, type Key } from './pending.js';

/** A text that has been away in a file, and what it went with. */

/** How much of a text the kind of file could hold: how it looks, or its words alone. */
export type Held = 'looks' | 'words';

const { carriedLook, anchor } = schema.marks;
const isLook = ({ type }: Mark, held: Held) => (held === 'words' ? isProperty(type.name) : type === carriedLook);

/** A mark as the token had it when it went; one that it did not have stays the file’s. */
function known(mark: Mark, before: Token, key: Key): Mark {
  const same = isReview(mark) && before.node.marks.find((was) => isSame(key, was, mark));
  return same ? mark.type.create({ ...mark.attrs, change: changeOf(same), author: same.attrs.author }) : mark;
}

/** A token with what no file can say of it: whose its changes are, and where it stands in the file of the text it went from. */
function settled(before: Token | undefined, after: Token, key: Key, held: Held): Target {
  const own = after.node.marks
    .filter((mark) => mark.type !== anchor && (!isLook(mark, held) || (!before && mark.type !== carriedLook)))
    .map((mark) => (before ? known(mark, before, key) : mark));
  const looks = (before?.node.marks ?? []).filter((mark) => isLook(mark, held));
  const marks = looks.reduce<readonly Mark[]>((set, mark) => mark.addToSet(set), own);
  const { attrs } = after.node;
  if (held === 'words' && before) return keep(after, marks, before.node.attrs);
  const none = after.node.type === schema.nodes.carried_thing ? 'none' : null;
  const carried = before ? (before.node.attrs.carried as unknown) : none;
  return keep(after, marks, 'carried' in attrs ? { ...attrs, carried } : attrs);
}

const settling =
  (key: Key, held: Held) =>
  ({ after: region, items }: Alignment): Plan => {
    const targets = items.flatMap(({ before, after, inside }) => {
      if (!after) return [];
      const target = settled(before, after, key, held);
      if (inside) target.inside = [settling(key, held)(inside)];
      return [target];
    });
    return { region, targets };
  };

/** Who the people are of whom a file speaks. */
export interface Named {
  /** Who of those who wrote in the text as it went somebody looks like. */
  looksLike(person: PersonId): PersonId;
  /** In whose name what somebody has recorded since stands: a file cannot say that it was one of the people here. */
  is(person: PersonId): PersonId;
}

/**
 * A text that has been away, with what it went with: its changes have the ids and authors they had, which files do not
 * know, and what the file could not hold is as it was. A change is the same where author and date are, and only on the words
 * that it was on: what a file adds to somebody’s change is not theirs.
 */
export function knownAgain(doc: Node, asItWent: Node, { looksLike, is }: Named, held: Held = 'looks'): Node {
  const key: Key = {
    before: ({ attrs }) => `${attrs.author} ${attrs.date}`,
    after: ({ attrs }) => `${looksLike(attrs.author as PersonId)} ${attrs.date}`,
  };
  const here = madeAnew(doc, besides(asItWent, doc, key), settling(key, held), (block) => block);
  const went = changeIds(asItWent);
  return withReviewMarks(here, (mark) =>
    went.has(changeOf(mark)!) ? mark : mark.type.create({ ...mark.attrs, author: is(mark.attrs.author as PersonId) }),
  );
}
