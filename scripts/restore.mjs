import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { commandLine, connected, contentsOf, databaseOf, inWords, runOn } from './copies.mjs';
import { Sentence } from './debian.mjs';

/**
 * `npm run restore -- FILE`: puts a copy into an empty place, all of it or nothing, and proves that what is there now is
 * what was there then. Nothing that is there is ever written over.
 */

/** What the file says it holds. */
function unpacked(file, folder) {
  try {
    execFileSync('tar', ['-xf', file, '-C', folder, 'manifest.json', 'database.dump'], { stdio: 'ignore' });
    const manifest = JSON.parse(readFileSync(path.join(folder, 'manifest.json'), 'utf8'));
    if (manifest.teaPencil === 1) return manifest;
  } catch {
    // not one of ours, or not whole
  }
  throw new Sentence(`${file} is no whole copy made by npm run backup. Nothing was changed.`);
}

await commandLine(async ([given, ...more]) => {
  if (!given || more.length) throw new Sentence('Usage: npm run restore -- FILE');
  const file = path.resolve(given);
  if (!existsSync(file)) throw new Sentence(`There is no file ${file}.`);
  const folder = mkdtempSync(path.join(tmpdir(), 'tea-pencil-restore-'));
  let database;
  try {
    const manifest = unpacked(file, folder);
    database = await databaseOf({ make: true });
    const client = await connected(database.url);
    const { rows } = await client.query(
      `SELECT FROM pg_class WHERE relnamespace = 'public'::regnamespace
       UNION ALL SELECT FROM pg_proc WHERE pronamespace = 'public'::regnamespace LIMIT 1`,
    );
    if (rows.length)
      throw new Sentence(
        'There is something in this place already. It was not touched: set TEA_PENCIL_HOME to an empty folder, or TEA_PENCIL_DATABASE_URL to an empty database.',
      );
    const all = ['--single-transaction', '--exit-on-error', '--no-owner', '--no-privileges'];
    runOn(database.url, 'pg_restore', [...all, path.join(folder, 'database.dump')]);
    const now = await contentsOf(client);
    const then = manifest.contents;
    const wrong = [...new Set([...Object.keys(then), ...Object.keys(now)])].filter(
      (table) => now[table]?.rows !== then[table]?.rows || now[table]?.sum !== then[table]?.sum,
    );
    if (wrong.length) {
      await client.query('DROP SCHEMA public CASCADE; CREATE SCHEMA public');
      await client.end();
      throw new Sentence(
        `${file} does not hold what it held when it was made (${wrong.join(', ')}). Nothing was kept.`,
      );
    }
    await client.end();
    console.log(`Back, and proven row by row: ${inWords(manifest)}. Everybody signs in anew.`);
  } finally {
    rmSync(folder, { recursive: true, force: true });
    database?.leave();
  }
});
