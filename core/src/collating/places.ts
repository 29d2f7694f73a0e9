import type { Mark, Node } from 'prosemirror-model';
import { changeOf, isReview, type ChangeId } from '../manuscript/signature.js';
import { hasInside, isPendingDeletion, regionOf, type Region, type Token } from '../row/row.js';

/** Where differences between two drafts stand in the later one, which may have much pending of its own. */
export interface Difference {
  change: ChangeId;
  /** Its place in the later draft as it stands; a point where something has gone without a trace. */
  from: number;
  to: number;
  /** What is pending there, and by whom. */
  pending: Pending[];
  /** What is pending right beside words that have gone: a whole sentence may have been replaced there. */
  near: Pending[];
}
interface Pending {
  change: ChangeId;
  author: string;
}

const pendingOn = (tokens: readonly Token[]): Pending[] =>
  tokens
    .flatMap(({ node }) => node.marks)
    .filter(isReview)
    .map((mark) => ({ change: changeOf(mark)!, author: mark.attrs.author as string }));

/** All tokens of a text, those inside others too, in order. */
function* tokensOf({ doc, row }: Region): Generator<Token> {
  for (const token of row) {
    yield token;
    if (!hasInside(token)) continue;
    const { node, pos } = token;
    yield* tokensOf(regionOf(doc, node, pos + 1, 0, node.childCount));
  }
}
const wholeOf = (doc: Node): Region => regionOf(doc, doc, 0, 0, doc.childCount);

/** What is there in the fair reading, each with what is going right before it. */
interface Standing {
  token: Token | null;
  going: Token[];
}

function standingIn(doc: Node): Standing[] {
  const found: Standing[] = [];
  let going: Token[] = [];
  for (const token of tokensOf(wholeOf(doc))) {
    if (isPendingDeletion(token)) going.push(token);
    else {
      found.push({ token, going });
      going = [];
    }
  }
  return [...found, { token: null, going }];
}

const wordsOf = (tokens: readonly Token[]) => tokens.map(({ text }) => text || '\0').join('');

/**
 * What is going a little further on or back, and reads the same: of “the tide, the” the first “the ” may be gone, or the
 * last “ the”.
 */
function slid(there: readonly Standing[], k: number, gone: readonly Token[]): readonly Token[] {
  const twice = wordsOf(gone).repeat(2);
  for (let far = 1; far <= Math.min(gone.length, 400); far++)
    for (const at of [k - far, k + far]) {
      const { going = [] } = there[at] ?? {};
      if (going.length === gone.length && twice.includes(wordsOf(going))) return going;
    }
  return [];
}

/**
 * Where the changes of a collated text are in the text that its later side is the fair reading of.
 * @param collated see `collate`
 * @param text the later draft as it stands
 */
export function differencesIn(collated: Node, text: Node): Difference[] {
  const there = standingIn(text);
  const found = new Map<ChangeId, Difference>();
  const note = (
    marks: readonly Mark[],
    from: number,
    to: number,
    on: readonly Token[],
    near: readonly Token[] = [],
  ) => {
    for (const mark of marks) {
      if (!isReview(mark)) continue;
      const change = changeOf(mark)!;
      const one = found.get(change) ?? { change, from, to, pending: [], near: [] };
      one.from = Math.min(one.from, from);
      one.to = Math.max(one.to, to);
      found.set(change, one);
      one.pending.push(...pendingOn(on));
      one.near.push(...pendingOn(near));
    }
  };
  /** The word that stands nearest on one side. */
  const nextTo = (k: number, step: 1 | -1): Token[] => {
    const [one, other] = [there[k]?.token, there[k + step]?.token];
    return (one?.text.trim() === '' ? [one, other] : [one]).filter((token) => !!token);
  };
  standingIn(collated).forEach(({ token, going }, k) => {
    const here = there[Math.min(k, there.length - 1)]!;
    const before = there[k - 1]?.token;
    const pos = here.token?.pos ?? text.content.size;
    if (going.length) {
      const gone = here.going.length ? here.going : slid(there, k, going);
      const near = [...nextTo(k - 1, -1), ...nextTo(k, 1)];
      for (const { node } of going) note(node.marks, before ? before.pos + before.size : 0, pos, gone, near);
    }
    if (token && here.token) note(token.node.marks, pos, pos + here.token.size, [here.token]);
  });
  return [...found.values()];
}
