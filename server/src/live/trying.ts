import { Transform, type Step } from 'prosemirror-transform';
import {
  changeIds,
  checkInParts,
  fixedBy,
  limits,
  limitWords,
  squareTables,
  type ChangeId,
  type Passed,
} from '@tea-pencil/core';
import type { Outcome, Submission } from '@tea-pencil/wire';
import { breathing } from './breathing.js';
import { freshChanges, namedChanges } from './change-ids.js';
import type { Known, OpenText } from './open-text.js';
import { stepsInParts } from './read-text.js';
import type { StepLog } from './step-log.js';
import { straysAt, type StrayAt } from './strays.js';
import type { Author } from './submissions.js';

/** Trying what somebody submits on a text: carried over what came since it was made, and checked. */

/** A submission that waits for its answer. */
export interface Job {
  author: Author;
  submission: Submission;
  /** The changes that its steps name. */
  named: ReadonlySet<ChangeId>;
  /** What was read and found right beside the turn: the steps on a text of this version. */
  prepared?: { version: number; steps: readonly Step[]; passed: Passed };
  answer(outcome: Outcome): void;
}

export const jobOf = (author: Author, submission: Submission, answer: Job['answer']): Job => ({
  author,
  submission,
  named: namedChanges(submission.steps),
  answer,
});

/** From so many steps or letters on, a submission is large: checking it takes longer than others should wait. */
const large = { steps: 100, letters: 20_000 };

export const isLarge = ({ steps }: Submission): boolean =>
  steps.length > large.steps || JSON.stringify(steps).length > large.letters;

/** Asks the log for the changes that jobs name and the text does not know. */
export async function askForKnown(log: StepLog, manuscript: string, text: OpenText, jobs: readonly Job[]) {
  const asked = jobs.flatMap(({ named }) => [...named].filter((id) => !text.known.has(id)));
  for (const [id, change] of await log.knownChanges(manuscript, asked)) text.known.set(id, change);
}

/** A batch that may be taken in, on top of the text it was tried on. */
export interface Right {
  tr: Transform;
  /** The changes that are new with it. */
  fresh: Map<ChangeId, Known>;
  /** The threads that it takes the words from. */
  gone: StrayAt[];
  /** What fills up tables after it: one has put in a row while another has put in a column. */
  even: Transform;
}

/**
 * @param on the text; it stays as it is
 * @param known what is known of a change
 * @param passed takes note of what was found right
 * @returns the batch, or the answer why it is not taken in
 */
export async function tried(
  on: OpenText,
  job: Job,
  known: (id: ChangeId) => Known | undefined,
  passed = job.prepared?.passed,
): Promise<Right | Exclude<Outcome, { taken: true }>> {
  const { author, submission, named, prepared } = job;
  const { intent, client } = submission;
  const version = prepared?.version ?? submission.version;
  if (!on.reaches(version, client)) return { behind: true };
  try {
    const steps = prepared?.steps ?? (await breathing(stepsInParts(submission.steps)));
    const tr = await breathing(on.batch(version, steps, client));
    if (!tr) return { behind: true };
    const { seal } = author;
    const fixedUntil = seal && !seal.mayWithdraw ? { fixedUntil: fixedBy(seal.at) } : {};
    const sender = { author: author.personId, now: new Date().toISOString(), known, ...fixedUntil };
    const check = ({ before, doc, steps: its, mapping }: Transform, found?: Passed) =>
      breathing(checkInParts(before, doc, its, mapping, intent, sender, found));
    const wrong = await check(tr, passed);
    if (wrong) {
      // What others have made wrong the sender may put right on the newest text.
      const made = version === on.version ? tr : await breathing(on.asMade(version, steps, client));
      const itself = made && (made === tr ? wrong : await check(made));
      return itself ? { refused: itself } : { behind: true };
    }
    const fresh = intent === 'pencil' ? freshChanges(named, tr, known) : new Map<ChangeId, Known>();
    const full = fresh.size && on.known.size + fresh.size >= limits.changes;
    if (full && changeIds(tr.doc).size > limits.changes) return { refused: `This is too much: ${limitWords.changes}.` };
    const even = new Transform(tr.doc);
    squareTables(even);
    return { tr, fresh, gone: straysAt(tr, on.version + tr.steps.length), even };
  } catch {
    return { refused: 'This change does not fit the text.' };
  }
}
