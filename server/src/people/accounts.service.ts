import {
  BadRequestException,
  ConflictException,
  ForbiddenException,
  HttpException,
  Injectable,
  Logger,
  NotFoundException,
} from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import { DataSource, type EntityManager } from 'typeorm';
import { initialsOf } from '@tea-pencil/core';
import { PersonRow, PortraitRow } from '../database/entities.js';
import { ResetRow } from '../database/sharing-entities.js';
import { violates } from '../database/violations.js';
import { lookOf } from '../names/names.js';
import { Mailer } from '../post/mailer.js';
import { Limits } from '../running/limits.js';
import { wentWrong } from '../running/log.js';
import { idIn, isPassword, isToken, newToken, passwordHash, wrongWithPassword } from '../secrets/secrets.js';
import { Settings } from '../settings/settings.js';
import { ConfirmingService } from './confirming.service.js';
import { resetting } from './letters.js';
import { PeopleService } from './people.service.js';

/** The number under which PostgreSQL holds the lock of beginning a house: "door" in letters. */
const door = 0x646f6f72;
/** How long the link of a letter for a new password holds, in milliseconds. */
const holds = 3600_000;

export interface NewAccount {
  name: string;
  /** Where mail goes, and by what they sign in. */
  mail: string;
  /** The hash of their password, if they have one. */
  hash: string | null;
  /** Whether they have shown that the address is theirs. */
  confirmed: boolean;
  keepsHouse?: boolean;
}

/** Someone of an account, as signing in needs them. */
interface Found {
  id: string;
  name: string;
  mail: string | null;
  login: string;
}

/** Accounts: how they come to be, are opened with a password, and end. */
@Injectable()
export class AccountsService {
  readonly #logger = new Logger('Accounts');

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly people: PeopleService,
    private readonly confirming: ConfirmingService,
    private readonly mailer: Mailer,
    private readonly limits: Limits,
    private readonly settings: Settings,
  ) {}

  /** Whether anybody has an account. */
  begun = (): Promise<boolean> => this.database.getRepository(PersonRow).existsBy({ standing: 'account' });

  /** The first person of a house, who looks after it. @throws ConflictException where there is one already */
  async begin(name: string, mail: string, password: string): Promise<string> {
    const hash = await this.hash(password, name, mail);
    const id = await this.database.transaction(async (manager) => {
      await manager.query('SELECT pg_advisory_xact_lock($1)', [door]);
      if (await manager.existsBy(PersonRow, { standing: 'account' }))
        throw new ConflictException('This house has been begun already. Sign in, or ask somebody in it to invite you.');
      return this.create(manager, { name, mail, hash, confirmed: false, keepsHouse: true });
    });
    // Nothing hangs on that letter yet: it can be sent again.
    const about = { id, name, mail: null };
    await this.confirming
      .ask(about, mail)
      .catch((problem: unknown) => this.#logger.warn(wentWrong('no letter to the first person', problem)));
    return id;
  }

  /**
   * The hash of a password that comes new; it takes so long that nobody should wait for it behind a lock.
   * @param theirs what its owner is called, by which nobody's password can be guessed
   * @throws BadRequestException for one that will not do
   */
  async hash(password: string, ...theirs: (string | null)[]): Promise<string> {
    const wrong = wrongWithPassword(password, ...theirs);
    if (wrong) throw new BadRequestException(wrong);
    return passwordHash(password);
  }

  /**
   * An account with an address by which its owner signs in.
   * @throws BadRequestException for a name that will not do, ConflictException for one that is taken
   */
  async create(
    manager: EntityManager,
    { name, mail, hash, confirmed, keepsHouse = false }: NewAccount,
  ): Promise<string> {
    const id = nanoid(12);
    const called = this.people.readable(name);
    await this.people.free(manager, id, called);
    try {
      await manager.insert(PersonRow, {
        id,
        name: called,
        look: lookOf(called),
        initials: initialsOf(called),
        login: mail.toLowerCase(),
        passwordHash: hash,
        standing: 'account',
        keepsHouse,
        mail: confirmed ? mail : null,
        seenAt: new Date(),
      });
    } catch (problem) {
      if (violates(problem, 'people_mail') || violates(problem, 'people_login_key'))
        throw new ConflictException('There is an account with this address already. Sign in with it.');
      throw problem;
    }
    return id;
  }

  /** One of the demo, with a login that is no address. */
  async createDemo(name: string, login: string, password: string, note: string, keepsHouse: boolean): Promise<string> {
    const id = nanoid(12);
    await this.database.getRepository(PersonRow).insert({
      id,
      name,
      look: lookOf(name),
      initials: initialsOf(name),
      login,
      passwordHash: await passwordHash(password),
      standing: 'account',
      note,
      keepsHouse,
      mail: `${login}@harrow-press.example`,
    });
    return id;
  }

  /** Who signs in by a name or an address; those alone whose account is open. */
  async find(
    by: string,
    within: Pick<EntityManager, 'query'> = this.database,
  ): Promise<(Found & { hash: string | null }) | null> {
    const [row] = await within.query<(Found & { hash: string | null })[]>(
      `SELECT id, name, mail, login, password_hash AS hash FROM people
       WHERE (login = $1 OR lower(mail) = $1) AND standing = 'account' AND locked_at IS NULL
       ORDER BY login <> $1 LIMIT 1`,
      [by.trim().toLowerCase()],
    );
    return row ?? null;
  }

  /** The id of the person with that name or address and password, or null. Takes as long for one that does not exist. */
  async signIn(by: string, password: string): Promise<string | null> {
    const person = await this.find(by);
    return (await isPassword(password, person?.hash)) ? person!.id : null;
  }

  /** Whether it is they who ask: by their password, where they have one. @throws ForbiddenException where it is not */
  async prove(id: string, password: string): Promise<PersonRow> {
    if (!(await this.limits.mayProve(id)))
      throw new HttpException('Too many tries. Please wait a quarter of an hour.', 429);
    const select = { id: true, name: true, login: true, mail: true, passwordHash: true, keepsHouse: true } as const;
    const row = await this.database.getRepository(PersonRow).findOneOrFail({ where: { id }, select });
    if (row.passwordHash !== null && !(await isPassword(password, row.passwordHash)))
      throw new ForbiddenException('This is not your password. Nothing was changed.');
    return row;
  }

  async setPassword(id: string, old: string, fresh: string): Promise<void> {
    const { name, login, mail } = await this.prove(id, old);
    const hash = await this.hash(fresh, name, login, mail);
    await this.database.getRepository(PersonRow).update(id, { passwordHash: hash });
  }

  /**
   * Sends a letter by which a password can be set anew, if there is such an account. Whoever asks is told the same either
   * way, and as soon: the letter is written behind.
   */
  async forgotten(mail: string, address: string): Promise<void> {
    if (!(await this.limits.mayAskFor(address, mail)))
      throw new HttpException('Too many letters were asked for. Please try again in an hour.', 429);
    void this.#sendReset(mail).catch((problem: unknown) =>
      this.#logger.warn(wentWrong('no letter for a new password', problem)),
    );
  }

  async #sendReset(mail: string): Promise<void> {
    const person = await this.find(mail);
    const to = person?.mail ?? (person?.login.includes('@') ? person.login : null);
    if (!person || !to) return;
    const { id, token, hash } = newToken();
    const endsAt = new Date(Date.now() + holds);
    await this.database.getRepository(ResetRow).insert({ id, personId: person.id, tokenHash: hash, endsAt });
    const link = `${this.settings.home}/password/${token}`;
    await this.mailer.write({ name: person.name, mail: to }, resetting(person.name, link), await this.houseKeepers());
  }

  /** Who looks after the house: where no mail is sent, letters to people who cannot come in are shown to them. */
  async houseKeepers(): Promise<string[]> {
    const keepers = await this.database
      .getRepository(PersonRow)
      .find({ where: { keepsHouse: true, standing: 'account' }, select: { id: true } });
    return keepers.map(({ id }) => id);
  }

  /** Sets a password by a letter, which then holds no more, nor any other. @returns whose it is */
  async reset(token: string, password: string): Promise<string> {
    return this.database.transaction(async (manager) => {
      const row = await manager.findOne(ResetRow, { where: { id: idIn(token) }, lock: { mode: 'pessimistic_write' } });
      if (!row || row.endsAt.getTime() < Date.now() || !isToken(token, row.tokenHash))
        throw new NotFoundException('This link holds no more. Ask for a new one.');
      const select = { id: true, name: true, login: true, lockedAt: true, standing: true } as const;
      const person = await manager.findOneOrFail(PersonRow, { where: { id: row.personId }, select });
      if (person.lockedAt || person.standing !== 'account')
        throw new ForbiddenException('This account is closed. Ask a keeper of the house.');
      const hash = await this.hash(password, person.name, person.login);
      await manager.update(PersonRow, person.id, { passwordHash: hash });
      await manager.delete(ResetRow, { personId: person.id });
      return person.id;
    });
  }

  /**
   * Ends an account. What its owner wrote stays, under their name or nobody's.
   * @param named whether it stays under their name
   */
  async end(manager: EntityManager, id: string, named: boolean): Promise<void> {
    const gone = 'Someone who left';
    await manager.update(PersonRow, id, {
      standing: 'left',
      login: null,
      passwordHash: null,
      mail: null,
      keepsHouse: false,
      ...(!named && { name: gone, initials: '–', look: '', note: null, portrait: null }),
    });
    if (!named) await manager.delete(PortraitRow, { personId: id });
    for (const table of [
      'asked_mail',
      'resets',
      'work_accounts',
      'notices',
      'outbox',
      'views',
      'desk_places',
      'group_people',
    ])
      await manager.query(`DELETE FROM ${table} WHERE person_id = $1`, [id]);
  }
}
