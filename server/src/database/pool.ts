import pg from 'pg';

/**
 * A connection that can be lost at any moment without ending the process. A pool listens while a connection is idle, and
 * whoever has taken it out listens once they have it; what PostgreSQL says in between, as when it goes in the moment in
 * which a connection is made, would be heard by nobody. Whoever asks next is told that it has gone.
 */
export class SteadyClient extends pg.Client {
  constructor(config?: string | pg.ClientConfig) {
    super(config);
    this.on('error', () => undefined);
  }
}

/**
 * A pool of connections beside TypeORM's, for packages that want one. A connection that is lost, idle or at work, is
 * replaced at the next query.
 * @param seconds how long a statement may take: what is asked at every request is little, and every request waits for it
 */
export function poolOf(connectionString: string, max: number, seconds = 6): pg.Pool {
  const limits = { connectionTimeoutMillis: 8000, statement_timeout: 1000 * seconds };
  const query_timeout = limits.statement_timeout + 2000;
  const pool = new pg.Pool({ connectionString, max, ...limits, query_timeout, Client: SteadyClient });
  pool.on('error', () => undefined);
  return pool;
}
