import type { EditorState, Transaction } from 'prosemirror-state';
import { differences, propertiesOf, withProperty, type Bearing } from '../manuscript/properties.js';
import { align, type Alignment } from '../row/align.js';
import { carryOver, type Laid } from '../row/carry-over.js';
import { emit } from '../row/emit.js';
import { about, dropProperty, entriesOf } from '../row/entries.js';
import { bring, keep, type Target } from '../row/plan.js';
import { stripped } from '../row/stripped.js';
import { entryName, type Token } from '../row/row.js';

/** A kept token with its new properties; what was pending about those properties is settled by the pen. */
export function underThePen(before: Token, after: Token): Target {
  const type = entryName(before);
  let bearing: Bearing = { marks: before.node.marks, attrs: before.node.attrs };
  for (const { name, now } of differences(propertiesOf(before.node), propertiesOf(after.node))) {
    let { marks } = bearing;
    for (const entry of about(entriesOf(marks, type), name)) marks = dropProperty(marks, entry, name);
    bearing = withProperty({ marks, attrs: bearing.attrs }, name, now);
  }
  return keep(before, bearing.marks, bearing.attrs);
}

function plan({ before: region, after, items }: Alignment): Laid {
  const targets: Target[] = [];
  const inside = new Map<Token, Laid>();
  for (const { before, after: now, inside: changes } of items) {
    if (before && now) {
      const target = underThePen(before, now);
      if (changes) {
        const laid = plan(changes);
        inside.set(before, laid);
        target.inside = [laid];
      }
      targets.push(target);
    } else if (now) {
      const bare = stripped(now.node);
      targets.push(bring(now, bare, bare.marks));
    }
  }
  return { region, after, items, targets, inside };
}

/**
 * The edit `tr` in ink: it goes straight into the text. Review marks stay on the tokens that live on and never come with
 * new ones, whatever the editing command did to them.
 */
export function ink(state: EditorState, tr: Transaction): Transaction {
  if (!tr.docChanged) return tr;
  const laid = plan(align(state.doc, tr.doc, tr.mapping));
  const out = state.tr;
  emit(out, laid);
  return carryOver(state, tr, out, laid);
}
