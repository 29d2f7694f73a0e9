import { TextSelection, type EditorState, type Transaction } from 'prosemirror-state';
import { isHistoryTransaction } from 'prosemirror-history';
import { AddMarkStep, AddNodeMarkStep, ReplaceStep } from 'prosemirror-transform';
import {
  checkBatch,
  correct,
  findChange,
  ink,
  isMove,
  keptSpaces,
  outright,
  record,
  removedWords,
  tidyCome,
  tidyGone,
  toDate,
  type Intent,
  type MarkName,
  type Stamp,
} from '@tea-pencil/core';
import { nanoid } from 'nanoid';
import { tellingTheSame, toldHistory } from './undoing';

/** What an editor's transaction becomes before it is applied: recorded in pencil, laid in ink, or left as it is. */

export type Hand = 'pencil' | 'ink';

/** A change by its id and date: what a later edit needs to become part of it. */
export interface DatedChange {
  change: string;
  date: string;
}

export interface Writer {
  me: string;
  hand: Hand;
  mayInk: boolean;
  /** What the writer cut last and may set down elsewhere. */
  cut?: DatedChange | null;
  /** Up to this date the writer's own changes are fixed as well, by a seal. */
  fixedUntil?: string;
}

export const intentOf = (tr: Transaction): Intent => (tr.getMeta('intent') as Intent | undefined) ?? 'pencil';

/** The change that an edit was recorded as, where it was one of its own; such edits are tidied under the same. */
export const changeOf = (tr: Transaction): DatedChange | null =>
  (tr.getMeta('change') as DatedChange | undefined) ?? null;

const uiEvent = (tr: Transaction) => tr.getMeta('uiEvent') as 'cut' | 'paste' | 'drop' | undefined;

/** A transaction that is its own business: steps of others, anchors, what has been recorded already. */
const isReady = (tr: Transaction) =>
  !tr.docChanged || tr.getMeta('intent') !== undefined || tr.getMeta('remote') !== undefined;

/**
 * An undo or redo goes as what it turns out to be. Where it meets what others have decided or changed meanwhile, it is
 * brought within the rules: what they did stays, and what can still be undone is.
 */
function asUndo(state: EditorState, tr: Transaction, { me, mayInk, fixedUntil }: Writer): Transaction | null {
  const until = fixedUntil === undefined ? {} : { fixedUntil };
  const sender = { author: me, now: new Date().toISOString(), known: () => undefined, ...until };
  for (const intent of mayInk ? (['pencil', 'ink'] as const) : (['pencil'] as const)) {
    if (!checkBatch(state.doc, tr.doc, tr.steps, tr.mapping, intent, sender)) return tr.setMeta('intent', intent);
  }
  const alone = tr.steps.length;
  correct(tr, { author: me, date: toDate(new Date()), newChange: () => nanoid(12) });
  toldHistory(state, tr, alone);
  for (const all of [tr, undoneOutright(state, tr, me)])
    if (!checkBatch(state.doc, all.doc, all.steps, all.mapping, 'pencil', sender))
      return all.setMeta('intent', 'pencil');
  return null;
}

/** An undo that comes to the same and brings nothing back that it takes out again. */
function undoneOutright(state: EditorState, undo: Transaction, me: string): Transaction {
  const { tr } = state;
  for (const step of outright(undo, me).steps) tr.step(step);
  tr.setSelection(undo.selection.getBookmark().resolve(tr.doc));
  if (undo.scrolledIntoView) tr.scrollIntoView();
  return tellingTheSame(undo, tr);
}

type By = Pick<Stamp, 'author' | 'fixedUntil'>;

/** The edit as a change of its own. */
const recordApart = (state: EditorState, tr: Transaction, by: By, { change, date }: DatedChange): Transaction =>
  record(state, tr, { ...by, date, newChange: () => change, apart: true }).setMeta('change', { change, date });

/** The edit in pencil. What is cut and set down elsewhere, or dragged there, is one change with two ends: a move. */
function inPencil(state: EditorState, tr: Transaction, { me, cut, fixedUntil }: Writer): Transaction {
  const by: By = { author: me, ...(fixedUntil !== undefined && { fixedUntil }) };
  const fresh: DatedChange = { change: nanoid(12), date: toDate(new Date()) };
  const given = changeOf(tr);
  if (given) return recordApart(state, tr, by, given);
  if (uiEvent(tr) === 'cut' || uiEvent(tr) === 'drop') return recordApart(state, tr, by, fresh);
  if (uiEvent(tr) === 'paste' && cut && findChange(state.doc, cut.change)?.kind === 'deletion') {
    const setDown = recordApart(state, tr, by, cut);
    if (isMove(setDown.doc, cut.change)) return setDown;
  }
  const plain = tr.getMeta('composition') === undefined ? keptSpaces(state, tr) : tr;
  return record(state, plain, { ...by, date: fresh.date, newChange: () => fresh.change });
}

/**
 * The transaction to apply instead of one that the editor made.
 * @returns null when nothing may be applied
 */
export function inHand(state: EditorState, tr: Transaction, writer: Writer): Transaction | null {
  if (isReady(tr)) return tr;
  if (isHistoryTransaction(tr)) return asUndo(state, tr, writer);
  if (writer.hand === 'ink' && writer.mayInk) return ink(state, tr).setMeta('intent', 'ink');
  return inPencil(state, tr, writer).setMeta('intent', 'pencil');
}

/** Whether an edit takes the selected words out and does nothing else. */
function takesOut({ selection }: EditorState, { steps }: Transaction): boolean {
  const [step] = steps;
  const only = steps.length === 1 && step instanceof ReplaceStep && !step.slice.size;
  return only && step.from === selection.from && step.to === selection.to;
}

/** Adds the steps of one edit of a state to another edit of the same state. */
function together(first: Transaction | null, second: Transaction | null): Transaction | null {
  if (!first || !second) return first ?? second;
  for (const step of second.steps) {
    const mapped = step.map(first.mapping);
    if (mapped) first.step(mapped);
  }
  return first;
}

/**
 * The edit that puts the spaces right around words that went, or were moved, in pencil.
 * @param before the state the editor's edit `plain` was made from
 * @param own what it was recorded as, leading to `after`
 * @returns a plain edit of `after`, part of the same change; null where all is well
 */
export function tidied(
  before: EditorState,
  plain: Transaction,
  own: Transaction,
  after: EditorState,
): Transaction | null {
  if (intentOf(own) !== 'pencil' || changeOf(plain)) return null;
  const made = changeOf(own);
  const event = uiEvent(plain);
  const { selection } = before;
  const removed = removedWords(before);
  let tidy: Transaction | null = null;
  if (event === 'drop' && plain.steps.length > 1) {
    const { from, to } = after.selection;
    const gone = tidyGone(removed, own.mapping.map(selection.from, -1), after);
    tidy = together(tidyCome(from, to, after), gone);
  } else if (event === 'paste' && made) {
    tidy = tidyCome(own.mapping.map(selection.from, -1), after.selection.from, after);
  } else if (takesOut(before, plain)) {
    tidy = tidyGone(removed, after.selection.from, after);
  }
  if (!tidy) return null;
  if (event === 'drop') tidy.setSelection(TextSelection.near(tidy.doc.resolve(tidy.mapping.map(after.selection.to))));
  return made ? tidy.setMeta('change', made) : tidy;
}

const deletions: ReadonlySet<string> = new Set<MarkName>(['deletion', 'openingDeleted']);

/** The change a transaction of mark steps alone adds to, if it does: a deletion in pencil. */
export function deletionOf(tr: Transaction): string | null {
  if (!tr.docChanged || tr.mapping.maps.some((map) => map.toString() !== '[]')) return null;
  for (const step of tr.steps) {
    if (!(step instanceof AddMarkStep || step instanceof AddNodeMarkStep)) continue;
    const { type, attrs } = step.mark;
    if (deletions.has(type.name)) return attrs.change as string;
  }
  return null;
}
