import {
  Injectable,
  Logger,
  ServiceUnavailableException,
  type OnModuleDestroy,
  type OnModuleInit,
} from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import nodemailer from 'nodemailer';
import { DataSource, Any } from 'typeorm';
import { NoticeRow, OutboxRow, PersonRow } from '../database/entities.js';
import { Settings } from '../settings/settings.js';
import { letterOf, type Letter } from './letter.js';
import { namesIn, noticesOf } from './read-notices.js';
import { wentWrong } from '../running/log.js';

/** How often one looks for what is to go out, in milliseconds. */
const beat = 1000;
/** After a mail could not be sent it is tried again so much later, in milliseconds. */
const patience = 60_000;
/** What a process took on and has not sent after so many minutes another one takes on. */
const forgotten = 5;

/** Notices that a process has taken on to send to one person. */
interface Claim {
  person: string;
  notices: string[];
  /** Those that the person has not read in the app yet. */
  unread: string[];
}

/** Who a letter goes to. */
export interface Addressee {
  name: string;
  mail: string;
}

interface Ready {
  person: string;
  to: Addressee;
  letter: Letter;
}

/**
 * Sends notices out as mail: over the server that is set, else into the outbox that ships with the app. They are claimed
 * first, sent while nothing is locked, and marked after.
 */
@Injectable()
export class Mailer implements OnModuleInit, OnModuleDestroy {
  readonly #logger = new Logger('Mailer');
  readonly #transport;
  #timer: ReturnType<typeof setInterval> | undefined;
  #busy = false;
  /** When to try again, by person. */
  readonly #notBefore = new Map<string, number>();

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly settings: Settings,
  ) {
    const { server } = settings.mail;
    this.#transport = server
      ? nodemailer.createTransport(server)
      : nodemailer.createTransport({ streamTransport: true, buffer: true, newline: 'unix' });
  }

  onModuleInit(): void {
    this.#timer = setInterval(() => void this.#round(), beat).unref();
  }
  onModuleDestroy(): void {
    clearInterval(this.#timer);
  }

  async #round(): Promise<void> {
    if (this.#busy) return;
    this.#busy = true;
    try {
      for (let claim = await this.#claim(); claim; claim = await this.#claim()) await this.#deliver(claim);
    } catch (problem) {
      this.#logger.warn(wentWrong('mail waits', problem)); // the database is away; the next round tries again
    } finally {
      this.#busy = false;
    }
  }

  /** Takes on all that waits for one person and has waited long enough. Of several processes one gets it. */
  async #claim(): Promise<Claim | null> {
    const free = `goes_out AND mailed_at IS NULL
      AND (claimed_at IS NULL OR claimed_at < now() - interval '${forgotten} minutes')`;
    const { pause } = this.settings.mail;
    const due = `SELECT person_id FROM notices WHERE ${free} GROUP BY person_id
      HAVING max(at) < now() - $1 * interval '1 millisecond' OR min(at) < now() - $2 * interval '1 millisecond'`;
    const pauses = [pause, pause * 10];
    const waiting = await this.database.query<{ person_id: string }[]>(due, pauses);
    for (const { person_id: person } of waiting) {
      if (Date.now() < (this.#notBefore.get(person) ?? 0)) continue;
      const [rows] = await this.database.query<[{ id: string; read_at: Date | null }[], number]>(
        // Asked once more in the same moment: a burst that has begun meanwhile is waited for.
        `UPDATE notices SET claimed_at = now() WHERE id IN (
           SELECT id FROM notices WHERE person_id = $3 AND person_id IN (${due}) AND ${free} FOR UPDATE SKIP LOCKED)
         RETURNING id, read_at`,
        [...pauses, person],
      );
      if (!rows.length) continue;
      // What has been read in the app needs no mail any more.
      const unread = rows.filter((row) => row.read_at === null).map(({ id }) => id);
      return { person, notices: rows.map(({ id }) => id), unread };
    }
    return null;
  }

  /** Sends what was claimed. What cannot be delivered waits, and holds up nobody else's. */
  async #deliver({ person, notices, unread }: Claim): Promise<void> {
    const which = { id: Any(notices) };
    try {
      const ready = await this.#letter(person, unread);
      const sent = ready && (await this.#send(ready.to, ready.letter));
      await this.database.transaction(async (manager) => {
        if (ready && sent) await manager.insert(OutboxRow, kept(ready.to, ready.letter, sent, person));
        await manager.update(NoticeRow, which, { mailedAt: new Date(), claimedAt: null });
      });
      this.#notBefore.delete(person);
    } catch (problem) {
      this.#notBefore.set(person, Date.now() + patience);
      this.#logger.warn(wentWrong('a mail waits', problem));
      await this.database.getRepository(NoticeRow).update(which, { claimedAt: null });
    }
  }

  /** What there is to send to someone, if there is anything and they can be written to. */
  async #letter(personId: string, ids: readonly string[]): Promise<Ready | null> {
    const { manager } = this.database;
    const notices = ids.length ? (await noticesOf(manager, personId, ids)).reverse() : [];
    const person = await manager.findOne(PersonRow, {
      where: { id: personId },
      select: { id: true, name: true, mail: true },
    });
    if (!notices.length || !person?.mail) return null;
    const names = await namesIn(manager, notices);
    const letter = letterOf(notices, (id) => names.get(id) ?? 'someone', this.settings.home);
    return { person: person.id, to: { name: person.name, mail: person.mail }, letter };
  }

  /**
   * Sends one letter at once, to an address that need not be its reader's yet.
   * @param shownTo in whose outboxes it stands, where no mail is sent
   * @throws ServiceUnavailableException when it cannot be handed over
   */
  async write(to: Addressee, letter: Letter, shownTo: readonly string[]): Promise<void> {
    let sent: Buffer | null;
    try {
      sent = await this.#send(to, letter);
    } catch (problem) {
      this.#logger.warn(wentWrong('a letter could not be sent', problem));
      throw new ServiceUnavailableException('Mail cannot be sent to this address just now. Please try again later.');
    }
    if (!sent) return;
    for (const person of new Set(shownTo))
      await this.database.getRepository(OutboxRow).insert(kept(to, letter, sent, person));
  }

  /** Hands a letter to the server for mail; without one, what would have been handed over. */
  async #send({ name, mail: address }: Addressee, { subject, plain: text, html }: Letter): Promise<Buffer | null> {
    const { from, server } = this.settings.mail;
    const sent: unknown = await this.#transport.sendMail({ from, to: { name, address }, subject, text, html });
    return server ? null : (sent as { message: Buffer }).message;
  }
}

const kept = ({ name, mail }: Addressee, letter: Letter, raw: Buffer, personId: string) => ({
  id: nanoid(12),
  personId,
  recipient: name ? `${name} <${mail}>` : mail,
  ...letter,
  raw,
});
