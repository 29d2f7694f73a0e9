import { Node } from 'prosemirror-model';
import { Step } from 'prosemirror-transform';
import type pg from 'pg';
import { composed, schema, type Ranges } from '@tea-pencil/core';
import { database } from '../work/database.js';
import { summaryOf } from '../database/kept-text.js';
import { spansUpTo } from './spans.js';

/**
 * Makes checkpoints from what the database holds: writing out a whole book takes long enough for someone who types to feel
 * it. With them go what the desk tells of the text, and the composed maps of the steps since the last one.
 */

/** Composes the maps of whole spans that have ended, the longer ones of the shorter. */
export async function composeSpans(client: pg.Pool, manuscript: string, version: number): Promise<void> {
  const last = await client.query<{ n: number }>(
    'SELECT coalesce(max(n), -1) AS n FROM step_spans WHERE manuscript_id = $1 AND level = 1',
    [manuscript],
  );
  const begun = (last.rows[0]?.n ?? -1) + 1;
  for (const { level, n, from, to } of spansUpTo(version, begun * 512)) {
    const found =
      level === 1
        ? await client.query<{ ranges: Ranges }>(
            `SELECT ranges FROM steps WHERE manuscript_id = $1 AND version >= $2 AND version < $3 AND ranges <> '{}'
             ORDER BY version`,
            [manuscript, from, to],
          )
        : await client.query<{ ranges: Ranges }>(
            `SELECT ranges FROM step_spans WHERE manuscript_id = $1 AND level = $2 AND n >= $3 AND n < $4 ORDER BY n`,
            [manuscript, level - 1, n * 32, (n + 1) * 32],
          );
    await client.query('INSERT INTO step_spans VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING', [
      manuscript,
      level,
      n,
      composed(found.rows.map(({ ranges }) => ranges)),
    ]);
  }
}

export async function checkpoint(manuscript: string): Promise<void> {
  const client = database();
  const checkpoints = await client.query<{ version: number; doc: object }>(
    'SELECT version, doc FROM checkpoints WHERE manuscript_id = $1 ORDER BY version DESC LIMIT 1',
    [manuscript],
  );
  const [last] = checkpoints.rows;
  if (!last) return;
  const steps = await client.query<{ step: object }>(
    'SELECT step FROM steps WHERE manuscript_id = $1 AND version >= $2 ORDER BY version',
    [manuscript, last.version],
  );
  if (!steps.rows.length) return;
  const version = last.version + steps.rows.length;
  const doc = steps.rows.reduce(
    (now, { step }) => Step.fromJSON(schema, step).apply(now).doc ?? now,
    Node.fromJSON(schema, last.doc),
  );
  // In one statement, so that what is told of the text is what is kept of it.
  await client.query(
    `WITH kept AS (INSERT INTO checkpoints (manuscript_id, version, doc) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING)
     INSERT INTO summaries (manuscript_id, version, summary) VALUES ($1, $2, $4)
     ON CONFLICT (manuscript_id) DO UPDATE SET version = excluded.version, summary = excluded.summary
     WHERE summaries.version < excluded.version`,
    [manuscript, version, JSON.stringify(doc.toJSON()), JSON.stringify(summaryOf(doc))],
  );
  await composeSpans(client, manuscript, version);
}
