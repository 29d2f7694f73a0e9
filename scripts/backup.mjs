import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { commandLine, connected, contentsOf, databaseOf, inWords, passing, runOn } from './copies.mjs';
import { Sentence } from './debian.mjs';

/**
 * `npm run backup -- FILE`: everything that is kept, as it was at one moment, in one file, while people go on writing. With
 * it goes what it holds, counted and hashed in the same moment, so that restoring can prove itself.
 */

await commandLine(async ([given, ...more]) => {
  if (!given || more.length) throw new Sentence('Usage: npm run backup -- FILE');
  const file = path.resolve(given);
  if (existsSync(file)) throw new Sentence(`There is a file ${file} already. It was not touched; choose another name.`);
  const folder = `${file}.making`;
  const database = await databaseOf({ make: false });
  try {
    mkdirSync(folder, { mode: 0o700 });
  } catch (problem) {
    database.leave();
    throw new Sentence(`${folder} cannot be made (${problem.code}).`);
  }
  try {
    const client = await connected(database.url);
    await client.query('BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY');
    const { rows } = await client.query('SELECT pg_export_snapshot() AS moment, now() AS made');
    const { moment, made } = rows[0];
    const manifest = { teaPencil: 1, made: made.toISOString(), contents: await contentsOf(client) };
    if (!manifest.contents.manuscripts) throw new Sentence('There is nothing in this database that could be copied.');
    writeFileSync(path.join(folder, 'manifest.json'), JSON.stringify(manifest, null, 2));
    const without = passing.map((table) => `--exclude-table-data=${table}`);
    const dump = ['--format=custom', '--no-owner', '--no-privileges', `--snapshot=${moment}`, ...without];
    runOn(database.url, 'pg_dump', [...dump, `--file=${path.join(folder, 'database.dump')}`]);
    await client.query('COMMIT');
    await client.end();
    execFileSync('tar', ['-cf', `${folder}/copy.tar`, '-C', folder, 'manifest.json', 'database.dump']);
    renameSync(`${folder}/copy.tar`, file);
    console.log(`${file} holds ${inWords(manifest)}.`);
  } finally {
    rmSync(folder, { recursive: true, force: true });
    database.leave();
  }
});
