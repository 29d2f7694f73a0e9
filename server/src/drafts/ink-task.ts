import { nanoid } from 'nanoid';
import { Node } from 'prosemirror-model';
import { Step } from 'prosemirror-transform';
import {
  clockAllowance,
  describeChange,
  fairReading,
  firstWords,
  inOneLine,
  inSentence,
  inversesOf,
  isSound,
  listChanges,
  noDate,
  revised,
  schema,
  takenBack,
  toDate,
  type Change,
} from '@tea-pencil/core';
import type { InkEdit } from '@tea-pencil/wire';
import { mapsBetween } from '../live/past-maps.js';
import { pastText } from '../live/past-text.js';
import { breathing } from '../live/breathing.js';
import { ask, database } from '../work/database.js';
import { rewritten, type Rewritten } from './rewriting-task.js';

/** What was done in ink: read from the log, and laid down in pencil afterwards. */

/** One person’s ink without a break, as versions of the log. */
export interface Ink {
  from: number;
  to: number;
}

/** How many edits of one piece are listed, and how many letters of what each puts in or takes out. */
const mostEdits = 50;
const longest = 400;

const editOf = (doc: Node, change: Change): InkEdit => ({
  says: describeChange(change),
  words: inOneLine(inSentence(doc, change)).map(({ text, is }) => ({ text: firstWords(text, longest), is })),
});

/** Finds out what pieces of ink did, and keeps it. */
export async function readInk({ manuscript, pieces }: { manuscript: string; pieces: Ink[] }): Promise<void> {
  for (const { from, to } of pieces) {
    const [before, after] = [await pastText(ask, manuscript, from), await pastText(ask, manuscript, to)];
    const stamp = { author: 'nobody', date: noDate, newChange: () => nanoid(12) };
    const laid = revised(fairReading(before), fairReading(after), stamp);
    const changes = listChanges(laid);
    const edits = changes.slice(0, mostEdits).map((change) => editOf(laid, change));
    await database().query('INSERT INTO ink_pieces VALUES ($1, $2, $3, $4, $5) ON CONFLICT DO NOTHING', [
      manuscript,
      from,
      to,
      JSON.stringify(edits),
      changes.length,
    ]);
  }
}

/** The text as it stands, and which stretch of the log shall be as if it had not been. */
export interface ToUndo extends Ink {
  now: string;
  /** At which version that is. */
  version: number;
  manuscript: string;
}

/** The text without what some steps did, whatever has been written since. */
export async function without({
  now: json,
  version,
  manuscript,
  from,
  to,
}: ToUndo): Promise<{ now: Node; undone: Node | null }> {
  const now = Node.fromJSON(schema, JSON.parse(json));
  const rows = await ask<{ step: object }>(
    'SELECT step FROM steps WHERE manuscript_id = $1 AND version >= $2 AND version < $3 ORDER BY version',
    [manuscript, from, to],
  );
  const steps = rows.map(({ step }) => Step.fromJSON(schema, step));
  const later = await mapsBetween(ask, manuscript, to, version);
  const before = await pastText(ask, manuscript, from);
  // Where nothing has been written since, it is the text as it was.
  const undone =
    to === version ? before : (await breathing(takenBack(await breathing(inversesOf(before, steps)), later, now))).doc;
  return { now, undone: isSound(undone, toDate(new Date(Date.now() + clockAllowance))) ? undone : null };
}
export const impossible: Rewritten = {
  steps: [],
  fresh: [],
  tooMuch: null,
  summary: { pending: 0, kinds: {}, authors: {}, spine: [] },
  impossible: 'This cannot be done any more: the text around it has changed too far.',
};

export interface ToLayDown extends ToUndo {
  author: string;
  date: string;
}

/** Lays a piece of ink down in pencil: the text reads as it does, and what was done in ink is a change of who did it. */
export async function layDown({ author, date, ...task }: ToLayDown): Promise<Rewritten> {
  const { now, undone } = await without(task);
  if (!undone) return impossible;
  return rewritten(now, revised(undone, fairReading(now), { author, date, newChange: () => nanoid(12) }));
}
