import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import path from 'node:path';
import { ensureModules, root } from './build.mjs';
import { isClusterOf, startDatabase } from './database.mjs';
import { ensurePackages, postgresBin, Sentence } from './debian.mjs';

/** What making a copy of everything and putting it back have in common. */

/** Tables that hold only what passes: who is signed in, how often somebody asked, what processes tell each other. */
export const passing = ['sessions', 'rate_limits', 'socket_io_attachments'];

/** The database of TEA_PENCIL_DATABASE_URL, else that of the home; started for the while, unless it runs already. */
export async function databaseOf({ make }) {
  ensurePackages(['postgresql']);
  // Packages are not changed under a server that may be running on them.
  if (!existsSync(path.join(root, 'node_modules/pg'))) ensureModules();
  const { TEA_PENCIL_DATABASE_URL: url, TEA_PENCIL_HOME } = process.env;
  if (url) return { url, leave: () => undefined };
  const home = path.resolve(TEA_PENCIL_HOME ?? path.join(root, '.tea-pencil'));
  if (!make && !isClusterOf(home)) throw new Sentence(`There is nothing in ${home} that could be copied.`);
  const { url: own, found, stop, letGo } = await startDatabase(home);
  return { url: own, leave: found ? letGo : stop };
}

/** A connection, in words where there is none. */
export async function connected(url) {
  const { default: pg } = await import('pg');
  const client = new pg.Client({ connectionString: url });
  try {
    await client.connect();
    await client.query(`SET TIME ZONE 'UTC'`); // so that times read the same wherever they are compared
  } catch (problem) {
    throw new Sentence(`The database cannot be reached (${problem.code ?? problem.message}). Nothing was changed.`);
  }
  return client;
}

/**
 * What a database holds, so that two can be told apart: of each table its number of rows and the sum of their hashes,
 * which does not depend on their order.
 * @returns {Promise<Record<string, { rows: string, sum: string }>>}
 */
export async function contentsOf(client) {
  const { rows: tables } = await client.query(
    `SELECT tablename AS name FROM pg_tables WHERE schemaname = 'public' ORDER BY 1`,
  );
  const contents = {};
  for (const { name } of tables.filter((table) => !passing.includes(table.name))) {
    const { rows } = await client.query(
      `SELECT count(*)::text AS rows, coalesce(sum(('x' || substr(md5(t::text), 1, 15))::bit(60)::bigint), 0)::text AS sum
       FROM ${client.escapeIdentifier(name)} t`,
    );
    contents[name] = rows[0];
  }
  return contents;
}

/** Runs a program of PostgreSQL's on a database; the password is seen by no other process. */
export function runOn(url, program, args) {
  const address = new URL(url);
  const password = decodeURIComponent(address.password);
  address.password = '';
  try {
    execFileSync(path.join(postgresBin(), program), ['--dbname', address.href, ...args], {
      stdio: ['ignore', 'ignore', 'pipe'],
      env: { ...process.env, PGPASSWORD: password },
    });
  } catch (problem) {
    const why = String(problem.stderr ?? problem.message)
      .trim()
      .split('\n')[0];
    throw new Sentence(`${program} did not succeed: ${why}`);
  }
}

const grouped = (n) => Number(n).toLocaleString('en-GB');
/** What is in a copy, for people. */
export const inWords = ({ made, contents }) =>
  `${grouped(contents.manuscripts.rows)} manuscripts, ${grouped(contents.people.rows)} people and ${grouped(contents.steps.rows)} steps, as of ${made}`;

/** Runs a command line, and says in a sentence what it could not do. */
export async function commandLine(work) {
  try {
    await work(process.argv.slice(2));
  } catch (problem) {
    console.error(problem instanceof Sentence ? problem.message : problem);
    process.exit(1);
  }
}
