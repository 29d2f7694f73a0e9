import { Node } from 'prosemirror-model';
import { Step } from 'prosemirror-transform';
import { mend, OnBlocks, schema, toDate } from '@tea-pencil/core';
import type { Asking } from '../database/asking.js';

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
  const begun = read(() => Node.fromJSON(schema, checkpoint.doc)) ?? mend(checkpoint.doc, toDate(new Date())).doc;
  const on = new OnBlocks(begun);
  for (const { step } of steps) read(() => on.try(Step.fromJSON(schema, step)));
  return steps.length ? on.now : begun;
}

/** What can be read; null for what cannot, as when it was written by an older program. */
function read<T>(make: () => T): T | null {
  try {
    return make();
  } catch {
    return null;
  }
}
