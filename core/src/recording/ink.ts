import type { EditorState, Transaction } from 'prosemirror-state';
import { differences, propertiesOf, withProperty, type Look } from '../manuscript/properties.js';
import { align, type Alignment } from './align.js';
import { carryOver, type Laid } from './carry-over.js';
import { emit } from './emit.js';
import { about, dropProperty, entriesOf } from './entries.js';
import { bring, keep, type Target } from './plan.js';
import { stripped } from './record.js';
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

function plan({ before: region, after, items }: Alignment): Laid {
  const targets: Target[] = [];
  const inside = new Map<Token, Laid>();
  for (const { before, after: now, inside: changes } of items) {
    if (before && now) {
      const target = rewrite(before, now);
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
