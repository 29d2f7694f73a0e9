import type { Node } from 'prosemirror-model';
import {
  AllSelection,
  NodeSelection,
  TextSelection,
  type EditorState,
  type Selection,
  type Transaction,
} from 'prosemirror-state';
import type { Item } from './align.js';
import { length, positions, type Plan, type Target } from './plan.js';
import { hasInside, type Region, type Token } from './row.js';
import { isProperty } from '../manuscript/schema.js';

/** A plan with the edit it was made for. The items stand in the order of the targets made of them. */
export interface Laid extends Plan {
  after: Region;
  items: readonly Item[];
  inside: Map<Token, Laid>;
}

/** Where something between two tokens lands may lie before or behind deleted ones that stand there. */
interface Landing {
  before: number;
  behind: number;
}

const shifted = ({ before, behind }: Landing, by: number): Landing => ({ before: before + by, behind: behind + by });

/** Where a position of the plainly edited document lies once the plan is carried out. */
function landing(laid: Laid, pos: number): Landing {
  const { after, items, targets, region } = laid;
  const { at, end } = positions(laid);
  if (pos < after.from) return { before: pos, behind: pos };
  if (pos >= after.to) return { before: pos + end - after.to, behind: pos + end - after.to };

  const bySource = new Map(targets.map((target, i) => [target.source, i]));
  const fresh = targets.flatMap((target, i) => (target.source ? [] : [i]));
  const gone = new Set<Token | null>();
  let index = -1;
  let n = 0;
  let passed = -1;
  for (const { before, after: now } of items) {
    if (!now) {
      gone.add(before!);
      continue;
    }
    const target = before ? bySource.get(before) : fresh[n++];
    if (target === undefined) continue;
    const inner = before && laid.inside.get(before);
    if (inner && pos > now.pos && pos < now.pos + now.size) {
      return shifted(landing(inner, pos), at[target]! - before.pos);
    }
    if (!inner && hasInside(now) && pos > now.pos && pos < now.pos + now.size) {
      return { before: at[target]! + pos - now.pos, behind: at[target]! + pos - now.pos };
    }
    if (now.pos + now.size <= pos && now.pos > passed) {
      passed = now.pos;
      index = target;
    }
  }
  const endOf = (i: number) => at[i]! + length(targets[i]!);
  const isGone = (target: Target | undefined) => !!target?.source && gone.has(target.source);
  let last = index;
  while (isGone(targets[last + 1])) last++;
  const before = index < 0 ? region.start.pos : endOf(index);
  return { before, behind: last > index ? endOf(last) : before };
}

/** Whether the edit removed what stood after the caret, as the Delete key does. */
function deletedForwards(state: EditorState, laid: Laid): boolean {
  const { empty, head } = state.selection;
  for (const { before, after, inside } of laid.items) {
    if (inside && laid.inside.has(before!)) return deletedForwards(state, laid.inside.get(before!)!);
    if (before && !after) return empty && head <= before.pos + (before.kind === 'opening' ? -1 : 0);
  }
  return false;
}

function selectionIn(doc: Node, wanted: Selection, at: (pos: number) => number): Selection {
  if (wanted instanceof AllSelection) return new AllSelection(doc);
  const clipped = (pos: number) => doc.resolve(Math.max(0, Math.min(at(pos), doc.content.size)));
  const anchor = clipped(wanted.anchor);
  if (wanted instanceof TextSelection && wanted.empty) return TextSelection.near(anchor, -1);
  if (wanted instanceof NodeSelection && anchor.nodeAfter && NodeSelection.isSelectable(anchor.nodeAfter)) {
    return new NodeSelection(anchor);
  }
  return TextSelection.between(anchor, clipped(wanted.head));
}

/** Gives `out` the selection, stored marks and meta of the edit it stands for. */
export function carryOver(state: EditorState, tr: Transaction, out: Transaction, laid: Laid): Transaction {
  const side = deletedForwards(state, laid) ? 'behind' : 'before';
  out.setSelection(selectionIn(out.doc, tr.selection, (pos) => landing(laid, pos)[side]));
  if (tr.storedMarks) out.setStoredMarks(tr.storedMarks.filter((mark) => isProperty(mark.type.name)));
  const { meta } = tr as unknown as { meta: Record<string, unknown> };
  for (const key of Object.keys(meta)) out.setMeta(key, meta[key]);
  out.setTime(tr.time);
  return tr.scrolledIntoView ? out.scrollIntoView() : out;
}
