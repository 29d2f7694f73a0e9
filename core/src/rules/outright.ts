import { Transform } from 'prosemirror-transform';
import type { PersonId } from '../manuscript/people.js';
import { atOnce } from '../manuscript/at-once.js';
import { alignApart, type Alignment } from '../row/align.js';
import { emit } from '../row/emit.js';
import { keep, planOf } from '../row/plan.js';
import { leftByOthers, rejoined } from './put-back.js';

/** How an edit is laid out, with those tokens paired, at every depth, that went and were put back. */
function joined(alignment: Alignment, author: PersonId): Alignment {
  const items = atOnce(rejoined(alignment.items, author)) ?? alignment.items;
  return {
    ...alignment,
    items: items.map((item) => (item.inside ? { ...item, inside: joined(item.inside, author) } : item)),
  };
}

/**
 * A batch that leads from the same text to the same and says nothing in passing: what it takes out and puts back stays
 * where it is.
 * @param author whose batch it is
 */
export function outright({ before, doc, mapping }: Transform, author: PersonId): Transform {
  const tr = new Transform(before);
  for (const { laidOut } of alignApart(before, doc, mapping, leftByOthers(author)).reverse()) {
    const part = joined(atOnce(laidOut()), author);
    emit(
      tr,
      planOf(part, (was, { node }) => keep(was, node.marks, node.attrs)),
    );
  }
  return tr;
}
