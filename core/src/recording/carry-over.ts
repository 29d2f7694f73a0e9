import type { Node } from 'prosemirror-model';
import {
  AllSelection,
  NodeSelection,
  TextSelection,
  type EditorState,
  type Selection,
  type Transaction,
} from 'prosemirror-state';
import type { Alignment } from './align.js';
import { length, positions, type Target } from './emit.js';
import { isProperty } from '../manuscript/schema.js';

/** An edit laid out: its items in the order of the targets made of them. */
export interface Laid extends Alignment {
  targets: readonly Target[];
}

/** Maps positions of the plainly edited document into the one that was emitted. */
function placing(laid: Laid): (pos: number) => { before: number; behind: number } {
  const { at, end } = positions(laid.before, laid.targets);
  const bySource = new Map(laid.targets.map((target, i) => [target.source, i]));
  // New targets have no source; they follow one another in the order of the tokens that came.
  const fresh = laid.targets.flatMap((target, i) => (target.source ? [] : [i]));
  const indexOf = new Map<number, number>();
  let n = 0;
  for (const { before, after } of laid.items) {
    if (!after || (after.kind === 'wall' && !before)) continue;
    indexOf.set(after.pos, before ? bySource.get(before)! : fresh[n++]!);
  }
  const row = laid.after.row.filter((token) => indexOf.has(token.pos));
  const gone = new Set(laid.items.filter((item) => !item.after).map((item) => item.before));
  const isGone = (target: Target | undefined) => !!target?.source && gone.has(target.source);
  const endOf = (i: number) => at[i]! + length(laid.targets[i]!);
  return (pos) => {
    if (pos < laid.after.from) return { before: pos, behind: pos };
    if (pos >= laid.after.to) return { before: pos + end + 1 - laid.after.to, behind: pos + end + 1 - laid.after.to };
    let k = row.length - 1;
    while (k >= 0 && row[k]!.pos + row[k]!.size > pos) k--;
    const index = k < 0 ? -1 : indexOf.get(row[k]!.pos)!;
    // What was deleted stands between here and the next token that is still there: one may stand before or behind it.
    let last = index;
    while (isGone(laid.targets[last + 1])) last++;
    const before = index < 0 ? laid.before.from - 1 : endOf(index);
    return { before, behind: last > index ? endOf(last) : before };
  };
}

/** Whether the edit removed what stood after the caret, as the Delete key does. */
function deletedForwards(state: EditorState, laid: Laid): boolean {
  const { empty, head } = state.selection;
  const first = laid.items.find((item) => item.before && !item.after)?.before;
  return empty && !!first && head <= first.pos + (first.kind === 'opening' ? -1 : 0);
}

function selectionIn(doc: Node, wanted: Selection, place: (pos: number) => number): Selection {
  if (wanted instanceof AllSelection) return new AllSelection(doc);
  const anchor = place(wanted.anchor);
  if (wanted instanceof NodeSelection && doc.nodeAt(anchor)) return NodeSelection.create(doc, anchor);
  return TextSelection.between(doc.resolve(anchor), doc.resolve(place(wanted.head)));
}

/** Gives `out` the selection, stored marks and meta of the edit it stands for. */
export function carryOver(state: EditorState, tr: Transaction, out: Transaction, laid: Laid): Transaction {
  const place = placing(laid);
  const forwards = deletedForwards(state, laid);
  out.setSelection(selectionIn(out.doc, tr.selection, (pos) => (forwards ? place(pos).behind : place(pos).before)));
  if (tr.storedMarks) out.setStoredMarks(tr.storedMarks.filter((mark) => isProperty(mark.type.name)));
  const { meta } = tr as unknown as { meta: Record<string, unknown> };
  for (const key of Object.keys(meta)) out.setMeta(key, meta[key]);
  out.setTime(tr.time);
  return tr.scrolledIntoView ? out.scrollIntoView() : out;
}
