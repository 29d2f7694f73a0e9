import pg from 'pg';

/**
 * A pool of connections beside TypeORM's, for packages that want one. A connection that is lost, idle or at work, is
 * replaced at the next query; it must not end the process.
 * @param seconds how long a statement may take: what is asked at every request is little, and every request waits for it
 */
export function poolOf(connectionString: string, max: number, seconds = 6): pg.Pool {
  const limits = { connectionTimeoutMillis: 8000, statement_timeout: 1000 * seconds };
  const pool = new pg.Pool({ connectionString, max, ...limits, query_timeout: limits.statement_timeout + 2000 });
  pool.on('error', () => undefined);
  pool.on('connect', (client) => client.on('error', () => undefined));
  return pool;
}
