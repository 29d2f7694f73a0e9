import { nanoid } from 'nanoid';
import { Step, Transform } from 'prosemirror-transform';
import type { Node } from 'prosemirror-model';
import { changeIds, checkBatch, decide, fairReading, revised, schema, type ChangeId } from '@tea-pencil/core';
import { pastText } from '../live/past-text.js';
import { ask } from '../work/database.js';
import { impossible, without, type ToUndo } from './ink-task.js';
import { rewritten, type Rewritten } from './rewriting-task.js';

/** Takes an act on a whole text back: finds out what that would do to the text as it stands. */

export interface ToTakeBack extends ToUndo {
  /** Who takes it back, under every name they have in the manuscript, and the moment, ISO 8601 in UTC to the second. */
  by: string;
  mine: readonly string[];
  date: string;
  /** Whether they may change the text unrecorded, and what others have proposed. */
  freely: boolean;
}

/**
 * How an act is taken back. Undone: the text is as if it had not been. Withdrawn: some of its changes have been decided
 * since and stay so, and the others go. Recorded: the way back is a change to be decided.
 */
export type HowTakenBack = 'undone' | 'withdrawn' | 'recorded';

export interface TakenBack extends Rewritten {
  how: HowTakenBack;
  /** Whether that changes nothing but what is pending of whoever takes it back. */
  isOwn: boolean;
  /** Whether the act went straight into the text. */
  wasInk: boolean;
  /** How many of its changes have been decided since. */
  decided: number;
}

interface Known {
  id: ChangeId;
  author: string;
  date: string;
  decided: boolean;
}

const knownOf = (manuscript: string, ids: readonly ChangeId[]): Promise<Known[]> =>
  ask<Known>(
    `SELECT change_id AS id, author, date, verdict IS NOT NULL AS decided FROM changes
     WHERE manuscript_id = $1 AND change_id = ANY ($2)`,
    [manuscript, ids],
  );

/** Whether steps are such as somebody may make in pencil. */
async function isRecorded(now: Node, steps: readonly object[], { manuscript, by, date }: ToTakeBack): Promise<boolean> {
  const tr = new Transform(now);
  for (const step of steps) tr.step(Step.fromJSON(schema, step));
  const known = new Map((await knownOf(manuscript, [...changeIds(tr.doc).keys()])).map((one) => [one.id, one]));
  const sender = { author: by, now: date, known: (id: ChangeId) => known.get(id) };
  return checkBatch(now, tr.doc, tr.steps, tr.mapping, 'pencil', sender) === null;
}

export async function takeBackAct(task: ToTakeBack): Promise<TakenBack> {
  const { manuscript, from, to, by, mine, date, freely } = task;
  const { now, undone } = await without(task);
  const before = changeIds(await pastText(ask, manuscript, from));
  const came = [...changeIds(await pastText(ask, manuscript, to)).keys()].filter((id) => !before.has(id));
  const pending = changeIds(now);
  const decided = (await knownOf(manuscript, came)).filter((one) => one.decided && !pending.has(one.id)).length;
  const [first] = await ask<{ intent: string }>('SELECT intent FROM steps WHERE manuscript_id = $1 AND version = $2', [
    manuscript,
    from,
  ]);
  const about = { wasInk: first?.intent === 'ink', decided };
  // Ink is undone as a whole: the changes that came with it had been proposed before, and are not what it did.
  if (decided && !about.wasInk) {
    const left = came.filter((id) => pending.has(id));
    const isOwn = left.every((id) => mine.includes(pending.get(id)!.author));
    const made = rewritten(now, decide(new Transform(now), left, 'reject').doc);
    const because = left.length
      ? {}
      : { impossible: `All ${decided} of its changes have been decided since. ${wayOn}` };
    return { ...made, ...about, ...because, how: 'withdrawn', isOwn };
  }
  if (!undone) return { ...impossible, ...about, how: 'undone', isOwn: false };
  const made = rewritten(now, undone);
  const isOwn = await isRecorded(now, made.steps, task);
  if (freely || isOwn) return { ...made, ...about, how: 'undone', isOwn };
  const stamp = { author: by, date, newChange: () => nanoid(12) };
  return { ...rewritten(now, revised(now, fairReading(undone), stamp)), ...about, how: 'recorded', isOwn: true };
}

const wayOn = 'Those decisions can be taken back one by one in the ledger.';
