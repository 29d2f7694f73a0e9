import { createHash } from 'node:crypto';

/**
 * A manuscript with all its history as one file: JSON lines, compressed. The first says what it is, then come the rows table
 * by table as PostgreSQL writes them as JSON, the last says how many there were and their hash.
 */

/** What is said of a file that is none. */
export const noSuchFile =
  'is no manuscript that was moved out of a house of Tea Pencil, or is not whole. Nothing was changed.';

const own = 'WHERE manuscript_id = $1';
/** A note to oneself is nobody's but its author's, whose account stays behind. */
const talk = `${own} AND NOT to_self`;
/** The tables a manuscript has rows in, in the order in which they can be put back; which rows, and in what order. */
export const tables = {
  manuscripts: ['WHERE id = $1', 'id'],
  steps: [own, 'version'],
  step_spans: [own, 'level, n'],
  checkpoints: [own, 'version'],
  summaries: [own, 'manuscript_id'],
  changes: [own, 'serial'],
  change_events: [own, 'serial'],
  decisions: [own, 'decided_at, id'],
  threads: [talk, 'begun_at, id'],
  comments: [`WHERE thread_id IN (SELECT id FROM threads ${talk})`, 'made_at, id'],
  assets: [own, 'id'],
  origins: [own, 'manuscript_id'],
  seals: [own, 'manuscript_id'],
  searchable: [own, 'piece'],
  drafts: [own, 'version, at, id'],
  fair_copies: [own, 'at, id'],
  acts: [own, 'from_version, id'],
  ink_pieces: [own, 'from_version'],
  left_findings: [own, 'at, id'],
  kept_words: [own, 'at, id'],
  looks: [own, 'manuscript_id'],
};
/** Columns that count over a whole house, or are made of others: they are made anew in another house. */
const madeAnew = { manuscripts: ['rights'], changes: ['serial'], change_events: ['serial'], steps: ['come', 'gone'] };

/** So many rows are held at once. */
export const together = 500;

/** The rows of one table, as JSON, a few hundred at a time. */
export async function* rowsOf(client, table, manuscript) {
  const [which, order] = tables[table];
  const row = (madeAnew[table] ?? []).reduce((json, column) => `${json} - '${column}'`, 'to_jsonb(t)');
  const cursor = `moving_${table}`;
  await client.query(
    `DECLARE ${cursor} NO SCROLL CURSOR FOR SELECT (${row})::text AS row FROM ${table} t ${which} ORDER BY ${order}`,
    [manuscript],
  );
  for (;;) {
    const { rows } = await client.query(`FETCH ${together} FROM ${cursor}`);
    if (!rows.length) break;
    yield rows.map(({ row: text }) => text);
  }
  await client.query(`CLOSE ${cursor}`);
}

/** How many rows there are, and a hash of all of them in their order. */
export function proof() {
  const hash = createHash('sha256');
  let rows = 0;
  return {
    add(text) {
      rows++;
      hash.update(text).update('\n');
    },
    said: () => ({ rows, sha256: hash.copy().digest('hex') }),
  };
}

/** Up to which migration a database is: rows fit only between databases that are as far. */
export async function versionOf(client) {
  const { rows } = await client.query('SELECT name FROM migrations ORDER BY id DESC LIMIT 1');
  return rows[0]?.name ?? null;
}
