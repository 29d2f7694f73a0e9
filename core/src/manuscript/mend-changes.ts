import { Fragment, Mark, type Node } from 'prosemirror-model';
import type { Mender } from './mender.js';
import { signatureOf, type ChangeId, type Signature } from './signature.js';
import { canBear, isFirstMarked, isFit } from './sound.js';

/** Changes that contradict each other or the rules, made such as can be decided. */

/** The node with the marks that the function makes of it, at every depth; first openings stay unmarked. */
function withMarks(node: Node, replace: (node: Node) => readonly Mark[], first = true): Node {
  const children = node.children.map((child, i) => withMarks(child, replace, i === 0));
  const marks = replace(node);
  const kept = node.isTextblock && first ? marks.filter(({ type }) => !isOfOpening(type.name)) : marks;
  return node.isText ? node.mark(kept) : node.type.create(node.attrs, Fragment.fromArray(children), kept);
}
const isOfOpening = (name: string) => name === 'openingInserted' || name === 'openingDeleted';

/** Who the marks of a change name, the first one first, and the earliest of their dates. */
interface Found {
  authors: string[];
  date: string;
}

function foundChanges(doc: Node, now: string): Map<ChangeId, Found> {
  const changes = new Map<ChangeId, Found>();
  doc.descendants((node) => {
    for (const mark of node.marks) {
      const signature = signatureOf(mark);
      if (!signature) continue;
      const { change, author, date } = signature;
      const found = changes.get(change);
      if (!found) changes.set(change, { authors: [author], date });
      else {
        if (!found.authors.includes(author)) found.authors.push(author);
        if (date < found.date) found.date = date;
      }
    }
  });
  for (const found of changes.values()) if (found.date > now) found.date = now;
  return changes;
}

/** Gives every change one author and one date, not in the future, and leaves first openings unmarked. */
export function mendChanges(doc: Node, now: string, mender: Mender): Node {
  const changes = foundChanges(doc, now);
  const taken = new Set(changes.keys());
  const others = new Map<string, string>();
  const idFor = ({ change, author }: Signature, { authors }: Found): ChangeId => {
    const place = authors.indexOf(author);
    if (place === 0) return change;
    const key = `${change} ${author}`;
    let id = others.get(key);
    if (id === undefined) {
      for (let n = place; id === undefined || taken.has(id); n++) id = `${change.replace('.', '-').slice(0, 34)}-${n}`;
      taken.add(id);
      others.set(key, id);
      mender.note('a change in the names of two people, made two', 'changes');
    }
    return id;
  };
  const said = new Set<ChangeId>();
  const agreed = (mark: Mark): Mark => {
    const signature = signatureOf(mark);
    const found = signature && changes.get(signature.change);
    if (!signature || !found) return mark;
    const { change, date } = signature;
    if (date !== found.date && !said.has(change)) {
      said.add(change);
      mender.note(
        date > now ? 'a change dated in the future, dated now' : 'a change with two dates, given the earlier one',
        'changes',
      );
    }
    const id = idFor(signature, found);
    return id === change && date === found.date
      ? mark
      : mark.type.create({ ...mark.attrs, change: id, date: found.date });
  };
  const canStay = (mark: Mark, node: Node): boolean => {
    if (!canBear(node, mark)) mender.note('a mark that means nothing where it stood, left out', 'marks');
    else if (!isFit(node, mark)) mender.note('a change of a property that its words cannot have, left out', 'changes');
    else return true;
    return false;
  };
  const mended = withMarks(doc, (node) => {
    // Marks of one change that had two dates may be the same mark now.
    const staying = node.marks.filter((mark) => canStay(mark, node));
    return staying.reduce((marks, mark) => agreed(mark).addToSet(marks), Mark.none);
  });
  const n = firstOpeningsMarked(doc);
  for (let k = 0; k < n; k++) mender.note('a first paragraph that was to be inserted or deleted, kept', 'changes');
  return mended;
}

/** How many containers (document, cell, footnote) begin with an opening that is to be inserted or deleted. */
export function firstOpeningsMarked(doc: Node): number {
  let n = Number(isFirstMarked(doc));
  doc.descendants((node) => void (n += Number(isFirstMarked(node))));
  return n;
}
