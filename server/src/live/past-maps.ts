import type { StepMap } from 'prosemirror-transform';
import { mapOf, type Ranges } from '@tea-pencil/core';
import type { Asking } from '../database/asking.js';
import { spansBetween } from './spans.js';

/** Maps that lead from a version to a later one: those of single steps at the ends, composed ones between. */
export async function mapsBetween(ask: Asking, manuscript: string, from: number, to: number): Promise<StepMap[]> {
  const plan = spansBetween(from, to);
  const spans = plan.filter(({ level }) => level > 0);
  const rows = await ask<{ level: number; n: number; ranges: Ranges }>(
    `SELECT level, n, ranges FROM step_spans JOIN unnest($2::int[], $3::int[]) AS one (l, k) ON level = l AND n = k
     WHERE manuscript_id = $1`,
    [manuscript, spans.map(({ level }) => level), spans.map(({ n }) => n)],
  );
  const known = new Map(rows.map(({ level, n, ranges }) => [`${level} ${n}`, ranges]));
  const found: Ranges[] = [];
  for (const { level, n, from: start, to: end } of plan) {
    const whole = level ? known.get(`${level} ${n}`) : undefined;
    if (whole) found.push(whole);
    else for (const { ranges } of await rangesOfSteps(ask, manuscript, start, end)) found.push(ranges);
  }
  return found.map(mapOf);
}

/** What steps replaced one by one, of those that move anything. */
export const rangesOfSteps = (
  ask: Asking,
  manuscript: string,
  from: number,
  to: number,
): Promise<{ version: number; ranges: Ranges }[]> =>
  ask(
    `SELECT version, ranges FROM steps
     WHERE manuscript_id = $1 AND version >= $2 AND version < $3 AND ranges <> '{}' ORDER BY version`,
    [manuscript, from, to],
  );
