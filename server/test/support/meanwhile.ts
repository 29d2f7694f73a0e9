import { Client } from 'pg';

/** A manuscript's turn, taken from outside: what wants to write waits until it is given on. */

const connected = async (): Promise<Client> => {
  const client = new Client({ connectionString: process.env.TEA_PENCIL_TEST_DATABASE });
  await client.connect();
  return client;
};

/**
 * Does something while the turn is taken; once that waits, and before the turn is given on, something is changed in the
 * database.
 * @returns what the first came to
 */
export async function meanwhile<T>(
  manuscript: string,
  act: () => Promise<T>,
  change: (holder: Client) => Promise<unknown>,
): Promise<T> {
  const [holder, watcher] = [await connected(), await connected()];
  try {
    await holder.query('BEGIN');
    await holder.query('SELECT 1 FROM manuscripts WHERE id = $1 FOR NO KEY UPDATE', [manuscript]);
    const { rows } = await holder.query<{ pid: number }>('SELECT pg_backend_pid() AS pid');
    const blocked = 'SELECT 1 FROM pg_stat_activity WHERE $1 = ANY (pg_blocking_pids(pid))';
    let done = false;
    const asked = act().finally(() => void (done = true));
    asked.catch(() => undefined);
    while (!done && !(await watcher.query(blocked, [rows[0]!.pid])).rowCount)
      await new Promise((resolve) => setTimeout(resolve, 10));
    await change(holder);
    await holder.query('COMMIT');
    return await asked;
  } finally {
    await Promise.all([holder.end(), watcher.end()]);
  }
}

/** Gives somebody another role in a manuscript, by the database alone. */
export const giveRole = (manuscript: string, person: string, role: string) => (client: Client) =>
  client.query('UPDATE members SET role = $3 WHERE manuscript_id = $1 AND person_id = $2', [manuscript, person, role]);
