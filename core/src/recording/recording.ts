import { Mark, type Node } from 'prosemirror-model';
import { findChange, sameWords } from '../changes/list.js';
import { isMove } from '../changes/moves.js';
import { sweepOf } from '../changes/sweeps.js';
import { isFixed, signatureOf, type ChangeId, type Signature, type Stamp } from '../manuscript/signature.js';
import type { PersonId } from '../manuscript/people.js';
import {
  differences,
  propertiesOf,
  sameValue,
  withProperty,
  type Bearing,
  type Properties,
} from '../manuscript/properties.js';
import { hasStructureOfOthers, isTableNode, ownColumns } from '../manuscript/grid.js';
import { schema } from '../manuscript/schema.js';
import type { Alignment, Item } from '../row/align.js';
import { bring, keep, type Target } from '../row/plan.js';
import { between, isTable, ownOpening } from '../row/beside-table.js';
import { about, dropProperty, entriesOf, pushEntry, setValues } from '../row/entries.js';
import type { Laid } from '../row/carry-over.js';
import { stripped } from '../row/stripped.js';
import { deletionName, entryName, insertionName, markBy, type Token } from '../row/row.js';

/** A gap between two kept tokens: what went and what came there. */
export interface Gap {
  gone: Token[];
  come: Token[];
}

/** A token that lived on. */
interface Kept extends Pick<Item, 'inside'> {
  before: Token;
  after: Token;
}

/** The items as kept tokens and the gaps between them. */
export function* stretches(items: readonly Item[]): Generator<{ kept: Kept } | Gap> {
  let gap: Gap = { gone: [], come: [] };
  for (const item of items) {
    const { before, after } = item;
    if (before && after) {
      if (gap.gone.length || gap.come.length) {
        yield gap;
        gap = { gone: [], come: [] };
      }
      yield { kept: item as Kept };
    } else if (before) gap.gone.push(before);
    else if (after) gap.come.push(after);
  }
  if (gap.gone.length || gap.come.length) yield gap;
}

/**
 * Lays a kept token's new properties on it: plainly on one's own insertion, by updating one's own entry where it is the
 * topmost, else by a new entry.
 */
function reformat(
  before: Token,
  after: Token,
  { author, fixedUntil }: Stamp,
  own: boolean,
  signature: () => Signature,
): Target {
  if (before.node.attrs === after.node.attrs && Mark.sameSet(before.node.marks, after.node.marks)) return keep(before);
  const changed = differences(propertiesOf(before.node), propertiesOf(after.node));
  const type = entryName(before);
  const was: Properties = {};
  const now: Properties = {};
  let bearing: Bearing = { marks: before.node.marks, attrs: before.node.attrs };
  for (const difference of changed) {
    const { name } = difference;
    const [top, below] = about(entriesOf(bearing.marks, type), name).reverse();
    if (top?.author === author && !isFixed(top.mark, fixedUntil)) {
      // Of two who set it at the same time, the upper one found what was there before the lower.
      const was = below ? below.now[name] : top.was[name];
      const back = sameValue(was, difference.now);
      const { marks } = bearing;
      bearing = {
        attrs: bearing.attrs,
        marks: back ? dropProperty(marks, top, name) : setValues(marks, top, name, was, difference.now),
      };
    } else if (top || !own) {
      was[name] = difference.was;
      now[name] = difference.now;
    }
    bearing = withProperty(bearing, name, difference.now);
  }
  const marks = Object.keys(now).length ? pushEntry(bearing.marks, type, signature(), was, now) : bearing.marks;
  return keep(before, marks, bearing.attrs);
}

/** How many of the tokens at the start of `items` are kept inline tokens that the author would delete. */
function ownDeletedRun(items: readonly Item[], from: number, author: PersonId): number {
  let n = 0;
  for (;;) {
    const item = items[from + n];
    const inline = item?.before?.kind === 'letter' || item?.before?.kind === 'atom';
    if (!inline || !item.after || !markBy(item.before!.node.marks, 'deletion', author)) return n;
    n++;
  }
}

/**
 * Where new tokens come to stand before words the author has just deleted, they go behind them: old words first, then
 * what replaces them.
 */
function newBehindOld(items: readonly Item[], author: PersonId): readonly Item[] {
  if (!items.some(({ before }) => before && markBy(before.node.marks, 'deletion', author))) return items;
  const result: Item[] = [];
  for (let i = 0; i < items.length;) {
    const begin = i;
    while (items[i] && !items[i]!.before) i++;
    const come = items.slice(begin, i);
    const previous = result[result.length - 1]?.before;
    const midway = previous && markBy(previous.node.marks, deletionName(previous), author);
    const run =
      come.length && !midway && come.every(({ after }) => after!.kind === 'letter' || after!.kind === 'atom')
        ? ownDeletedRun(items, i, author)
        : 0;
    for (const item of [...items.slice(i, i + run), ...come]) result.push(item);
    i += run;
    if (!come.length) result.push(items[i++]!);
  }
  return result;
}

interface Pair {
  was: Token;
  now: Token;
}

/** Whether two tokens that lived on have come to look otherwise in the same way. */
function differAlike(one: Pair, other: Pair): boolean {
  const [a, b] = [one, other].map(({ was, now }) => differences(propertiesOf(was.node), propertiesOf(now.node)));
  return a!.length > 0 && sameValue(a, b);
}

const isOf = (mark: Mark, type: string, author: string) => mark.type.name === type && mark.attrs.author === author;
type Marked = Pick<Target, 'kind' | 'marks'>;
const markedAs = (token: Token): Marked => ({ kind: token.kind, marks: token.node.marks });

const hasOtherMarks = (token: Token, { change }: Signature) =>
  token.node.marks.some((mark) => /^opening/.test(mark.type.name) && mark.attrs.change !== change);

/**
 * One edit being recorded. All that is new in it, at every depth, is one change; unless it is told what each gap belongs
 * to, and then neighbours whose properties differ alike are one change too.
 */
export class Recording {
  #fresh: Signature | null = null;
  readonly #closed = new Map<ChangeId, boolean>();
  /** The table inside of which one is, and what of it is one's own. */
  #table: { own: boolean; columns: readonly boolean[] } | null = null;

  constructor(
    readonly doc: Node,
    readonly stamp: Stamp,
    /** What the edit takes away of words that someone inserted, by change. */
    readonly gone: ReadonlyMap<ChangeId, string>,
    /** Under which change a gap is recorded, where the gaps are not all one. */
    readonly apiece?: (gap: Gap) => Signature,
  ) {}

  /** Whether a change is a whole that typing beside or within it does not become part of: a move, a hit of a sweep. */
  isClosed(change: ChangeId): boolean {
    let closed = this.#closed.get(change);
    if (closed === undefined) this.#closed.set(change, (closed = sweepOf(change) !== null || isMove(this.doc, change)));
    return closed;
  }

  /** Whether edits of what a mark inserted are recorded on top of it: within a moved passage that does not go whole. */
  isRecordedOnTop(mark: Mark): boolean {
    const id = mark.attrs.change as ChangeId;
    if (this.stamp.apart && this.signature().change === id) return false; // the move itself is put right
    if (!this.isClosed(id) || sweepOf(id) !== null) return false;
    return !sameWords(this.gone.get(id) ?? '', findChange(this.doc, id)?.after ?? '');
  }

  isFixed = (mark: Mark): boolean => isFixed(mark, this.stamp.fixedUntil);

  /** The signature of what is new, made when first needed. */
  signature = (): Signature =>
    (this.#fresh ??= { change: this.stamp.newChange(), author: this.stamp.author, date: this.stamp.date });

  own(token: Marked | undefined, which: 'insertion' | 'deletion'): Mark | undefined {
    if (!token) return undefined;
    const type = which === 'insertion' ? insertionName(token) : deletionName(token);
    return token.marks.find((mark) => isOf(mark, type, this.stamp.author));
  }

  /**
   * Whether a token is the author's own pending one.
   * @param within whether it stands in a table or footnote that is: then all is, save what others inserted there
   * @param column of a cell, the column it stands in
   */
  isOwn(token: Token, within: boolean, column = -1): boolean {
    // A cell goes without a trace only with its whole column, or in a table that is all one's own.
    if (token.node.type === schema.nodes.table_cell && !this.#table?.own) return this.#table?.columns[column] ?? false;
    const type = insertionName(token);
    const mark = markBy(token.node.marks, type, this.stamp.author);
    if (mark) return !this.isFixed(mark) && !this.isRecordedOnTop(mark);
    return within && !token.node.marks.some((mark) => mark.type.name === type);
  }

  /** Whether what stands in a cell is one's own: its column is, or its row and nobody else has put the cell in. */
  isOwnCell({ node: { marks } }: Token, within: boolean): boolean {
    const mark = markBy(marks, 'insertion', this.stamp.author);
    if (mark) return !this.isFixed(mark) && !this.isRecordedOnTop(mark);
    return within && !marks.some(({ type }) => type === schema.marks.insertion);
  }

  /** One's own mark on a token, where an edit beside it goes on with its change. */
  open(token: Marked | undefined, which: 'insertion' | 'deletion'): Mark | undefined {
    const mark = this.own(token, which);
    return mark && !this.isFixed(mark) && !this.isClosed(mark.attrs.change as ChangeId) ? mark : undefined;
  }

  /** Under which change a gap is recorded: one that it continues, or the one of this edit. */
  signatureFor(gap: Gap, left: Target | undefined, next: Token | undefined): Signature {
    if (this.apiece) return this.apiece(gap);
    if (this.stamp.apart) return this.signature();
    const right = next && markedAs(next);
    const goes = gap.gone.some((token) => !this.own(markedAs(token), 'deletion'));
    const continued =
      (gap.come.length && (this.open(left, 'insertion') ?? this.open(right, 'insertion'))) ||
      (this.open(left, 'deletion') ?? (goes || !gap.come.length ? this.open(right, 'deletion') : undefined)) ||
      gap.gone.map((token) => this.open(markedAs(token), 'deletion')).find(Boolean);
    return (continued && signatureOf(continued)) || this.signature();
  }

  gap(
    gap: Gap,
    left: Target | undefined,
    next: Token | undefined,
    within: boolean,
    columnOf: (token: Token) => number,
  ): Target[] {
    let chosen: Signature | null = null;
    const signature = () => (chosen ??= this.signatureFor(gap, left, next));
    /** The marks of a token that is struck out; null where it really goes. */
    const struck = (token: Token, i: number): readonly Mark[] | null => {
      if (this.isOwn(token, within, columnOf(token))) return null;
      if (this.own(markedAs(token), 'deletion')) return token.node.marks;
      const table = token.kind === 'opening' && gap.gone[i - 1]?.kind === 'block' ? gap.gone[i - 1] : undefined;
      // The opening after a table that goes already goes with it, under the same change.
      const already = table && this.own(markedAs(table), 'deletion');
      const by = (already && signatureOf(already)) ?? signature();
      return schema.marks[deletionName(token)].create(by).addToSet(token.node.marks);
    };
    const targets: Target[] = [];
    let marks: readonly Mark[] | null = null;
    gap.gone.forEach((token, i) => {
      // The letters of a text are all treated alike.
      if (token.kind !== 'letter' || token.node !== gap.gone[i - 1]?.node) marks = struck(token, i);
      if (marks) targets.push(keep(token, marks));
    });
    // The opening after a table belongs to it, so what comes goes before a table whose opening lives on.
    const table = isTable(targets.at(-1)) ? targets.pop() : undefined;
    // Thousands of letters may come together: what is the same for many of them is made once.
    const marked = new Map<string, Map<readonly Mark[], readonly Mark[]>>();
    const inserted = (name: 'insertion' | 'openingInserted', plain: readonly Mark[]) => {
      const made = marked.get(name) ?? new Map<readonly Mark[], readonly Mark[]>();
      const marks = made.get(plain) ?? schema.marks[name].create(signature()).addToSet(plain);
      marked.set(name, made.set(plain, marks));
      return marks;
    };
    for (const token of gap.come) {
      const bare = stripped(token.node);
      targets.push(bring(token, bare, within ? bare.marks : inserted(insertionName(token), bare.marks)));
    }
    if (isTable(targets.at(-1)) && (table || (next && hasOtherMarks(next, signature())))) {
      targets.push(table ? between(signature()) : ownOpening(next!, within ? null : signature()));
    }
    return table ? [...targets, table] : targets;
  }

  /** What is done inside a table. It is all one's own only where nobody else has put in or struck out rows or cells. */
  planTable({ node }: Token, changes: Alignment, own: boolean): Laid {
    const isOwn = (mark: Mark) => mark.attrs.author === this.stamp.author && !this.isFixed(mark);
    this.#table = { own: own && !hasStructureOfOthers(node, isOwn), columns: ownColumns(node, isOwn) };
    const laid = this.plan(changes, own);
    this.#table = null;
    return laid;
  }

  plan({ before, after, items }: Alignment, within: boolean): Laid {
    const ordered = newBehindOld(items, this.stamp.author);
    // In a row cells come and go with their columns, whoever's the row is.
    const isRow = before.container.type === schema.nodes.table_row;
    const open = isRow ? !!this.#table?.own : within;
    const columnOf = (token: Token) => (isRow ? before.doc.resolve(token.pos).index() : -1);
    const targets: Target[] = [];
    const inside = new Map<Token, Laid>();
    const parts = [...stretches(ordered)];
    let last: { was: Token; now: Token; target: Target } | undefined;
    parts.forEach((part, i) => {
      if (!('kept' in part)) {
        const following = parts[i + 1];
        const next = following && 'kept' in following ? following.kept.before : undefined;
        for (const target of this.gap(part, targets.at(-1), next, open, columnOf)) targets.push(target);
        if (this.apiece) last = undefined;
        return;
      }
      const { before: was, after: now, inside: changes } = part.kept;
      const own = isRow ? this.isOwnCell(was, within) : this.isOwn(was, within);
      // The letters of a text are all treated alike, which is found out once.
      const alike = was.kind === 'letter' && last?.was.node === was.node && last.now.node === now.node ? last : null;
      if (this.apiece && !alike && !(last && differAlike(last, { was, now }))) this.#fresh = null;
      const target = alike
        ? keep(was, alike.target.marks, alike.target.attrs)
        : reformat(was, now, this.stamp, own, this.signature);
      last = { was, now, target };
      if (changes) {
        const laid = isTableNode(was.node) ? this.planTable(was, changes, own) : this.plan(changes, own);
        inside.set(was, laid);
        target.inside = [laid];
      }
      targets.push(target);
    });
    return { region: before, after, items: ordered, targets, inside };
  }
}
