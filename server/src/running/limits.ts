import { Global, Injectable, Module } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { RateLimiterMemory, RateLimiterPostgres, type RateLimiterRes } from 'rate-limiter-flexible';
import { DataSource } from 'typeorm';
import { DatabaseModule } from '../database/database.module.js';

/** How often something may be done in how many seconds. */
interface Limit {
  points: number;
  duration: number;
}

/**
 * Sign-ins by one address: guessing passwords is slowed down, whichever process is asked. Counted in PostgreSQL, and in
 * this process alone while the database is away.
 */
const signIns: Limit = { points: 30, duration: 60 };
/** Messages of one live connection, which stays with one process: bursts are let through, floods are not. */
const messages: Limit[] = [
  { points: 400, duration: 4 },
  { points: 100 * 60, duration: 60 },
];

const isOver = (answer: unknown): answer is RateLimiterRes =>
  typeof (answer as Partial<RateLimiterRes> | null)?.msBeforeNext === 'number';

/** Whether something may be done once more now; of a limiter that cannot be asked the answer is yes. */
async function allowed(limiter: RateLimiterPostgres | RateLimiterMemory, key: string): Promise<boolean> {
  try {
    await limiter.consume(key);
    return true;
  } catch (answer) {
    if (isOver(answer)) return false;
    throw answer;
  }
}

/** Limits of rate. */
@Injectable()
export class Limits {
  readonly #signIns: RateLimiterPostgres;
  readonly #messages = messages.map((limit) => new RateLimiterMemory(limit));

  constructor(@InjectDataSource() database: DataSource) {
    this.#signIns = new RateLimiterPostgres({
      ...signIns,
      storeClient: database,
      storeType: 'typeorm',
      tableName: 'rate_limits',
      tableCreated: true,
      keyPrefix: 'sign-in',
      insuranceLimiter: new RateLimiterMemory(signIns),
    });
  }

  maySignIn = (address: string): Promise<boolean> => allowed(this.#signIns, address);

  /** Whether a connection may send another message now. */
  async maySend(connection: string): Promise<boolean> {
    for (const limiter of this.#messages) if (!(await allowed(limiter, connection))) return false;
    return true;
  }
}

@Global()
@Module({ imports: [DatabaseModule], providers: [Limits], exports: [Limits] })
export class LimitsModule {}
