import { Global, Injectable, Module } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { RateLimiterMemory, RateLimiterPostgres, type RateLimiterRes } from 'rate-limiter-flexible';
import { DataSource } from 'typeorm';
import type { Asker } from './asker.js';
import { Settings } from '../settings/settings.js';
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
/** Letters that ask whether an address is somebody's: of one person, and to one address, whoever asks. */
const letters: Limit = { points: 5, duration: 3600 };
/** Live connections that one person opens: every window has one, and opens it anew when it was lost. */
const connections: Limit = { points: 300, duration: 60 };
/**
 * Messages of one live connection, which stays with one process: bursts are let through, floods are not; and of one
 * person over all of them.
 */
const messages: Limit[] = [
  { points: 400, duration: 4 },
  { points: 100 * 60, duration: 60 },
];
const messagesOfOne: Limit = { points: 300 * 60, duration: 60 };

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
  readonly #requests: RateLimiterPostgres;
  readonly #addresses: RateLimiterPostgres;
  readonly #connections: RateLimiterPostgres;
  readonly #letters: RateLimiterPostgres;
  readonly #messages = messages.map((limit) => new RateLimiterMemory(limit));
  readonly #messagesOfOne = new RateLimiterMemory(messagesOfOne);

  constructor(@InjectDataSource() database: DataSource, settings: Settings) {
    const kept = (keyPrefix: string, limit: Limit) =>
      new RateLimiterPostgres({
        ...limit,
        storeClient: database,
        storeType: 'typeorm',
        tableName: 'rate_limits',
        tableCreated: true,
        keyPrefix,
        insuranceLimiter: new RateLimiterMemory(limit),
      });
    this.#signIns = kept('sign-in', signIns);
    this.#requests = kept('request', { points: settings.requests, duration: 60 });
    this.#addresses = kept('address', { points: 5 * settings.requests, duration: 60 });
    this.#connections = kept('connection', connections);
    this.#letters = kept('letter', letters);
  }

  /** Whether somebody may ask for something once more; behind one address there may be several. */
  mayAsk = (who: Asker): Promise<boolean> =>
    'person' in who ? allowed(this.#requests, who.person) : allowed(this.#addresses, who.address);

  /** Whether a person may open one more live connection. */
  mayConnect = (person: string): Promise<boolean> => allowed(this.#connections, person);

  /** Whether a person may have a letter sent to an address that is not known to be theirs. */
  async mayWrite(person: string, address: string): Promise<boolean> {
    return (await allowed(this.#letters, person)) && (await allowed(this.#letters, address.toLowerCase()));
  }

  maySignIn = (address: string): Promise<boolean> => allowed(this.#signIns, address);

  /** Whether a person may send another message over a connection now. */
  async maySend(connection: string, person: string): Promise<boolean> {
    if (!(await allowed(this.#messagesOfOne, person))) return false;
    for (const limiter of this.#messages) if (!(await allowed(limiter, connection))) return false;
    return true;
  }
}

@Global()
@Module({ imports: [DatabaseModule], providers: [Limits], exports: [Limits] })
export class LimitsModule {}
