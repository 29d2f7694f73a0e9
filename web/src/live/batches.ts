import { sendableSteps } from 'prosemirror-collab';
import { isHistoryTransaction } from 'prosemirror-history';
import type { Node } from 'prosemirror-model';
import type { EditorState, Transaction } from 'prosemirror-state';
import { Transform, type Step } from 'prosemirror-transform';
import { checkBatch, correct, outright, outrightInInk, rebase, type Intent, type Stamp } from '@tea-pencil/core';
import { intentOf } from './intents';

/** What is written and not kept yet, as the server takes it: in batches of one intent each. */

/** A batch ends with an edit once it has so many steps: the rules hold for whole edits, not for parts of one. */
const enough = 400;

export interface Batch {
  steps: readonly Step[];
  intent: Intent;
  /** Whether it is one edit in pencil as it was recorded: such a one is right as it is. */
  isOneEdit?: boolean;
}

/** The steps that are not kept yet, in batches. */
export function batchesOf(state: EditorState): Batch[] {
  const batches: { steps: Step[]; intent: Intent; isOneEdit: boolean }[] = [];
  const sendable = sendableSteps(state);
  sendable?.steps.forEach((step, i) => {
    const origin = sendable.origins[i] as Transaction;
    const intent = intentOf(origin);
    const last = batches[batches.length - 1];
    const isAnother = origin !== sendable.origins[i - 1];
    const full = last && last.steps.length >= enough && isAnother;
    if (last?.intent === intent && !full) {
      last.steps.push(step);
      last.isOneEdit &&= !isAnother;
    } else batches.push({ steps: [step], intent, isOneEdit: intent === 'pencil' && !isHistoryTransaction(origin) });
  });
  return batches;
}

const madeOf = (doc: Node, steps: readonly Step[]): Transform =>
  steps.reduce((tr, step) => tr.step(step), new Transform(doc));

/**
 * The batches as they have to be, so that the server can take them in, after they have been carried over what others did.
 * @param base the text they stand on: what the server is known to have
 * @returns null when they are right as they are
 */
export function corrected(base: Node, batches: readonly Batch[], stamp: Stamp): Batch[] | null {
  const sender = { author: stamp.author, now: new Date().toISOString(), known: () => undefined };
  const right: Batch[] = [];
  let changed = false;
  let doc = base;
  let left = [...batches];
  for (let batch = left.shift(); batch; batch = left.shift()) {
    let tr = madeOf(doc, batch.steps);
    const { intent } = batch;
    const isWrong = () => checkBatch(doc, tr.doc, tr.steps, tr.mapping, intent, sender) !== null;
    if (intent === 'pencil' && isWrong()) {
      const n = tr.steps.length;
      correct(tr, stamp);
      changed = true;
      // What was written after it goes on top of the correction.
      const before = tr.docs[n] ?? tr.doc;
      left = rebaseAll(before, left, tr.steps.slice(n));
    }
    // What is right in the end and was not on the way there goes without the way.
    if ((changed || intent === 'ink') && isWrong()) {
      tr = (intent === 'ink' ? outrightInInk : outright)(tr, stamp.author);
      changed = true;
    }
    if (tr.steps.length) right.push({ steps: [...tr.steps], intent });
    doc = tr.doc;
  }
  return changed ? right : null;
}

/** Batches that follow one another, carried over steps that come before them. */
function rebaseAll(doc: Node, batches: readonly Batch[], others: readonly Step[]): Batch[] {
  let over = others;
  let before = doc;
  return batches.map(({ steps, intent }) => {
    const own = madeOf(before, steps);
    const carried = rebase(own, over);
    // Seen from behind this batch, what came between is its undoing, the others' steps and itself again.
    over = [...own.steps.map((step, i) => step.invert(own.docs[i]!)).reverse(), ...over, ...carried.steps];
    before = own.doc;
    return { steps: carried.steps, intent };
  });
}

/** The words in steps, to be copied by hand. */
export const wordsIn = (steps: readonly Step[]): string =>
  steps
    .map((step) => (step as { slice?: { content: Node['content'] } }).slice?.content)
    .map((content) => content?.textBetween(0, content.size, '\n') ?? '')
    .join('');
