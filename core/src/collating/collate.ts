import { Fragment, type Node } from 'prosemirror-model';
import { hasChanges } from '../changes/blocks.js';
import { changeIds } from '../changes/list.js';
import { sameManuscript } from '../manuscript/canonical.js';
import { isSound } from '../manuscript/mend.js';
import type { Signature, Stamp } from '../manuscript/signature.js';
import { Recording, stretches, type Gap } from '../recording/recording.js';
import { beforeReading, fairReading, resolve } from '../reading/readings.js';
import { layOut, type Alignment } from '../row/align.js';
import { isPendingDeletion, type Token } from '../row/row.js';
import { alive, among, apartFromTables, inStep, standing, thereBefore } from './alive.js';
import { withoutAnchors } from '../threads/anchors.js';
import { assembled } from './assembled.js';
import { laidOver } from './laid-over.js';
import { partsOf } from './paragraphs.js';
import { pendingSince, unmarked } from './pending.js';
import { wholeTexts, wholly } from './whole.js';
import { byContent } from './words.js';

/** How many letters a passage has at least that is found to have moved. */
const shortestMove = 20;

/** All gaps of an alignment, inside its tokens too. */
function* gapsOf({ items }: Alignment): Generator<Gap> {
  for (const part of stretches(items)) {
    if (!('kept' in part)) yield part;
    else if (part.kept.inside) yield* gapsOf(part.kept.inside);
  }
}

/** What a passage says, by which it is known again; null where it is too short, or more than words. */
function passage(tokens: readonly Token[]): string | null {
  const text = tokens.map(({ kind, text }) => (kind === 'opening' ? '\n' : kind === 'letter' ? text : '\0')).join('');
  const said = text.trim();
  return said.length < shortestMove || said.includes('\0') ? null : said;
}

/** Passages that went in one place and came in another, once each: both ends are one change. */
function moves(alignments: readonly Alignment[], sign: () => Signature): Map<Token, Signature> {
  const ends = { gone: new Map<string, Token[]>(), come: new Map<string, Token[]>() };
  for (const { gone, come } of alignments.flatMap((one) => [...gapsOf(one)])) {
    if (gone.length && come.length) continue;
    const side = gone.length ? 'gone' : 'come';
    const tokens = gone.length ? gone : come;
    const said = passage(tokens);
    if (said) ends[side].set(said, [...(ends[side].get(said) ?? []), tokens[0]!]);
  }
  const found = new Map<Token, Signature>();
  for (const [said, gone] of ends.gone) {
    const come = ends.come.get(said) ?? [];
    if (gone.length !== 1 || come.length !== 1) continue;
    const signature = sign();
    found.set(gone[0]!, signature).set(come[0]!, signature);
  }
  return found;
}

/** Words that are going already, and do not come again, stay as they are. */
function sparing({ items, ...regions }: Alignment): Alignment {
  if (regions.before.row.some(({ kind }) => kind === 'block')) return { items, ...regions };
  const spared = items.map((item) => {
    const { before, after, inside } = item;
    const isWord = before?.kind === 'letter' || before?.kind === 'atom';
    if (isWord && !after && isPendingDeletion(before)) return { before, after: before };
    return inside ? { ...item, inside: sparing(inside) } : item;
  });
  return { ...regions, items: spared };
}

/**
 * A text as it would be if somebody made another one of it in pencil: each difference is a change of its own.
 * @param now what is pending in it stays; its fair reading becomes `after`
 * @param after a text in which nothing is pending
 */
export function revised(now: Node, after: Node, stamp: Stamp): Node {
  const { author, date } = stamp;
  const sign = (): Signature => ({ change: stamp.newChange(), author, date });
  const pairing = hasChanges(now) ? apartFromTables(among(alive, standing)) : byContent;
  const parts = partsOf(now, after).map((part) => ({ ...part, alignment: sparing(layOut(part, pairing, wholly)) }));
  const moved = moves(
    parts.map(({ alignment }) => alignment),
    sign,
  );
  const recording = new Recording(now, stamp, new Map(), ({ gone, come }) => {
    const [first] = gone.length ? gone : come;
    return moved.get(first!) ?? sign();
  });
  let next = 0;
  const blocks = parts.map(({ first, end, alignment }) => {
    const same = now.children.slice(next, first);
    next = end;
    return [...same, ...assembled(recording.plan(alignment, false))];
  });
  return now.copy(Fragment.fromArray([...blocks, now.children.slice(next)].flat()));
}

/** What becomes of changes that are pending in texts which are laid together: accepted, rejected, or kept. */
export type Pending = 'fair' | 'before' | 'kept';

/**
 * Two texts as one with changes: all that the one has and the other has not is recorded, each difference as a change of
 * its own. With every change rejected it is `before`, with every change accepted `after` (its comments stay there).
 * @param stamp whose changes these are, and when they were made
 * @param pending what becomes of changes in the texts: `kept` leaves them as they are, and makes changes of what was
 *   done besides
 * @throws RangeError where something is pending in one of the texts, and it is not said what becomes of it
 */
export function collate(before: Node, after: Node, stamp: Stamp, pending?: Pending): Node {
  if (pending === 'kept') return laidTogether(before, after, stamp);
  const read = pending === 'fair' ? fairReading : pending === 'before' ? beforeReading : (doc: Node) => doc;
  const [one, other] = [read(before), read(after)];
  if (hasChanges(one) || hasChanges(other)) throw new RangeError('Something is pending in one of the texts.');
  return revised(one, other, stamp);
}

const all = () => true;
/** Changes of files may bear any date. */
const anyTime = '9999';

/**
 * What was pending before, what was recorded since, and what was done besides, each under its own name.
 * @param newChange for what changes that were there before have grown by
 */
export function laidTogether(before: Node, after: Node, stamp: Stamp, newChange = stamp.newChange): Node {
  const came = pendingSince(before, after, newChange);
  const unrecorded = revised(unmarked(before), beforeReading(came), stamp);
  const inAfter = thereBefore(all);
  const done = laidOver(unrecorded, wholeTexts(unrecorded, came), among(alive, inAfter, inStep), all);
  const doc = laidOver(before, wholeTexts(before, done), among(standing, inAfter, inStep), all);
  const wanted = withoutAnchors(fairReading(after));
  const comesOut = keepsAll(before, doc) && sameManuscript(withoutAnchors(fairReading(doc)), wanted);
  // Where tables have been taken apart it may not come out even; then all that differs is recorded under one name.
  return comesOut ? doc : revised(before, wanted, stamp);
}

/** A text as it was before changes that another one does not know. */
function withoutNew(doc: Node, before: Node): Node {
  const known = changeIds(before);
  return resolve(doc, (id) => (known.has(id) ? undefined : 'reject'));
}

/** Whether a text that others’ changes were laid over can be worked with, and has lost nothing by it. */
export const keepsAll = (now: Node, laid: Node): boolean =>
  isSound(laid, anyTime) &&
  sameManuscript(
    withoutNew(laid, now),
    resolve(now, () => undefined),
  );
