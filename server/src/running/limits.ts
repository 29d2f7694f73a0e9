import { Global, Injectable, Module } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { RateLimiterMemory, RateLimiterPostgres, type RateLimiterRes } from 'rate-limiter-flexible';
import { DataSource } from 'typeorm';
import type { Asker } from './asker.js';
import { Settings } from '../settings/settings.js';
import { TurnsOf } from '../work/turns.js';
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
/** Letters by which one person invites others: a class is invited in one go. */
const invitations: Limit = { points: 200, duration: 3600 };
/** Passwords and passphrases that somebody who is in already gives once more, and those of one link or seal. */
const proofs: Limit = { points: 10, duration: 900 };
const secretsOfOne: Limit = { points: 50, duration: 900 };
/**
 * What can be done from one address before one is in: looking at what a link holds, coming in as a guest, asking for
 * letters. Several people may be behind one, so these grow with how many requests one person may send.
 */
const atDoor: Limit = { points: 60, duration: 60 };
const guests: Limit = { points: 40, duration: 600 };
const lettersAsked: Limit = { points: 40, duration: 3600 };
const usualRequests = 1200;
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
  readonly #invitations: RateLimiterPostgres;
  readonly #proofs: RateLimiterPostgres;
  readonly #secrets: RateLimiterPostgres;
  readonly #atDoor: RateLimiterPostgres;
  readonly #guests: RateLimiterPostgres;
  readonly #lettersAsked: RateLimiterPostgres;
  readonly #messages = messages.map((limit) => new RateLimiterMemory(limit));
  readonly #messagesOfOne = new RateLimiterMemory(messagesOfOne);
  readonly #trying = new TurnsOf();
  /** What comes from a person and is copied for them, in bytes an hour: many books, and not a disk; each process for itself. */
  readonly #brought: RateLimiterMemory;

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
    this.#invitations = kept('invitation', invitations);
    this.#proofs = kept('proof', proofs);
    this.#secrets = kept('secret', secretsOfOne);
    const grown = ({ points, duration }: Limit): Limit => ({
      points: Math.max(points, Math.round((points * settings.requests) / usualRequests)),
      duration,
    });
    this.#brought = new RateLimiterMemory({ points: settings.megabytes * 1_000_000, duration: 3600 });
    this.#atDoor = kept('door', grown(atDoor));
    this.#guests = kept('guest', grown(guests));
    this.#lettersAsked = kept('letter-asked', grown(lettersAsked));
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

  /** The same of a letter that invites somebody. */
  async mayInvite(person: string, address: string): Promise<boolean> {
    return (await allowed(this.#invitations, person)) && (await allowed(this.#letters, address.toLowerCase()));
  }

  /** Whether a person may show once more that it is they, by their password. */
  mayProve = (person: string): Promise<boolean> => allowed(this.#proofs, person);

  /**
   * Has somebody try the passphrase of a link or seal, one try of theirs after the other. Only wrong ones count: so many of
   * theirs; and once there were many by all together, one for each who has had none.
   * @returns whether it was right; null where they may not try just now
   */
  tried(secret: string, who: string, isRight: () => Promise<boolean>): Promise<boolean | null> {
    const key = `${secret} ${who}`;
    return this.#trying.of(key, async () => {
      const [mine, all] = await Promise.all([this.#proofs.get(key), this.#secrets.get(secret)]);
      const own = mine?.consumedPoints ?? 0;
      if (own >= proofs.points || (own > 0 && (all?.consumedPoints ?? 0) >= secretsOfOne.points)) return null;
      const right = await isRight();
      if (!right) await Promise.all([this.#proofs.penalty(key), this.#secrets.penalty(secret)]);
      return right;
    });
  }

  /** Whether one may look once more, from an address, at what a link or letter holds. */
  mayLook = (address: string): Promise<boolean> => allowed(this.#atDoor, address);

  /** Whether somebody who is not in may have a letter sent. */
  async mayAskFor(from: string, mail: string): Promise<boolean> {
    return (await allowed(this.#lettersAsked, from)) && (await allowed(this.#letters, mail.toLowerCase()));
  }

  /** Whether one more guest may come in from an address. */
  mayEnter = (address: string): Promise<boolean> => allowed(this.#guests, address);

  maySignIn = (address: string): Promise<boolean> => allowed(this.#signIns, address);

  /** Takes note of so many bytes that came from a person or were copied for them. */
  bring = (person: string, bytes: number): void => void this.#brought.penalty(person, bytes);

  /** Whether more may come from a person that is to be kept. */
  async mayBringMore(person: string): Promise<boolean> {
    const found = await this.#brought.get(person);
    return !found || found.consumedPoints < this.#brought.points;
  }

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
