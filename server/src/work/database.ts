import { workerData } from 'node:worker_threads';
import type pg from 'pg';
import { poolOf } from '../database/pool.js';
import type { Asking } from '../database/asking.js';

/** The database, for a thread that works. */

let pool: pg.Pool | undefined;
export const database = (): pg.Pool => (pool ??= poolOf((workerData as { databaseUrl: string }).databaseUrl, 1, 60));

/** Asks it. */
export const ask: Asking = async <Row>(sql: string, values: unknown[]) =>
  (await database().query(sql, values)).rows as Row[];
