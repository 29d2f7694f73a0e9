import pg from 'pg';

/**
 * A pool of connections beside TypeORM's, for packages that want one. A connection that is lost, idle or at work, is
 * replaced at the next query; it must not end the process.
 */
export function poolOf(connectionString: string, max: number): pg.Pool {
  const pool = new pg.Pool({ connectionString, max });
  pool.on('error', () => undefined);
  pool.on('connect', (client) => client.on('error', () => undefined));
  return pool;
}
