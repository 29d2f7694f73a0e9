import { parentPort, workerData } from 'node:worker_threads';
import { Node } from 'prosemirror-model';
import { Step } from 'prosemirror-transform';
import { schema } from '@tea-pencil/core';
import { poolOf } from '../database/pool.js';

/**
 * Makes checkpoints in a thread of its own, from what the database holds: writing out a whole book takes long enough for
 * someone who types to feel it.
 */

const pool = poolOf(workerData as string, 1);

async function checkpoint(manuscript: string): Promise<void> {
  const checkpoints = await pool.query<{ version: number; doc: object }>(
    'SELECT version, doc FROM checkpoints WHERE manuscript_id = $1 ORDER BY version DESC LIMIT 1',
    [manuscript],
  );
  const [last] = checkpoints.rows;
  if (!last) return;
  const steps = await pool.query<{ step: object }>(
    'SELECT step FROM steps WHERE manuscript_id = $1 AND version >= $2 ORDER BY version',
    [manuscript, last.version],
  );
  if (!steps.rows.length) return;
  const doc = steps.rows.reduce(
    (now, { step }) => Step.fromJSON(schema, step).apply(now).doc!,
    Node.fromJSON(schema, last.doc),
  );
  await pool.query('INSERT INTO checkpoints (manuscript_id, version, doc) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING', [
    manuscript,
    last.version + steps.rows.length,
    JSON.stringify(doc.toJSON()),
  ]);
}

parentPort!.on('message', (manuscript: string) => {
  checkpoint(manuscript).then(
    () => parentPort!.postMessage({ manuscript }),
    // Without one, opening takes a little longer; the next is tried in its time.
    (problem: unknown) => parentPort!.postMessage({ manuscript, problem: String(problem) }),
  );
});
