import type { Node } from 'prosemirror-model';
import { changeIds, listChanges, type Change } from '../changes/list.js';
import type { ChangeId, Stamp } from '../manuscript/signature.js';
import { fairReading } from '../reading/readings.js';
import { among, inStep, standing, thereBefore } from './alive.js';
import { collate, keepsAll, laidTogether, revised } from './collate.js';
import { laidOver } from './laid-over.js';
import { partsOf } from './paragraphs.js';
import { wholeTexts } from './whole.js';

/** A change of one side that stands where a change of the other does. */
export interface Meeting {
  ours: ChangeId;
  theirs: ChangeId;
}

export interface Merged {
  doc: Node;
  /** Where both sides changed the same words, or put words in at the same place; both are kept. */
  meetings: Meeting[];
}

/** Changes of two sides that touch, each pair once. */
function meetingsOf(doc: Node, isOurs: (id: ChangeId) => boolean, isTheirs: (id: ChangeId) => boolean): Meeting[] {
  const pieces = listChanges(doc)
    .flatMap((change) => change.ranges.map(({ from, to }) => ({ id: change.id, from, to })))
    .filter(({ id }) => isOurs(id) || isTheirs(id))
    .sort((a, b) => a.from - b.from);
  const met = new Map<string, Meeting>();
  let open: typeof pieces = [];
  for (const piece of pieces) {
    open = open.filter(({ to }) => to >= piece.from);
    for (const other of open) {
      if (isOurs(piece.id) === isOurs(other.id)) continue;
      const [ours, theirs] = isOurs(piece.id) ? [piece.id, other.id] : [other.id, piece.id];
      met.set(`${ours} ${theirs}`, { ours, theirs });
    }
    open.push(piece);
  }
  return [...met.values()];
}

/**
 * Two revisions of one draft as one text that holds the changes of both, each as made against that draft. What is
 * recorded in them stays under its authors’ names; what was done besides is recorded under the stamps’.
 */
export function merged(draft: Node, ours: Node, theirs: Node, stamps: { ours: Stamp; theirs: Stamp }): Merged {
  const known = changeIds(draft);
  const isNew = (id: ChangeId) => !known.has(id);
  const [one, other] = [collate(draft, ours, stamps.ours, 'kept'), collate(draft, theirs, stamps.theirs, 'kept')];
  const [mine, others] = [changeIds(one), changeIds(other)];
  const inDraft = thereBefore(isNew);
  const isTheirs = (id: ChangeId) => isNew(id) && others.has(id) && !mine.has(id);
  const laid = laidOver(one, wholeTexts(one, other), among(inDraft, inDraft, inStep), isTheirs);
  // Where tables were taken apart on both sides it may not come out; then what differs is recorded under their name.
  const doc = keepsAll(one, laid) ? laid : revised(one, fairReading(theirs), stamps.theirs);
  return { doc, meetings: meetingsOf(doc, (id) => isNew(id) && mine.has(id), isTheirs) };
}

/** What has come back of a draft that was sent out. */
export interface Returned extends Merged {
  /** What was done without being recorded. */
  unrecorded: Change[];
  /** What was recorded. */
  recorded: Change[];
  /** What went along and is pending there no more: somebody has decided it. Here it waits as it did. */
  decided: ChangeId[];
}

/**
 * A text with what was done to a draft of it that was sent out and has come back. What was recorded stays under its
 * authors’ names; what was done besides is recorded under the stamp’s. What has come to the text meanwhile stays.
 * @param came the text that came back; changes in it that went with the draft have the ids they had (see `knownAgain`)
 */
export function returned(now: Node, draft: Node, came: Node, stamp: Stamp): Returned {
  const before = [changeIds(draft), changeIds(now)];
  const made = new Set<ChangeId>();
  const newChange = () => {
    const id = stamp.newChange();
    made.add(id);
    return id;
  };
  const isNew = (id: ChangeId) => !before.some((known) => known.has(id));
  const there = changeIds(came);
  const back = laidTogether(draft, came, { ...stamp, newChange }, stamp.newChange);
  const laid = now.eq(draft) ? back : laidOver(now, partsOf(now, back), among(standing, thereBefore(isNew)), isNew);
  const doc = keepsAll(now, laid) ? laid : revised(now, fairReading(came), { ...stamp, newChange });
  const changes = listChanges(doc).filter(({ id }) => isNew(id));
  return {
    doc,
    meetings: meetingsOf(doc, (id) => before[1]!.has(id) && !before[0]!.has(id), isNew),
    unrecorded: changes.filter(({ id }) => made.has(id)),
    recorded: changes.filter(({ id }) => !made.has(id)),
    decided: [...before[0]!.keys()].filter((id) => !there.has(id)),
  };
}
