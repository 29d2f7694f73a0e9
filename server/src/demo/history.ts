import type { Node } from 'prosemirror-model';
import { Transform, type Step } from 'prosemirror-transform';
import { become, beforeReading, decide, listChanges, schema } from '@tea-pencil/core';
import type { LoggedIntent } from '@tea-pencil/wire';

/** How a demo text came to be as it is: what was written in ink first, and then each change in pencil. */

export interface Deed {
  steps: readonly Step[];
  author: string;
  intent: LoggedIntent;
  at: Date;
}

/** What was written in ink: by whom, how many days before the newest change, and what it read before and after. */
export interface InkNote {
  by: string;
  daysAgo: number;
  before: string;
  after: string;
}

/** Where words stand in a text, within one paragraph. */
function placeOf(doc: Node, words: string): { from: number; to: number } {
  let from = -1;
  doc.descendants((node, pos) => {
    const found = node.isTextblock && from < 0 ? node.textContent.indexOf(words) : -1;
    if (found >= 0) from = pos + 1 + found;
    return from < 0;
  });
  if (from < 0) throw new RangeError(`“${words}” is not in this text.`);
  return { from, to: from + words.length };
}

function replaced(doc: Node, was: string, now: string): Transform {
  const { from, to } = placeOf(doc, was);
  const marks = doc.resolve(from + 1).marks();
  return new Transform(doc).replaceWith(from, to, schema.text(now, marks));
}

/** The anchors of a text on the same text without some of them. */
function fastened(bare: Node, doc: Node): Transform {
  const tr = new Transform(bare);
  doc.descendants((node, pos) => {
    for (const mark of node.marks)
      if (mark.type === schema.marks.anchor && node.isText) tr.addMark(pos, pos + node.nodeSize, mark);
  });
  return tr;
}

/** @param people the id of the person each letter stands for */
export function historyOf(
  doc: Node,
  ink: readonly InkNote[],
  people: Record<string, string>,
  lastEdit: Date,
): { first: Node; deeds: Deed[] } {
  const day = 24 * 3600_000;
  let now = beforeReading(doc);
  for (const { before, after } of [...ink].reverse()) now = replaced(now, after, before).doc;
  const first = now;
  const deeds: Deed[] = [];
  const done = (tr: Transform, deed: Omit<Deed, 'steps'>) => {
    deeds.push({ ...deed, steps: tr.steps });
    now = tr.doc;
  };
  for (const { by, daysAgo, before, after } of ink)
    done(replaced(now, before, after), {
      author: people[by]!,
      intent: 'ink',
      at: new Date(lastEdit.getTime() - daysAgo * day),
    });
  const changes = listChanges(doc).sort((a, b) => (a.date < b.date ? -1 : 1));
  changes.forEach(({ author, date }, i) => {
    const later = changes.slice(i + 1).map(({ id }) => id);
    const target = decide(new Transform(doc), later, 'reject').doc;
    done(become(new Transform(now), target), { author, intent: 'pencil', at: new Date(date) });
  });
  done(fastened(now, doc), { author: people.T!, intent: 'anchor', at: lastEdit });
  return { first, deeds: deeds.filter(({ steps }) => steps.length) };
}
