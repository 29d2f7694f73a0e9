import {
  BadRequestException,
  ConflictException,
  ForbiddenException,
  GoneException,
  HttpException,
  Injectable,
  Logger,
  NotFoundException,
  type OnModuleDestroy,
  type OnModuleInit,
} from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import { DataSource, IsNull, type EntityManager } from 'typeorm';
import { initialsOf } from '@tea-pencil/core';
import type { GuestLink, LinkTold, Role } from '@tea-pencil/wire';
import { ManuscriptRow, PersonRow } from '../database/entities.js';
import { GrantRow, GuestRow, LinkRow } from '../database/sharing-entities.js';
import { lookOf } from '../names/names.js';
import { PeopleService } from '../people/people.service.js';
import type { Member } from '../policy/may.js';
import { Limits } from '../running/limits.js';
import { wentWrong } from '../running/log.js';
import { idIn, isPassword, isToken, newToken, passwordHash } from '../secrets/secrets.js';
import { Settings } from '../settings/settings.js';
import { Grants } from './grants.js';

/** How often one looks for links whose time is over, in milliseconds. */
const beat = 2000;

export interface LinkAsked {
  name: string;
  role: Role;
  passphrase: string | null;
  endsAt: string | null;
  mostUses: number | null;
}

/** Why nobody comes by a link any more. */
function endedBy({ endedAt, endsAt, mostUses, uses }: LinkRow): GuestLink['ended'] {
  if (endedAt) return 'ended';
  if (endsAt && endsAt.getTime() <= Date.now()) return 'over';
  return mostUses !== null && uses >= mostUses ? 'used up' : null;
}
const reasons = {
  ended: 'This link has been ended.',
  over: 'The time of this link is over.',
  'used up': 'This link has been used as often as it may be.',
} as const;

const ended = 'The link by which you came has ended. What you wrote while it held stays in the manuscript.';

/** Links for guests: people without an account, who see one manuscript and nothing else of the house. */
@Injectable()
export class LinksService implements OnModuleInit, OnModuleDestroy {
  readonly #logger = new Logger('Links');
  #timer: ReturnType<typeof setInterval> | undefined;

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly people: PeopleService,
    private readonly limits: Limits,
    private readonly grants: Grants,
    private readonly settings: Settings,
  ) {}

  onModuleInit(): void {
    this.#timer = setInterval(() => void this.#closeOver(), beat).unref();
  }
  onModuleDestroy(): void {
    clearInterval(this.#timer);
  }

  /** Closes open screens of guests whose link's time is over; what they ask for is refused from that moment on anyway. */
  async #closeOver(): Promise<void> {
    try {
      const over = await this.database.query<{ manuscript_id: string }[]>(
        'SELECT DISTINCT manuscript_id FROM members WHERE until <= now()',
      );
      for (const { manuscript_id: id } of over) await this.grants.change(id, null, () => Promise.resolve(), ended);
    } catch (problem) {
      this.#logger.warn(wentWrong('links wait to be closed', problem));
    }
  }

  /** @returns the address that leads in, told this once: only its hash is kept */
  async make(by: Member, { name, role, passphrase, endsAt, mostUses }: LinkAsked): Promise<{ address: string }> {
    const { manuscriptId, personId } = by;
    if (endsAt !== null && Date.parse(endsAt) <= Date.now())
      throw new BadRequestException('The day on which a link ends must lie ahead. No link was made.');
    const { id, token, hash } = newToken();
    const passphraseHash = passphrase === null ? null : await passwordHash(passphrase);
    await this.grants.change(manuscriptId, { person: personId, act: 'look after people' }, async (manager) => {
      const row = { id, manuscriptId, name: this.people.readable(name), tokenHash: hash, passphraseHash, mostUses };
      await manager.insert(LinkRow, { ...row, endsAt: endsAt === null ? null : new Date(endsAt), madeBy: personId });
      await manager.insert(GrantRow, {
        id: nanoid(12),
        manuscriptId,
        linkId: id,
        role,
        takesAway: false,
        invites: false,
      });
    });
    return { address: `${this.settings.home}/g/${token}` };
  }

  async list(manuscriptId: string): Promise<GuestLink[]> {
    const { manager } = this.database;
    const rows = await manager.find(LinkRow, { where: { manuscriptId }, order: { madeAt: 'ASC' } });
    const grants = new Map((await manager.findBy(GrantRow, { manuscriptId })).map((one) => [one.linkId, one.role]));
    const guests = await manager.query<{ link_id: string; person: string; name: string; came_at: Date }[]>(
      `SELECT link_id, person_id AS person, people.name, came_at FROM guests JOIN people ON people.id = person_id
         JOIN links ON links.id = link_id WHERE manuscript_id = $1 ORDER BY came_at`,
      [manuscriptId],
    );
    return rows.map((row) => ({
      id: row.id,
      name: row.name,
      role: grants.get(row.id) ?? 'reader',
      passphrase: row.passphraseHash !== null,
      endsAt: row.endsAt?.toISOString() ?? null,
      mostUses: row.mostUses,
      by: row.madeBy,
      madeAt: row.madeAt.toISOString(),
      guests: guests
        .filter((guest) => guest.link_id === row.id)
        .map(({ person, name, came_at }) => ({ person, name, cameAt: came_at.toISOString() })),
      ended: endedBy(row),
    }));
  }

  /** Ends a link: whoever came by it is outside at once. @param by null: a keeper of the house */
  async end(id: string, by: Member | null): Promise<void> {
    const links = this.database.getRepository(LinkRow);
    const row = await links.findOneBy({ id, ...(by && { manuscriptId: by.manuscriptId }) });
    if (!row || row.endedAt) throw new NotFoundException('There is no such link that is still open.');
    const acting = by && ({ person: by.personId, act: 'look after people' } as const);
    const close = (manager: EntityManager) =>
      manager.update(LinkRow, { id, endedAt: IsNull() }, { endedAt: new Date() });
    await this.grants.change(row.manuscriptId, acting, close, ended);
  }

  /** The link an address holds. @throws GoneException with the reason where nobody comes by it any more */
  async #held(manager: EntityManager, token: string, lock = false): Promise<LinkRow> {
    const row = await manager.findOne(LinkRow, {
      where: { id: idIn(token) },
      ...(lock && { lock: { mode: 'pessimistic_write' as const } }),
    });
    if (!row || !isToken(token, row.tokenHash))
      throw new NotFoundException('This link is not known here. It may be cut short.');
    const manuscript = await manager.findOneBy(ManuscriptRow, { id: row.manuscriptId });
    if (!manuscript || manuscript.deletedAt) throw new GoneException(reasons.ended);
    const why = endedBy(row);
    if (why) throw new GoneException(`${reasons[why]} Ask whoever sent it to you.`);
    return row;
  }

  /** What a link leads to; before its passphrase is given nothing of that. */
  async told(token: string): Promise<LinkTold> {
    const { manager } = this.database;
    const row = await this.#held(manager, token);
    const by = await manager.findOneByOrFail(PersonRow, { id: row.madeBy });
    const grant = await manager.findOneByOrFail(GrantRow, { linkId: row.id });
    const passphrase = row.passphraseHash !== null;
    const { title } = await manager.findOneByOrFail(ManuscriptRow, { id: row.manuscriptId });
    return { title: passphrase ? null : title, by: passphrase ? '' : by.name, role: grant.role, passphrase };
  }

  /**
   * Lets a guest in, under a name that nobody has there.
   * @param address from which they come
   */
  async enter(
    token: string,
    { name, passphrase }: { name: string; passphrase: string | null },
    address: string,
  ): Promise<{ person: string; manuscript: string }> {
    if (!(await this.limits.mayEnter(address)))
      throw new HttpException('Too many guests came in from here. Please wait a few minutes.', 429);
    const { id: link, manuscriptId, passphraseHash } = await this.#held(this.database.manager, token);
    if (passphraseHash !== null) {
      const right = await this.limits.tried(`link ${link}`, address, () =>
        isPassword(passphrase ?? '', passphraseHash),
      );
      if (right === null) throw new HttpException('Too many tries. Please wait a quarter of an hour.', 429);
      if (!right) throw new ForbiddenException('This is not the passphrase of the link.');
    }
    const called = this.people.readable(name);
    const person = nanoid(12);
    await this.grants.change(manuscriptId, null, async (manager) => {
      const row = await this.#held(manager, token, true);
      await this.people.free(manager, person, called, manuscriptId).catch((problem: unknown) => {
        if (problem instanceof ConflictException)
          throw new ConflictException('Somebody here is called so already. Please choose another name.');
        throw problem;
      });
      await manager.insert(PersonRow, {
        id: person,
        name: called,
        look: lookOf(called),
        initials: initialsOf(called),
        standing: 'guest',
        login: null,
        note: 'guest',
        seenAt: new Date(),
      });
      await manager.insert(GuestRow, { personId: person, linkId: row.id });
      await manager.update(LinkRow, row.id, { uses: row.uses + 1 });
    });
    return { person, manuscript: manuscriptId };
  }
}
