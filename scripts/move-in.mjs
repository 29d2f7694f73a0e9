import { createReadStream, existsSync } from 'node:fs';
import path from 'node:path';
import { createInterface } from 'node:readline';
import { createGunzip } from 'node:zlib';
import { commandLine, connected, databaseOf } from './copies.mjs';
import { Sentence } from './debian.mjs';
import { noSuchFile, proof, rowsOf, tables, together, versionOf } from './moving.mjs';

/**
 * `npm run move-in -- FILE LOGIN`: a manuscript from another house, whole or not at all; the person with that login becomes
 * its keeper. People it names who have no account here are named in it, and the keeper is asked who they are.
 */

const putting = (table) =>
  `INSERT INTO ${table} (COLUMNS) SELECT COLUMNS FROM jsonb_populate_recordset(NULL::${table}, $1::jsonb)`;

/** Puts rows into a table; what they have no column for here is refused by PostgreSQL. */
async function put(client, table, rows) {
  const names = Object.keys(rows[0] ?? {});
  const { rows: known } = await client.query(
    `SELECT column_name AS name FROM information_schema.columns WHERE table_schema = 'public' AND table_name = $1`,
    [table],
  );
  if (!names.every((name) => known.some((one) => one.name === name))) throw new Sentence(`The file ${noSuchFile}`);
  const columns = names.map((name) => client.escapeIdentifier(name)).join();
  await client.query(putting(table).replaceAll('COLUMNS', columns), [JSON.stringify(rows)]);
}

/** The people of the file who are not here come as people without an account; those who are, are the same. */
async function bringPeople(client, people) {
  const { rows: here } = await client.query('SELECT id FROM people WHERE id = ANY($1)', [people.map(({ id }) => id)]);
  const known = new Set(here.map(({ id }) => id));
  const fresh = people.flatMap(({ id, name, initials, look }) => (known.has(id) ? [] : [{ id, name, initials, look }]));
  if (fresh.length) await put(client, 'people', fresh);
}

/** Gives somebody something in the manuscript. */
async function give(client, manuscript, person, role, hue) {
  await client.query('INSERT INTO grants (id, manuscript_id, person_id, role) VALUES ($1, $2, $3, $4)', [
    ...[`${manuscript}-${person}`, manuscript, person, role],
  ]);
  await client.query('INSERT INTO members (manuscript_id, person_id, role, hue) VALUES ($1, $2, $3, $4)', [
    ...[manuscript, person, role, hue],
  ]);
}

/** Who has an account here may do what they might there; of the others the keeper says who they are. */
async function seat(client, manuscript, people, keeper) {
  const { rows } = await client.query('SELECT id FROM people WHERE id = ANY($1) AND login IS NOT NULL', [
    people.map(({ id }) => id),
  ]);
  const accounts = new Set(rows.map(({ id }) => id));
  const taken = new Set(people.map(({ hue }) => hue));
  const free = () => [...Array(people.length + 2).keys()].find((hue) => !taken.has(hue) && taken.add(hue));
  for (const { id, hue, role } of people.filter((one) => one.id !== keeper)) {
    if (accounts.has(id) && role) await give(client, manuscript, id, role, hue);
    else
      await client.query('INSERT INTO named_people (manuscript_id, person_id, hue) VALUES ($1, $2, $3)', [
        ...[manuscript, id, hue ?? free()],
      ]);
  }
  const own = people.find(({ id }) => id === keeper)?.hue;
  await give(client, manuscript, keeper, 'keeper', own ?? free());
}

const parsed = (text) => {
  try {
    return JSON.parse(text);
  } catch {
    throw new Sentence(`The file ${noSuchFile}`);
  }
};

await commandLine(async ([given, login, ...more]) => {
  if (!given || !login || more.length)
    throw new Sentence('Usage: npm run move-in -- FILE LOGIN   (who becomes its keeper)');
  const file = path.resolve(given);
  if (!existsSync(file)) throw new Sentence(`There is no file ${file}.`);
  const database = await databaseOf({ make: false });
  const client = await connected(database.url);
  try {
    const { rows: found } = await client.query('SELECT id FROM people WHERE login = $1', [login.toLowerCase()]);
    if (!found.length) throw new Sentence(`Nobody in this house signs in as ${login}.`);
    await client.query('BEGIN');
    const all = proof();
    let head = null;
    let end = null;
    let waiting = { table: null, rows: [] };
    const flush = async () => {
      if (waiting.rows.length) await put(client, waiting.table, waiting.rows);
      waiting = { table: null, rows: [] };
    };
    const unpacked = createReadStream(file).pipe(createGunzip());
    const broken = new Promise((_, fail) => unpacked.once('error', () => fail(new Sentence(`The file ${noSuchFile}`))));
    broken.catch(() => undefined);
    const lines = createInterface({ input: unpacked, crlfDelay: Infinity })[Symbol.asyncIterator]();
    for (
      let line = await Promise.race([lines.next(), broken]);
      !line.done;
      line = await Promise.race([lines.next(), broken])
    ) {
      const value = parsed(line.value);
      if (end) throw new Sentence(`The file ${noSuchFile}`);
      if (value?.sha256) {
        end = value;
        continue;
      }
      all.add(line.value);
      if (!head) {
        head = value;
        await begin(client, head);
        await bringPeople(client, head.people);
      } else {
        if (!tables[value?.table]) throw new Sentence(`The file ${noSuchFile}`);
        if (waiting.table !== value.table || waiting.rows.length >= together) await flush();
        waiting.table = value.table;
        waiting.rows.push(value.row);
      }
    }
    await flush();
    const said = all.said();
    if (!end || end.rows !== said.rows || end.sha256 !== said.sha256) throw new Sentence(`The file ${noSuchFile}`);
    await seat(client, head.id, head.people, found[0].id);
    // What is here now is read again and must be what the file holds.
    const again = proof();
    again.add(JSON.stringify(head));
    for (const table of Object.keys(tables))
      for await (const texts of rowsOf(client, table, head.id))
        for (const text of texts) again.add(`{"table":"${table}","row":${text}}`);
    if (again.said().sha256 !== said.sha256)
      throw new Sentence('What was put in is not what the file holds. Nothing was kept.');
    await client.query('COMMIT');
    console.log(`“${head.title}” is here: ${said.rows - 1} rows, the same as in the file. Its keeper is ${login}.`);
  } catch (problem) {
    await client.query('ROLLBACK').catch(() => undefined);
    if (problem instanceof Sentence) throw problem;
    const why = problem.code
      ? `PostgreSQL did not take it (${problem.code}). Nothing was changed.`
      : `The file ${noSuchFile}`;
    throw new Sentence(why);
  } finally {
    await client.end();
    database.leave();
  }
});

/** Whether a file may go into this house. */
async function begin(client, { teaPencilManuscript, version, id, title }) {
  if (teaPencilManuscript !== 1) throw new Sentence(`The file ${noSuchFile}`);
  if (version !== (await versionOf(client)))
    throw new Sentence(
      'The file was made by another version of Tea Pencil. Bring both houses to the same version; nothing was changed.',
    );
  const { rows } = await client.query('SELECT 1 FROM manuscripts WHERE id = $1', [id]);
  if (rows.length) throw new Sentence(`“${title}” is in this house already. Nothing was changed.`);
}
