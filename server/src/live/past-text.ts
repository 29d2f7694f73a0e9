import type { Node } from 'prosemirror-model';
import { mend, toDate } from '@tea-pencil/core';
import type { Asking } from '../database/asking.js';
import { breathing } from './breathing.js';
import { readInParts, replayed } from './read-text.js';

/**
 * The text as it was at a version: the newest checkpoint up to it, and the steps since. What is not sound is mended; what
 * cannot be read any more is left out.
 * @throws RangeError where there is no such manuscript
 */
export async function pastText(ask: Asking, manuscript: string, version: number): Promise<Node> {
  const [checkpoint] = await ask<{ version: number; doc: object }>(
    'SELECT version, doc FROM checkpoints WHERE manuscript_id = $1 AND version <= $2 ORDER BY version DESC LIMIT 1',
    [manuscript, version],
  );
  if (!checkpoint) throw new RangeError('There is no text of this manuscript.');
  const steps = await ask<{ step: object }>(
    'SELECT step FROM steps WHERE manuscript_id = $1 AND version >= $2 AND version < $3 ORDER BY version',
    [manuscript, checkpoint.version, version],
  );
  const begun = (await breathing(readInParts(checkpoint.doc))) ?? mend(checkpoint.doc, toDate(new Date())).doc;
  return steps.length ? (await breathing(replayed(begun, steps))).doc : begun;
}
