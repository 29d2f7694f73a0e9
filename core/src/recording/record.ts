import type { Mark, Node } from 'prosemirror-model';
import type { EditorState, Transaction } from 'prosemirror-state';
import type { ChangeId, PersonId, Stamp } from '../manuscript/manuscript.js';
import {
  differences,
  propertiesOf,
  sameValue,
  withProperty,
  type Look,
  type Properties,
} from '../manuscript/properties.js';
import { isProperty, schema } from '../manuscript/schema.js';
import { align, type Item } from './align.js';
import { emit, keep, type Target } from './emit.js';
import { about, dropProperty, entriesOf, pushEntry, setNow } from './entries.js';
import { carryOver } from './carry-over.js';
import { deletionName, entryName, insertionName, markBy, type Token } from './row.js';

/** What all marks of one change have in common. */
interface Seal {
  change: ChangeId;
  author: PersonId;
  date: string;
}

const sealOf = (mark: Mark): Seal => ({
  change: mark.attrs.change as string,
  author: mark.attrs.author as string,
  date: mark.attrs.date as string,
});

/** Property marks only: what someone types or pastes brings no review marks and no anchors with it. */
export const plainMarks = (marks: readonly Mark[]): readonly Mark[] =>
  marks.filter((mark) => isProperty(mark.type.name));

/** A gap between two kept tokens: what went and what came there. */
interface Gap {
  gone: Token[];
  come: Token[];
}

/** The items as kept tokens and the gaps between them. */
function* stretches(items: readonly Item[]): Generator<{ kept: [Token, Token] } | Gap> {
  let gap: Gap = { gone: [], come: [] };
  for (const { before, after } of items) {
    if (before && after) {
      if (gap.gone.length || gap.come.length) yield gap;
      gap = { gone: [], come: [] };
      yield { kept: [before, after] };
    } else if (before) gap.gone.push(before);
    else gap.come.push(after!);
  }
  if (gap.gone.length || gap.come.length) yield gap;
}

/**
 * Lays a kept token's new properties on it: plainly on one's own insertion, by updating one's own entry where it is the
 * topmost, else by a new entry.
 */
function reformat(before: Token, after: Token, author: PersonId, seal: () => Seal): Target {
  const changed = differences(propertiesOf(before.node), propertiesOf(after.node));
  const type = entryName(before);
  const own = markBy(before.node.marks, insertionName(before), author);
  const was: Properties = {};
  const now: Properties = {};
  let look: Look = { marks: before.node.marks, attrs: before.node.attrs };
  for (const difference of changed) {
    const { name } = difference;
    const stack = about(entriesOf(look.marks, type), name);
    const top = stack[stack.length - 1];
    if (top?.author === author) {
      const back = sameValue(top.was[name], difference.now);
      look = {
        attrs: look.attrs,
        marks: back ? dropProperty(look.marks, top, name) : setNow(look.marks, top, name, difference.now),
      };
    } else if (top || !own) {
      was[name] = difference.was;
      now[name] = difference.now;
    }
    look = withProperty(look, name, difference.now);
  }
  const marks = Object.keys(now).length ? pushEntry(look.marks, type, seal(), was, now) : look.marks;
  return keep(before, marks, look.attrs);
}

/** How many of the tokens at the start of `items` are kept inline tokens that the author would delete. */
function ownDeletedRun(items: readonly Item[], from: number, author: PersonId): number {
  let n = 0;
  for (;;) {
    const token = items[from + n]?.before;
    if (
      !items[from + n]?.after ||
      !token ||
      token.kind === 'opening' ||
      !markBy(token.node.marks, deletionName(token), author)
    )
      return n;
    n++;
  }
}

/**
 * Where new tokens come to stand before words the author has just deleted, they go behind them: old words first, then
 * what replaces them.
 */
function newBehindOld(items: readonly Item[], author: PersonId): Item[] {
  const result: Item[] = [];
  for (let i = 0; i < items.length;) {
    const begin = i;
    while (items[i] && !items[i]!.before) i++;
    const come = items.slice(begin, i);
    const previous = result[result.length - 1]?.before;
    const midway = previous && markBy(previous.node.marks, deletionName(previous), author);
    const run =
      come.length && !midway && come.every((item) => item.after!.kind !== 'opening')
        ? ownDeletedRun(items, i, author)
        : 0;
    result.push(...items.slice(i, i + run), ...come);
    i += run;
    if (!come.length) result.push(items[i++]!);
  }
  return result;
}

class Recording {
  readonly targets: Target[] = [];
  #fresh: Seal | null = null;

  constructor(readonly stamp: Stamp) {}

  /** The seal of what is new in this edit: one change for all of it, begun when first needed. */
  seal = (): Seal =>
    (this.#fresh ??= { change: this.stamp.newChange(), author: this.stamp.author, date: this.stamp.date });

  own(
    token: { kind: Token['kind']; marks: readonly Mark[] } | undefined,
    which: 'insertion' | 'deletion',
  ): Mark | undefined {
    if (!token) return undefined;
    return markBy(token.marks, which === 'insertion' ? insertionName(token) : deletionName(token), this.stamp.author);
  }

  /** Under which change a gap is recorded: one that it continues, or a new one. */
  sealFor(gap: Gap, next: Token | undefined): Seal {
    const left = this.targets[this.targets.length - 1];
    const right = next && { kind: next.kind, marks: next.node.marks };
    const goes = gap.gone.some((token) => !this.own({ kind: token.kind, marks: token.node.marks }, 'deletion'));
    const continued =
      (gap.come.length && (this.own(left, 'insertion') ?? this.own(right, 'insertion'))) ||
      (this.own(left, 'deletion') ?? (goes || !gap.come.length ? this.own(right, 'deletion') : undefined)) ||
      gap.gone.map((token) => this.own({ kind: token.kind, marks: token.node.marks }, 'deletion')).find(Boolean);
    return continued ? sealOf(continued) : this.seal();
  }

  addGap(gap: Gap, next: Token | undefined): void {
    let chosen: Seal | null = null;
    const seal = () => (chosen ??= this.sealFor(gap, next));
    const gone: Target[] = [];
    for (const token of gap.gone) {
      if (token.fixed) gone.push(keep(token));
      else if (markBy(token.node.marks, insertionName(token), this.stamp.author)) continue;
      else if (markBy(token.node.marks, deletionName(token), this.stamp.author)) gone.push(keep(token));
      else gone.push(keep(token, schema.marks[deletionName(token)]!.create(seal()).addToSet(token.node.marks)));
    }
    const come: Target[] = gap.come
      .filter((token) => token.kind !== 'wall')
      .map((token) => ({
        kind: token.kind,
        text: token.text,
        node: stripped(token.node),
        source: null,
        marks: schema.marks[insertionName(token)]!.create(seal()).addToSet(plainMarks(token.node.marks)),
        attrs: token.node.attrs,
      }));
    this.targets.push(...gone, ...come);
  }
}

/** A node without anything review marks or anchors inside it; for atoms that hold text of their own. */
const stripped = (node: Node): Node => (node.isText || node.isTextblock ? node : node.mark(plainMarks(node.marks)));

/**
 * The edit `tr`, recorded in pencil: nothing that others wrote goes or changes, all of it is marked as the stamp's
 * author's.
 * @param state the state `tr` was made from
 * @param tr any edit of it; selection, stored marks and meta are carried over
 * @returns a transaction from the same state
 */
export function record(state: EditorState, tr: Transaction, stamp: Stamp): Transaction {
  if (!tr.docChanged) return tr;
  const { before, after, items } = align(state.doc, tr.doc, tr.mapping);
  const ordered = newBehindOld(items, stamp.author);
  const recording = new Recording(stamp);
  const parts = [...stretches(ordered)];
  parts.forEach((part, i) => {
    if ('kept' in part) {
      recording.targets.push(reformat(part.kept[0], part.kept[1], stamp.author, recording.seal));
    } else {
      const next = parts[i + 1];
      recording.addGap(part, next && 'kept' in next ? next.kept[0] : undefined);
    }
  });
  const out = state.tr;
  emit(out, before, recording.targets);
  return carryOver(state, tr, out, { before, after, items: ordered, targets: recording.targets });
}
