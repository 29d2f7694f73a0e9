import { workerData } from 'node:worker_threads';
import { Node } from 'prosemirror-model';
import { Step } from 'prosemirror-transform';
import type pg from 'pg';
import { schema } from '@tea-pencil/core';
import { searchablePieces, wordsToSearch } from '../database/searchable.js';
import { poolOf } from '../database/pool.js';

/** Makes texts searchable from what the database holds: to read a whole book takes longer than others should wait. */

let pool: pg.Pool | undefined;
const database = () => (pool ??= poolOf((workerData as { databaseUrl: string }).databaseUrl, 1, 60));

export async function makeSearchable(manuscript: string): Promise<void> {
  const client = database();
  const { rows: checkpoints } = await client.query<{ version: number; doc: object }>(
    'SELECT version, doc FROM checkpoints WHERE manuscript_id = $1 ORDER BY version DESC LIMIT 1',
    [manuscript],
  );
  const [last] = checkpoints;
  if (!last) return;
  const { rows: steps } = await client.query<{ step: object }>(
    'SELECT step FROM steps WHERE manuscript_id = $1 AND version >= $2 ORDER BY version',
    [manuscript, last.version],
  );
  const doc = steps.reduce(
    (now, { step }) => Step.fromJSON(schema, step).apply(now).doc ?? now,
    Node.fromJSON(schema, last.doc),
  );
  const pieces = searchablePieces(wordsToSearch(doc));
  // Pieces that read as before are left alone. In one statement, so that nobody finds half of it; what has been deleted meanwhile is not searched.
  await client.query(
    `WITH there AS (SELECT id FROM manuscripts WHERE id = $1 FOR KEY SHARE),
       gone AS (DELETE FROM searchable WHERE manuscript_id = $1 AND piece >= cardinality($2::text[]))
     INSERT INTO searchable (manuscript_id, piece, body, words)
     SELECT there.id, n - 1, body, to_tsvector('simple', body) FROM there, unnest($2::text[]) WITH ORDINALITY AS one (body, n)
     WHERE NOT EXISTS (SELECT 1 FROM searchable WHERE manuscript_id = $1 AND piece = n - 1 AND searchable.body = one.body)
     ON CONFLICT (manuscript_id, piece) DO UPDATE SET body = excluded.body, words = excluded.words`,
    [manuscript, pieces],
  );
}
