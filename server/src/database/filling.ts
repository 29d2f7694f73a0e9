import { Node } from 'prosemirror-model';
import { Step } from 'prosemirror-transform';
import type { QueryRunner } from 'typeorm';
import { rangesOf, schema } from '@tea-pencil/core';
import { lookOf } from '../names/names.js';
import { barePicture } from '../images/picture-file.js';
import { keepSummary, summaryOf } from './kept-text.js';

/** What a migration works out of the texts that are there already. */

/** So many steps are read at once. */
const together = 2000;

/** The maps of steps that were kept before maps were. */
export async function fillRanges(runner: QueryRunner): Promise<void> {
  for (let after = { manuscript_id: '', version: -1 }; ;) {
    const rows: { manuscript_id: string; version: number; step: object }[] = await runner.query(
      `SELECT manuscript_id, version, step FROM steps WHERE (manuscript_id, version) > ($1, $2)
       ORDER BY manuscript_id, version LIMIT ${together}`,
      [after.manuscript_id, after.version],
    );
    const last = rows.at(-1);
    if (!last) return;
    after = last;
    const known = rows.map(({ step }) => mapRanges(step));
    await runner.query(
      `UPDATE steps SET ranges = one.ranges::int[]
       FROM unnest($1::text[], $2::int[], $3::text[]) AS one (manuscript_id, version, ranges)
       WHERE steps.manuscript_id = one.manuscript_id AND steps.version = one.version AND one.ranges <> '{}'`,
      [
        rows.map(({ manuscript_id }) => manuscript_id),
        rows.map(({ version }) => version),
        known.map((ranges) => `{${ranges.join()}}`),
      ],
    );
  }
}

/** What names look like that were kept before that was. */
export async function fillLooks(runner: QueryRunner): Promise<void> {
  const people: { id: string; name: string }[] = await runner.query('SELECT id, name FROM people');
  await runner.query(
    'UPDATE people SET look = one.look FROM unnest($1::text[], $2::text[]) AS one (id, look) WHERE people.id = one.id',
    [people.map(({ id }) => id), people.map(({ name }) => lookOf(name))],
  );
}

/** Takes out of the files of pictures and portraits whatever is not seen; one that cannot be read stays as it is. */
export async function emptyPictures(runner: QueryRunner): Promise<void> {
  for (const [table, key] of [
    ['assets', 'id'],
    ['portraits', 'person_id'],
  ] as const) {
    const all: { id: string }[] = await runner.query(`SELECT ${key} AS id FROM ${table}`);
    for (const { id } of all) {
      const [row]: { bytes: Buffer }[] = await runner.query(`SELECT bytes FROM ${table} WHERE ${key} = $1`, [id]);
      const bare = row && (await barePicture(row.bytes));
      if (bare) await runner.query(`UPDATE ${table} SET bytes = $2 WHERE ${key} = $1`, [id, bare]);
    }
  }
}

/** A step that cannot be read moves nothing: it is left out when the text is opened. */
function mapRanges(step: object): number[] {
  try {
    return rangesOf(Step.fromJSON(schema, step).getMap());
  } catch {
    return [];
  }
}

/** What the desk tells of manuscripts: as of their newest checkpoint; what was written since comes with the next edit. */
export async function fillSummaries(runner: QueryRunner): Promise<void> {
  const manuscripts: { id: string }[] = await runner.query('SELECT id FROM manuscripts');
  for (const { id } of manuscripts) {
    try {
      const [row]: { version: number; doc: object }[] = await runner.query(
        'SELECT version, doc FROM checkpoints WHERE manuscript_id = $1 ORDER BY version DESC LIMIT 1',
        [id],
      );
      const steps: { step: object }[] = await runner.query(
        'SELECT step FROM steps WHERE manuscript_id = $1 AND version >= $2 ORDER BY version',
        [id, row?.version],
      );
      const doc = steps.reduce(
        (now, { step }) => Step.fromJSON(schema, step).apply(now).doc ?? now,
        Node.fromJSON(schema, row?.doc),
      );
      await keepSummary(runner.manager, id, (row?.version ?? 0) + steps.length, summaryOf(doc));
    } catch {
      continue; // a text that has come to harm is mended, and summed up, when it is opened
    }
  }
}
