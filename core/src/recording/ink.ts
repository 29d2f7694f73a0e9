import type { EditorState, Transaction } from 'prosemirror-state';
import { differences, propertiesOf, withProperty, type Look } from '../manuscript/properties.js';
import { align } from './align.js';
import { carryOver } from './carry-over.js';
import { emit, keep, type Target } from './emit.js';
import { about, dropProperty, entriesOf } from './entries.js';
import { plainMarks } from './record.js';
import { entryName, type Token } from './row.js';

/** A kept token with its new properties; what was pending about those properties is settled by the pen. */
function rewrite(before: Token, after: Token): Target {
  const type = entryName(before);
  let look: Look = { marks: before.node.marks, attrs: before.node.attrs };
  for (const { name, now } of differences(propertiesOf(before.node), propertiesOf(after.node))) {
    let { marks } = look;
    for (const entry of about(entriesOf(marks, type), name)) marks = dropProperty(marks, entry, name);
    look = withProperty({ marks, attrs: look.attrs }, name, now);
  }
  return keep(before, look.marks, look.attrs);
}

/**
 * The edit `tr` in ink: it goes straight into the text. Review marks stay on the tokens that live on and never come with
 * new ones, whatever the editing command did to them.
 */
export function ink(state: EditorState, tr: Transaction): Transaction {
  if (!tr.docChanged) return tr;
  const alignment = align(state.doc, tr.doc, tr.mapping);
  const targets: Target[] = [];
  for (const { before, after } of alignment.items) {
    if (before && after) targets.push(rewrite(before, after));
    else if (before?.fixed) targets.push(keep(before));
    else if (after && after.kind !== 'wall') {
      const { kind, text, node } = after;
      targets.push({ kind, text, node, source: null, marks: plainMarks(node.marks), attrs: node.attrs });
    }
  }
  const out = state.tr;
  emit(out, alignment.before, targets);
  return carryOver(state, tr, out, { ...alignment, targets });
}
