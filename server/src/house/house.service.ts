import { BadRequestException, ConflictException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, Any, IsNull, type EntityManager } from 'typeorm';
import type { Account, House, HousePerson } from '@tea-pencil/wire';
import { ManuscriptRow, PersonRow } from '../database/entities.js';
import { GrantRow, GuestRow, InvitationRow } from '../database/sharing-entities.js';
import { Broadcasting } from '../live/broadcasting.js';
import { AccountsService } from '../people/accounts.service.js';
import { HouseFacts } from '../people/house-facts.js';
import { PeopleService } from '../people/people.service.js';
import { Sessions } from '../people/sessions.service.js';
import { Grants } from '../sharing/grants.js';
import { asTold } from '../sharing/invitations.service.js';

/** The number under which PostgreSQL holds the lock of who keeps the house: "keep" in letters. */
const keeping = 0x6b656570;
const needsKeeper = 'A house needs somebody who looks after it: name another keeper of the house first.';

/** Looks after the accounts of a house. */
@Injectable()
export class HouseService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly people: PeopleService,
    private readonly accounts: AccountsService,
    private readonly sessions: Sessions,
    private readonly facts: HouseFacts,
    private readonly grants: Grants,
    private readonly live: Broadcasting,
  ) {}

  async view(): Promise<House> {
    return {
      people: await this.#people(),
      invitations: await this.#invitations(),
      links: await this.#links(),
      domains: await this.facts.domains(),
      unkept: await this.#unkept(),
    };
  }

  async #people(): Promise<HousePerson[]> {
    const rows = await this.database.query<
      (Account & {
        mail: string | null;
        keepshouse: boolean;
        locked: boolean;
        seen_at: Date | null;
        manuscripts: number;
      })[]
    >(
      `SELECT id, name, initials, standing, note, portrait, coalesce(mail, login) AS mail, keeps_house AS keepsHouse,
         locked_at IS NOT NULL AS locked, seen_at,
         (SELECT count(*)::int FROM members JOIN manuscripts ON manuscripts.id = manuscript_id
          WHERE person_id = people.id AND deleted_at IS NULL) AS manuscripts
       FROM people WHERE standing = 'account' ORDER BY name`,
    );
    return rows.map(({ keepshouse: keepsHouse, seen_at, ...row }) => ({
      ...row,
      keepsHouse,
      seenAt: seen_at?.toISOString() ?? null,
    }));
  }

  async #invitations(): Promise<House['invitations']> {
    const rows = await this.database.query<{ id: string; title: string | null; by_name: string | null }[]>(
      `SELECT invitations.id, title, people.name AS by_name FROM invitations
         LEFT JOIN manuscripts ON manuscripts.id = manuscript_id LEFT JOIN people ON people.id = made_by
       WHERE used_at IS NULL AND withdrawn_at IS NULL AND ends_at > now() ORDER BY invitations.made_at`,
    );
    const found = await this.database.getRepository(InvitationRow).findBy({ id: Any(rows.map(({ id }) => id)) });
    return rows.flatMap(({ id, title, by_name: byName }) => {
      const row = found.find((one) => one.id === id);
      return row ? [{ ...asTold(row), title, byName }] : [];
    });
  }

  async #links(): Promise<House['links']> {
    const rows = await this.database.query<
      (Omit<House['links'][number], 'endsAt' | 'byName'> & { ends_at: Date | null; by_name: string })[]
    >(
      `SELECT links.id, links.name, title, people.name AS by_name, role, ends_at,
         (SELECT count(*)::int FROM guests WHERE link_id = links.id) AS guests
       FROM links JOIN manuscripts ON manuscripts.id = manuscript_id JOIN people ON people.id = made_by
         JOIN grants ON grants.link_id = links.id
       WHERE ended_at IS NULL AND (ends_at IS NULL OR ends_at > now()) AND deleted_at IS NULL ORDER BY made_at`,
    );
    return rows.map(({ ends_at, by_name: byName, ...row }) => ({
      ...row,
      byName,
      endsAt: ends_at?.toISOString() ?? null,
    }));
  }

  /** Manuscripts all of whose keepers have left, or cannot come in. */
  async #unkept(): Promise<House['unkept']> {
    const rows = await this.database.query<{ id: string; title: string; members: string[] }[]>(
      `SELECT manuscripts.id, title, array_remove(array_agg(people.id), NULL) AS members
       FROM manuscripts LEFT JOIN members ON members.manuscript_id = manuscripts.id
         LEFT JOIN people ON people.id = person_id AND standing = 'account' AND locked_at IS NULL
       WHERE deleted_at IS NULL
       GROUP BY manuscripts.id HAVING count(*) FILTER (WHERE role = 'keeper' AND people.id IS NOT NULL) = 0 ORDER BY title`,
    );
    const people = await this.database
      .getRepository(PersonRow)
      .findBy({ id: Any(rows.flatMap(({ members }) => members)) });
    return rows.map(({ id, title, members }) => ({
      id,
      title,
      members: people.filter((one) => members.includes(one.id)),
    }));
  }

  /** Names keepers of the house, and locks accounts or opens them again. Somebody always looks after it. */
  async setPerson(
    me: string,
    id: string,
    { keepsHouse, locked }: { keepsHouse?: boolean; locked?: boolean },
  ): Promise<void> {
    if (locked && id === me) throw new BadRequestException('Nobody locks themselves out. Leave the house instead.');
    await this.#keeping(async (manager) => {
      const person = await manager.findOneBy(PersonRow, { id, standing: 'account' });
      if (!person) throw new NotFoundException('There is no such account.');
      await manager.update(PersonRow, id, {
        ...(keepsHouse !== undefined && { keepsHouse }),
        ...(locked !== undefined && { lockedAt: locked ? new Date() : null }),
      });
    });
    if (!locked) return;
    await this.sessions.endAll(id);
    for (const manuscript of await this.people.manuscriptsOf(id)) this.live.changed(manuscript, 'people');
  }

  /** Does something unless nobody would look after the house then, whoever else is changing that at that moment. */
  async #keeping<T>(work: (manager: EntityManager) => Promise<T>, mayBeEmpty = false): Promise<T> {
    return this.database.transaction(async (manager) => {
      await manager.query('SELECT pg_advisory_xact_lock($1)', [keeping]);
      const done = await work(manager);
      const [{ kept, some }] = await manager.query<[{ kept: boolean; some: boolean }]>(
        `SELECT bool_or(keeps_house AND locked_at IS NULL) AS kept, count(*) > 0 AS some FROM people WHERE standing = 'account'`,
      );
      if (!kept && (some || !mayBeEmpty)) throw new BadRequestException(needsKeeper);
      return done;
    });
  }

  setDomains = (domains: readonly string[]): Promise<void> => this.facts.setDomains(domains);

  /** Makes somebody keeper of a manuscript that nobody keeps any more. */
  async keep(manuscript: string, personId: string): Promise<void> {
    await this.grants.change(manuscript, null, async (manager) => {
      const isThere = await manager.existsBy(ManuscriptRow, { id: manuscript, deletedAt: IsNull() });
      if (!isThere || (await this.grants.isKept(manager, manuscript)))
        throw new ConflictException('Somebody keeps this manuscript, or it is not there any more.');
      const person = await manager.findOneBy(PersonRow, { id: personId, standing: 'account' });
      if (!person) throw new NotFoundException('There is no such account.');
      const to = { manuscriptId: manuscript, personId };
      await this.grants.give(manager, to, () => ({ role: 'keeper', takesAway: true, invites: false }));
    });
  }

  /**
   * Leaves the house. What one wrote stays, under one’s name or nobody’s; of what one has proposed nothing is taken back.
   * @param named whether it stays under one's name
   * @throws ConflictException where something would be left without a keeper
   */
  async leave(me: string, password: string, named: boolean): Promise<void> {
    await this.accounts.prove(me, password);
    const settled = await this.#keeping(async (manager) => {
      const rows = await manager.query<{ id: string }[]>(
        `SELECT DISTINCT manuscript_id AS id FROM members WHERE person_id = $1`,
        [me],
      );
      const ids = rows.map(({ id }) => id);
      await this.grants.lock(manager, ...ids);
      const alone = await manager.query<{ title: string }[]>(
        `SELECT title FROM manuscripts WHERE id = ANY ($1) AND deleted_at IS NULL AND
           EXISTS (SELECT 1 FROM members WHERE manuscript_id = manuscripts.id AND person_id = $2 AND role = 'keeper')
           AND NOT EXISTS (SELECT 1 FROM members JOIN people ON people.id = person_id WHERE manuscript_id = manuscripts.id
             AND role = 'keeper' AND person_id <> $2 AND standing = 'account' AND locked_at IS NULL) ORDER BY title`,
        [ids, me],
      );
      if (alone.length) {
        const few = alone.slice(0, 5).map(({ title }) => `“${title}”`);
        const more = alone.length > 5 ? ` and ${alone.length - 5} more` : '';
        throw new ConflictException(
          `You alone keep ${few.join(', ')}${more}. Make somebody else keeper first, or delete what nobody needs.`,
        );
      }
      await manager.delete(GrantRow, { personId: me });
      await manager.delete(GuestRow, { personId: me });
      await this.accounts.end(manager, me, named);
      const done = [];
      for (const manuscript of ids) done.push({ manuscript, what: await this.grants.settle(manager, manuscript) });
      return done;
    }, true);
    await this.sessions.endAll(me);
    for (const { manuscript, what } of settled) this.grants.tell(manuscript, what);
    for (const manuscript of await this.people.manuscriptsOf(me)) this.live.changed(manuscript, 'people');
  }
}
