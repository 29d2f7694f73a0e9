import { Fragment, Slice, type Mark } from 'prosemirror-model';
import { TextSelection, type EditorState, type Transaction } from 'prosemirror-state';
import { ReplaceStep } from 'prosemirror-transform';
import { wordsOf } from '../changes/list.js';
import { isFixed, type ChangeId, type Stamp } from '../manuscript/signature.js';
import { hasSpans, hasStructureOfOthers, isTableNode } from '../manuscript/grid.js';
import { schema } from '../manuscript/schema.js';
import { fairReading } from '../reading/readings.js';
import { align, type Alignment } from '../row/align.js';
import { emit } from '../row/emit.js';
import { carryOver } from '../row/carry-over.js';
import { insertionName, markBy } from '../row/row.js';
import { Recording } from './recording.js';

/** Whether an edit changes the grid of a table: its rows, its cells, or how far these span. */
const changesGrid = ({ items }: Alignment): boolean =>
  items.some(
    ({ before, after, inside }) =>
      !before ||
      !after ||
      before.node.attrs.colspan !== after.node.attrs.colspan ||
      before.node.attrs.rowspan !== after.node.attrs.rowspan ||
      (inside && before.node.type === schema.nodes.table_row && changesGrid(inside)),
  );

const plainOpening = () => schema.nodes.paragraph.create();

/**
 * Where cells span, a row or a column cannot be told from its neighbours once one of both may come or go: the table as it
 * becomes is put in, and the table as it was struck out, as one change.
 * @returns whether there was such a table
 */
function replaceSpanned(tr: Transaction, { items }: Alignment, { author, fixedUntil }: Stamp): boolean {
  let replaced = false;
  for (const { before, after, inside } of items) {
    if (!before || !after || !inside || !isTableNode(before.node) || !isTableNode(after.node)) continue;
    if ((!hasSpans(before.node) && !hasSpans(after.node)) || !changesGrid(inside)) continue;
    const isOwn = (mark: Mark) => mark.attrs.author === author && !isFixed(mark, fixedUntil);
    const inserted = markBy(before.node.marks, 'insertion', author);
    if (inserted && isOwn(inserted) && !hasStructureOfOthers(before.node, isOwn)) continue;
    const { anchor, head } = tr.selection;
    const { pos } = after;
    // What comes is new, and as it would read: nothing of others is pending in it.
    const alone = tr.doc.type.create(null, [plainOpening(), after.node.mark([]), plainOpening()]);
    const made = fairReading(alone).child(1);
    tr.step(new ReplaceStep(pos, pos + after.size, new Slice(Fragment.from(made), 0, 0)));
    const place = (at: number) => tr.doc.resolve(Math.min(at, pos + made.nodeSize - 3));
    tr.setSelection(TextSelection.between(place(anchor), place(head)));
    replaced = true;
  }
  return replaced;
}

/** The words that an edit takes away from pending insertions, by change. */
function insertedGone({ items }: Alignment, gone = new Map<ChangeId, string>()): Map<ChangeId, string> {
  for (const { before, after, inside } of items) {
    if (inside) insertedGone(inside, gone);
    if (!before || after) continue;
    const mark = before.node.marks.find(({ type }) => type.name === insertionName(before));
    const id = mark?.attrs.change as ChangeId | undefined;
    if (id) gone.set(id, (gone.get(id) ?? '') + (before.text || wordsOf(before.node)));
  }
  return gone;
}

/**
 * The edit `tr`, recorded in pencil: nothing that others wrote goes or changes, all of it is marked as the stamp's
 * author's.
 * @param state the state `tr` was made from
 * @param tr any edit of it; selection, stored marks and meta are carried over
 * @returns a transaction from the same state
 */
export function record(state: EditorState, tr: Transaction, stamp: Stamp): Transaction {
  if (!tr.docChanged) return tr;
  let alignment = align(state.doc, tr.doc, tr.mapping);
  if (replaceSpanned(tr, alignment, stamp)) alignment = align(state.doc, tr.doc, tr.mapping);
  const recording = new Recording(state.doc, stamp, insertedGone(alignment));
  const laid = recording.plan(alignment, false);
  const out = state.tr;
  emit(out, laid);
  return carryOver(state, tr, out, laid);
}
