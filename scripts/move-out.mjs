import { once } from 'node:events';
import { createWriteStream, existsSync, renameSync, rmSync } from 'node:fs';
import path from 'node:path';
import { finished } from 'node:stream/promises';
import { createGzip } from 'node:zlib';
import { commandLine, connected, databaseOf } from './copies.mjs';
import { Sentence } from './debian.mjs';
import { proof, rowsOf, tables, versionOf } from './moving.mjs';

/**
 * `npm run move-out -- MANUSCRIPT FILE`: one manuscript with its text, history, changes, decisions, talk and pictures, for
 * another house. It stays where it is. Nobody's account goes along, nor a note to oneself.
 */

const threads = 'threads t WHERE manuscript_id = $1 AND NOT to_self';
const comments = 'comments c JOIN threads t ON t.id = thread_id WHERE manuscript_id = $1 AND NOT to_self';
/** Who a manuscript names: its people, and whoever wrote, decided, said or was asked something in it. */
const people = `
  SELECT id, name, initials, look, min(hue) AS hue, max(role) AS role FROM (
    SELECT person_id, hue, role FROM members WHERE manuscript_id = $1
    UNION SELECT person_id, hue, NULL FROM named_people WHERE manuscript_id = $1
    UNION SELECT person_id, NULL, NULL FROM (
      SELECT unnest(ARRAY[touched_by, deleted_by]) AS person_id FROM manuscripts WHERE id = $1
      UNION SELECT sealed_by FROM seals WHERE manuscript_id = $1
      UNION SELECT author FROM steps WHERE manuscript_id = $1
      UNION SELECT unnest(ARRAY[author, decided_by]) FROM changes WHERE manuscript_id = $1
      UNION SELECT unnest(ARRAY[decided_by, taken_back_by]) FROM decisions WHERE manuscript_id = $1
      UNION SELECT added_by FROM assets WHERE manuscript_id = $1
      UNION SELECT kept_by FROM drafts WHERE manuscript_id = $1
      UNION SELECT by FROM left_findings WHERE manuscript_id = $1
      UNION SELECT by FROM kept_words WHERE manuscript_id = $1
      UNION SELECT by FROM looks WHERE manuscript_id = $1
      UNION SELECT unnest(ARRAY[made_by, taken_back_by]) FROM fair_copies WHERE manuscript_id = $1
      UNION SELECT unnest(ARRAY[by, taken_back_by]) FROM acts WHERE manuscript_id = $1
      UNION SELECT unnest(ARRAY[author, turned_by]) FROM ${threads}
      UNION SELECT unnest(ARRAY[c.author, query_to, settled_by]) FROM ${comments}
      UNION SELECT jsonb_path_query(body, 'strict $.**.person') #>> '{}' FROM ${comments}
    ) AS seen (person_id)
  ) named JOIN people ON id = person_id GROUP BY id ORDER BY min(hue), id`;

await commandLine(async ([address, given, ...more]) => {
  const id = /(?:^|\/m\/)([\w-]+)(?:[/?].*)?$/.exec(address ?? '')?.[1];
  if (!id || !given || more.length)
    throw new Sentence('Usage: npm run move-out -- MANUSCRIPT FILE   (its id or address)');
  const file = path.resolve(given);
  if (existsSync(file)) throw new Sentence(`There is a file ${file} already. It was not touched; choose another name.`);
  const making = `${file}.making`;
  const database = await databaseOf({ make: false });
  try {
    const client = await connected(database.url);
    await client.query('BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY');
    const { rows } = await client.query('SELECT title FROM manuscripts WHERE id = $1', [id]);
    if (!rows.length) throw new Sentence(`There is no manuscript ${id} in this house.`);
    const out = createGzip();
    const written = out.pipe(createWriteStream(making, { mode: 0o600 }));
    const all = proof();
    const write = async (value) => {
      const text = typeof value === 'string' ? value : JSON.stringify(value);
      all.add(text);
      if (!out.write(`${text}\n`)) await once(out, 'drain');
    };
    const { rows: named } = await client.query(people, [id]);
    await write({ teaPencilManuscript: 1, version: await versionOf(client), id, title: rows[0].title, people: named });
    for (const table of Object.keys(tables))
      for await (const texts of rowsOf(client, table, id))
        for (const text of texts) await write(`{"table":"${table}","row":${text}}`);
    const said = all.said();
    out.end(`${JSON.stringify(said)}\n`);
    await finished(written);
    await client.query('COMMIT');
    await client.end();
    renameSync(making, file);
    console.log(
      `${file} holds “${rows[0].title}”: ${said.rows - 1} rows, ${named.length} people. It is still in this house too.`,
    );
  } finally {
    rmSync(making, { force: true });
    database.leave();
  }
});
