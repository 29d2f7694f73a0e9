import { Transform } from 'prosemirror-transform';
import type { PersonId } from '../manuscript/people.js';
import { atOnce } from '../manuscript/at-once.js';
import { alignApart, type Alignment } from '../row/align.js';
import { emit } from '../row/emit.js';
import { keep, planOf, type Target } from '../row/plan.js';
import type { Token } from '../row/row.js';
import { underThePen } from '../recording/ink.js';
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
export const outright = (batch: Transform, author: PersonId): Transform =>
  laidAnew(batch, author, (was, { node }) => keep(was, node.marks, node.attrs));

/**
 * The same of a batch in ink that was carried over what others did meanwhile: what it says of words that live on is laid
 * upon them as they are now. What they had pending then, and others have decided, does not come back with it.
 */
export const outrightInInk = (batch: Transform, author: PersonId): Transform => laidAnew(batch, author, underThePen);

function laidAnew(
  { before, doc, mapping }: Transform,
  author: PersonId,
  kept: (was: Token, now: Token) => Target,
): Transform {
  const tr = new Transform(before);
  for (const { laidOut } of alignApart(before, doc, mapping, leftByOthers(author)).reverse()) {
    const part = joined(atOnce(laidOut()), author);
    emit(tr, planOf(part, kept));
  }
  return tr;
}
