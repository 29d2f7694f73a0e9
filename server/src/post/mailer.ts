import { Injectable, Logger, type OnModuleDestroy, type OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import nodemailer from 'nodemailer';
import { DataSource, In, type EntityManager } from 'typeorm';
import { NoticeRow, OutboxRow, PersonRow } from '../database/entities.js';
import { letterOf, type Letter } from './letter.js';
import { namesIn, noticesOf } from './post.service.js';

/** How often one looks for what is to go out, in milliseconds. */
const beat = 1000;
/** Where nothing has come for so long, what came before goes out as one mail; at the latest after ten times as long. */
const quiet = Number(process.env.TEA_PENCIL_MAIL_PAUSE ?? 60) * 1000;
/** After a mail could not be sent it is tried again so much later, in milliseconds. */
const patience = 60_000;

const server = process.env.TEA_PENCIL_SMTP_URL;
const sender = process.env.TEA_PENCIL_MAIL_FROM ?? 'Tea Pencil <post@tea-pencil.example>';
const home = process.env.TEA_PENCIL_URL ?? `http://localhost:${process.env.TEA_PENCIL_PORT ?? 4870}`;

/** Sends notices out as mail: over the server that is set, else into the outbox that ships with the app. */
@Injectable()
export class Mailer implements OnModuleInit, OnModuleDestroy {
  readonly #logger = new Logger('Mailer');
  readonly #transport = server
    ? nodemailer.createTransport(server)
    : nodemailer.createTransport({ streamTransport: true, buffer: true, newline: 'unix' });
  #timer: ReturnType<typeof setInterval> | undefined;
  #busy = false;
  /** When to try again, by person. */
  readonly #notBefore = new Map<string, number>();

  constructor(@InjectDataSource() private readonly database: DataSource) {}

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
      while (await this.#sendNext());
    } catch (problem) {
      this.#logger.warn(`Mail waits: ${String(problem)}`); // the database is away; the next round tries again
    } finally {
      this.#busy = false;
    }
  }

  /** One mail to one person with all that waits for them. Of several processes one takes it. @returns whether there was one */
  #sendNext(): Promise<boolean> {
    return this.database.transaction(async (manager) => {
      const waiting = await manager.query<{ person_id: string }[]>(
        `SELECT person_id FROM notices WHERE goes_out AND mailed_at IS NULL GROUP BY person_id
         HAVING max(at) < now() - $1 * interval '1 millisecond' OR min(at) < now() - $2 * interval '1 millisecond'`,
        [quiet, quiet * 10],
      );
      for (const { person_id: person } of waiting) {
        if (Date.now() < (this.#notBefore.get(person) ?? 0)) continue;
        const rows = await manager.query<{ id: string; read_at: Date | null }[]>(
          `SELECT id, read_at FROM notices WHERE person_id = $1 AND goes_out AND mailed_at IS NULL
           ORDER BY at FOR UPDATE SKIP LOCKED`,
          [person],
        );
        if (!rows.length) continue;
        // What has been read in the app needs no mail any more.
        const unread = rows.filter((row) => row.read_at === null).map(({ id }) => id);
        if (!(await this.#sent(manager, person, unread))) continue;
        await manager.update(NoticeRow, { id: In(rows.map(({ id }) => id)) }, { mailedAt: new Date() });
        return true;
      }
      return false;
    });
  }

  /** Whether a mail went out, or none was needed. One that cannot be delivered waits, and holds up nobody else's. */
  async #sent(manager: EntityManager, person: string, notices: readonly string[]): Promise<boolean> {
    try {
      await this.#send(manager, person, notices);
      this.#notBefore.delete(person);
      return true;
    } catch (problem) {
      this.#notBefore.set(person, Date.now() + patience);
      this.#logger.warn(`A mail waits: ${String(problem)}`);
      return false;
    }
  }

  async #send(manager: EntityManager, personId: string, ids: readonly string[]): Promise<void> {
    const notices = ids.length ? (await noticesOf(manager, personId, ids)).reverse() : [];
    const person = await manager.findOne(PersonRow, {
      where: { id: personId },
      select: { id: true, name: true, mail: true },
    });
    if (!notices.length || !person?.mail) return;
    const names = await namesIn(manager, notices);
    const letter = letterOf(notices, (id) => names.get(id) ?? 'someone', home);
    const recipient = { name: person.name, address: person.mail };
    const { subject, plain, html } = letter;
    const sent = await this.#transport.sendMail({ from: sender, to: recipient, subject, text: plain, html });
    if (!server) await this.#keep(manager, person, letter, (sent as { message: Buffer }).message);
  }

  async #keep(manager: EntityManager, person: PersonRow, letter: Letter, raw: Buffer): Promise<void> {
    const recipient = `${person.name} <${person.mail}>`;
    await manager.insert(OutboxRow, { id: nanoid(12), personId: person.id, recipient, ...letter, raw });
  }
}

/** Whether mail goes into the outbox instead of out. */
export const standsIn = !server;
