import type { Mark, Node } from 'prosemirror-model';
import { changeOf, isReview, type ChangeId } from '../manuscript/signature.js';
import { hasInside, isPendingDeletion, regionOf, type Region, type Token } from '../row/row.js';

/** Where differences between two drafts stand in the later one, which may have much pending of its own. */
export interface Difference {
  change: ChangeId;
  /** Its place in the later draft as it stands; a point where something has gone without a trace. */
  from: number;
  to: number;
  /** Who has proposed it there, where it is pending. */
  pending: { change: ChangeId; author: string }[];
}

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

/**
 * Where the changes of a collated text are in the text that its later side is the fair reading of.
 * @param collated see `collate`
 * @param text the later draft as it stands
 */
export function differencesIn(collated: Node, text: Node): Difference[] {
  const there = standingIn(text);
  const found = new Map<ChangeId, Difference>();
  const note = (marks: readonly Mark[], from: number, to: number, tokens: readonly Token[]) => {
    for (const mark of marks) {
      if (!isReview(mark)) continue;
      const change = changeOf(mark)!;
      const one = found.get(change) ?? { change, from, to, pending: [] };
      one.from = Math.min(one.from, from);
      one.to = Math.max(one.to, to);
      found.set(change, one);
      for (const pending of tokens.flatMap(({ node }) => node.marks).filter(isReview)) {
        const id = changeOf(pending)!;
        if (!one.pending.some((other) => other.change === id))
          one.pending.push({ change: id, author: pending.attrs.author as string });
      }
    }
  };
  standingIn(collated).forEach(({ token, going }, k) => {
    const here = there[Math.min(k, there.length - 1)]!;
    const before = there[k - 1]?.token;
    const pos = here.token?.pos ?? text.content.size;
    for (const gone of going) note(gone.node.marks, before ? before.pos + before.size : 0, pos, here.going);
    if (token && here.token) note(token.node.marks, pos, pos + here.token.size, [here.token]);
  });
  return [...found.values()];
}
