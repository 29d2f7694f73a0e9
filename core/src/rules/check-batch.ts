import { Fragment, type Mark, type Node } from 'prosemirror-model';
import type { Mapping, Step } from 'prosemirror-transform';
import { AttrStep, DocAttrStep, ReplaceAroundStep } from 'prosemirror-transform';
import { atOnce } from '../manuscript/at-once.js';
import { sameManuscript } from '../manuscript/canonical.js';
import { isFixed, isReview, toDate, type ChangeId } from '../manuscript/signature.js';
import type { PersonId } from '../manuscript/people.js';
import { schema } from '../manuscript/schema.js';
import { evened } from '../manuscript/grid.js';
import { limitWords, overLimit } from '../manuscript/limits.js';
import { harmOf, harmWords } from '../manuscript/sound.js';
import { withoutAuthor } from '../reading/readings.js';
import { alignApart, type Alignment, type Item } from '../row/align.js';
import type { Apart } from '../row/touched.js';
import { isMisstated } from '../row/entries.js';
import { entryName, type Token } from '../row/row.js';
import type { Passed } from './passed.js';
import { bringsForeignWords } from './passing.js';
import { bearsMarksOfOthers, key, leftByOthers, marksOfOthers, marksWithin, rejoined } from './put-back.js';

/** What a batch of steps is meant to be. Anchors are set by the server itself. */
export type Intent = 'pencil' | 'ink';

/** Who sends a batch, and what is known about change ids. */
export interface Sender {
  author: PersonId;
  /** The moment the server received it, ISO 8601 in UTC. */
  now: string;
  /** Author and date of a change id that has been seen in this manuscript, pending or decided. */
  known(change: ChangeId): { author: PersonId; date: string } | undefined;
  /** Up to this date the sender's own changes are fixed as well, as under a seal that forbids withdrawing. */
  fixedUntil?: string;
}

/** How long ago a new change may have been made: someone may have written without a connection. */
export const offlineAllowance = 30 * 24 * 3600 * 1000;
/** How far a client's clock may be ahead. */
export const clockAllowance = 2 * 60 * 1000;

/** Up to which date changes are fixed by what happened at a moment: a clock that is ahead does not keep one out. */
export const fixedBy = (moment: Date): string => toDate(new Date(moment.getTime() + clockAllowance));

const anchorsOf = (token: Token) => token.node.marks.filter(({ type }) => type === schema.marks.anchor).map(key);
/** Whether a token that stays has other anchors than before: threads are not fastened, nor let loose, by editing. */
const isRefastened = (before: Token, after: Token) =>
  anchorsOf(before).sort().join() !== anchorsOf(after).sort().join();
const newWithMarks = 'New words bear somebody else’s marks.';
const misstated = 'A change does not say what has become of its words.';
const inPassing = 'Words stand under somebody else’s name in passing.';
const fixed = 'This manuscript is sealed: what has been proposed stays as it is until the seal is lifted.';
const refastened = 'The anchors of comments cannot be changed this way.';

/** The sender of one batch, all marks of which are judged together. */
interface OfBatch extends Sender {
  /** Author and date of the changes that are new in the batch, by the first of their marks. */
  fresh: Map<ChangeId, { author: PersonId; date: string }>;
}

/** Whether a mark of one's own bears an id, author and date that the rules allow. */
function checkMark(mark: Mark, sender: OfBatch): string | null {
  const { change, author, date } = mark.attrs as { change: ChangeId; author: PersonId; date: string };
  if (author !== sender.author) return 'A change bears somebody else’s name.';
  const seen = sender.known(change) ?? sender.fresh.get(change);
  if (seen) return seen.author === author && seen.date === date ? null : 'A change id is already in use.';
  const made = Date.parse(date);
  const now = Date.parse(sender.now);
  if (!(made <= now + clockAllowance)) return 'A change is dated in the future.';
  if (made < now - offlineAllowance) return 'A change is dated too long ago.';
  sender.fresh.set(change, { author, date });
  return null;
}

type Part = Alignment & { apart: Apart };
/** What is looked at step by step, so that others need not wait for all of it; what is wrong, or null. */
type Check = Generator<undefined, string | null>;

/** The blocks of one side as a document of their own, so that only they are compared; with their neighbours, if those matter. */
function excerpt({ doc, from, to }: Alignment['before'], apart: Apart): Node {
  const first = doc.resolve(from).index(0) - Number(!apart.before);
  const end = doc.resolve(to).indexAfter(0) + Number(!apart.behind);
  return doc.copy(Fragment.fromArray(doc.children.slice(Math.max(0, first), end)));
}

/** The marks that would insert or delete an opening. */
const openingMarks = (token: Token) => token.node.marks.filter((mark) => /^opening/.test(mark.type.name));

/** An opening that stays bears no such marks but those it had, and those of the table before it, with which it comes and goes. */
function checkOpening(token: Token, before: Token | undefined, previous: Token | undefined): string | null {
  if (!token.fixed) return null;
  const allowed = [...(previous?.node.marks ?? []), ...(before ? openingMarks(before) : [])];
  const changes = new Set(allowed.map((mark) => mark.attrs.change as ChangeId));
  const wrong = openingMarks(token).some((mark) => !changes.has(mark.attrs.change as ChangeId));
  return wrong ? 'The first paragraph cannot be inserted or deleted.' : null;
}

/** The items, of letters in a row that have the same marks before and the same after only the first. */
function* firstOfEach(items: readonly Item[]): Generator<Item> {
  let last: Item | null = null;
  for (const item of items) {
    const letter = (item.after ?? item.before)?.kind === 'letter';
    if (letter && last?.before?.node === item.before?.node && last?.after?.node === item.after?.node) continue;
    last = letter ? item : null;
    yield item;
  }
}

function* checkOwnMarks({ items: laid, after }: Alignment, sender: OfBatch, passed?: Passed): Check {
  const { author } = sender;
  const items = yield* rejoined(laid, author);
  if (!items) return newWithMarks;
  const checked = new Set<string>();
  const partner = new Map<Token, Token | undefined>();
  for (const { before, after: now } of items) if (now?.fixed) partner.set(now, before);
  let last: Node | null = null;
  for (const [i, token] of after.row.entries()) {
    // The letters of a text bear the same marks.
    if (token.node === last) continue;
    last = token.kind === 'letter' ? token.node : null;
    yield;
    for (const mark of marksWithin(token.node)) {
      if (!isReview(mark) || mark.attrs.author !== author || checked.has(key(mark))) continue;
      checked.add(key(mark));
      const wrong = checkMark(mark, sender);
      if (wrong) return wrong;
      passed?.marks.add(mark);
    }
    const wrong = checkOpening(token, partner.get(token), after.row[i - 1]);
    if (wrong) return wrong;
  }
  /** The marks that even the sender does not take off. */
  const fixedOf = (marks: Iterable<Mark>) =>
    [...marks].filter((mark) => isReview(mark) && mark.attrs.author === author && isFixed(mark, sender.fixedUntil));
  for (const { before, after: now, inside } of firstOfEach(items)) {
    yield;
    if (before && sender.fixedUntil !== undefined) {
      const stays = now ? fixedOf(now.node.marks).map(key) : [];
      const stood = fixedOf(now ? before.node.marks : marksWithin(before.node)).map(key);
      if (stood.sort().join() !== stays.sort().join()) return fixed;
    }
    if (!now) continue;
    if (!before) {
      if (bearsMarksOfOthers(now.node, author)) return newWithMarks;
    } else if (marksOfOthers(now.node.marks, author).join() !== marksOfOthers(before.node.marks, author).join()) {
      return 'Marks of other people were changed.';
    } else if (isRefastened(before, now)) return refastened;
    const isWrong = (token: Token) => isMisstated(token.node, entryName(token), author);
    if (isWrong(now) && !(before && isWrong(before))) return misstated;
    const wrong = inside && (yield* checkOwnMarks(inside, sender, passed));
    if (wrong) return wrong;
  }
  return null;
}

/** A batch in pencil: law 1, and nothing of others touched. */
function* checkPencil(alignment: Part, sender: OfBatch, passed?: Passed): Check {
  const wrong = yield* checkOwnMarks(alignment, sender, passed);
  if (wrong) return wrong;
  const [was, is] = [alignment.before, alignment.after].map((side) => excerpt(side, alignment.apart)) as [Node, Node];
  const same = (fill: (part: Node) => Node) =>
    sameManuscript(withoutAuthor(fill(was), sender.author), withoutAuthor(fill(is), sender.author));
  // Where rows came while somebody else put in columns, the table is filled up before anything is decided.
  return same((part) => part) || (evened(is) !== is && same(evened))
    ? null
    : 'In pencil, nothing may be changed without being recorded.';
}

/** A batch in ink: no new review marks; those on words that live on may only go with the property they are about. */
function checkInk({ items }: Alignment): string | null {
  for (const { before, after, inside } of firstOfEach(items)) {
    if (!after) continue;
    if (before && isRefastened(before, after)) return refastened;
    const had = new Set((before?.node.marks ?? []).filter(isReview).map(key));
    const changes = new Set((before?.node.marks ?? []).map((mark) => mark.attrs.change as ChangeId));
    for (const mark of before ? after.node.marks : marksWithin(after.node)) {
      if (!isReview(mark) || had.has(key(mark))) continue;
      if (!('now' in mark.attrs) || !changes.has(mark.attrs.change as ChangeId))
        return 'What goes in by ink bears no marks of changes.';
    }
    const wrong = inside && checkInk(inside);
    if (wrong) return wrong;
  }
  return null;
}

const attributes = new Set(Object.values(schema.nodes).flatMap(({ spec }) => Object.keys(spec.attrs ?? {})));

/** Whether a step is one of those that editing here, and undoing, comes down to. */
const isKnown = (step: Step) =>
  !(step instanceof ReplaceAroundStep) &&
  !(step instanceof DocAttrStep) &&
  !(step instanceof AttrStep && !attributes.has(step.attr));

/**
 * Whether a batch of steps keeps to the rules for what it is meant to be. It looks only at what is touched, part after
 * part: whoever has others waiting lets them go on between two parts.
 * @param mapping the maps of the batch's steps
 * @param passed the parts of the same batch that were found right before; what is found right now is added
 * @returns null when it does, else a sentence that says what is wrong
 */
export function* checkInParts(
  before: Node,
  after: Node,
  steps: readonly Step[],
  mapping: Mapping,
  intent: Intent,
  from: Sender,
  passed?: Passed,
): Check {
  const sender: OfBatch = { ...from, known: (change) => from.known(change), fresh: new Map() };
  if (!steps.every(isKnown)) return 'This is no change that can be made to a manuscript.';
  const over = overLimit(before, after);
  if (over) return `This is too much: ${limitWords[over]}.`;
  // An id that was new may have come with somebody else meanwhile.
  for (const mark of passed?.marks ?? []) {
    const wrong = checkMark(mark, sender);
    if (wrong) return wrong;
  }
  const same = intent === 'pencil' ? leftByOthers(sender.author) : undefined;
  for (const { apart, blocks, laidOut } of alignApart(before, after, mapping, same)) {
    if (passed?.has(blocks)) continue;
    const part = { ...(yield* laidOut()), apart };
    const harm = yield* harmIn(part);
    const wrong = harm ?? (intent === 'pencil' ? yield* checkPencil(part, sender, passed) : checkInk(part));
    if (wrong) return wrong;
    passed?.add(blocks);
    yield;
  }
  return (yield* bringsForeignWords(before, steps, mapping, sender.author)) ? inPassing : null;
}

/** The same in one go. */
export const checkBatch = (...batch: Parameters<typeof checkInParts>): string | null => atOnce(checkInParts(...batch));

/** Whether what was touched is still a manuscript. */
function* harmIn({ after, apart }: Part): Check {
  try {
    for (const block of excerpt(after, apart).children) {
      block.check();
      const harm = harmOf(block);
      if (harm) return harmWords[harm];
      yield;
    }
    return null;
  } catch {
    return 'The text would not be a manuscript any more.';
  }
}
