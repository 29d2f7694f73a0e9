import { BadRequestException, ConflictException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import { DataSource, Any, type EntityManager } from 'typeorm';
import { initialsOf } from '@tea-pencil/core';
import type { Account, Colleague, DemoPerson, GuestOf, Self } from '@tea-pencil/wire';
import { FactRow, MemberRow, NamedPersonRow, PersonRow, PortraitRow } from '../database/entities.js';
import { cast } from './cast.js';
import { readInTurn } from '../work/reading-pictures.js';
import { lookOf, nameKept, wrongWithName } from '../names/names.js';
import { Settings } from '../settings/settings.js';
import { ConfirmingService } from './confirming.service.js';

/** The number under which PostgreSQL holds the lock of names: "name" in letters. */
const naming = 0x6e616d65;

const demoLogins = cast.map(({ login }) => login as string);

/** People as others see them: names, portraits, and who is who in a manuscript. */
@Injectable()
export class PeopleService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly settings: Settings,
    private readonly confirming: ConfirmingService,
  ) {}

  get = (id: string): Promise<Account | null> => this.database.getRepository(PersonRow).findOneBy({ id });

  /** Oneself, with what nobody else is told; null for one who cannot come in any more. */
  async self(id: string): Promise<Self | null> {
    const people = this.database.getRepository(PersonRow);
    const person = await people.findOneBy({ id });
    const select = { id: true, mail: true, keepsHouse: true, lockedAt: true, passwordHash: true } as const;
    const more = await people.findOne({ where: { id }, select });
    if (!person || !more || more.lockedAt) return null;
    const { mail, keepsHouse, passwordHash } = more;
    const hasPassword = passwordHash !== null;
    if (person.standing === 'guest')
      return { ...person, mail, askedMail: null, keepsHouse: false, hasPassword, guest: await this.#guest(id) };
    if (person.standing !== 'account') return null;
    return { ...person, mail, askedMail: await this.confirming.asked(id), keepsHouse, hasPassword, guest: null };
  }

  /** Where a guest is, and why not any more. */
  async #guest(id: string): Promise<GuestOf | null> {
    const [row] = await this.database.query<
      { manuscript: string; ends_at: Date | null; over: boolean; there: boolean; member: boolean }[]
    >(
      `SELECT links.manuscript_id AS manuscript, links.ends_at,
         ended_at IS NOT NULL OR ends_at <= now() AS over, deleted_at IS NULL AS there,
         EXISTS (SELECT 1 FROM members WHERE manuscript_id = links.manuscript_id AND person_id = guests.person_id) AS member
       FROM guests JOIN links ON links.id = link_id JOIN manuscripts ON manuscripts.id = links.manuscript_id
       WHERE person_id = $1`,
      [id],
    );
    if (!row)
      return { manuscript: '', until: null, ended: 'You are not among the guests of this manuscript any more.' };
    const ended = row.over
      ? 'The link by which you came has ended. What you wrote while it held stays in the manuscript.'
      : row.there && row.member
        ? null
        : 'The manuscript is not open to you any more. What you wrote while it was stays in it.';
    return { manuscript: row.manuscript, until: row.ends_at?.toISOString() ?? null, ended };
  }

  /** Everyone with an account, by name: for those alone who look after them. */
  accounts = (manager = this.database.manager): Promise<Account[]> =>
    manager.find(PersonRow, { where: { standing: 'account' }, order: { name: 'ASC' } });

  /** Those with accounts with whom somebody has a manuscript, by name, themselves among them. */
  knownTo(id: string, manager = this.database.manager): Promise<Account[]> {
    return manager
      .getRepository(PersonRow)
      .createQueryBuilder('people')
      .where(`standing = 'account' AND locked_at IS NULL`)
      .andWhere(
        `(people.id = :id OR people.id IN (SELECT theirs.person_id FROM members AS mine JOIN members AS theirs USING (manuscript_id)
          WHERE mine.person_id = :id))`,
        { id },
      )
      .orderBy('people.name')
      .getMany();
  }

  /** The demo people; empty unless the demo data was loaded. */
  async demoPeople(): Promise<DemoPerson[]> {
    if (!(await this.hasDemo())) return [];
    const found = await this.database
      .getRepository(PersonRow)
      .createQueryBuilder('people')
      .addSelect('people.login')
      .where({ login: Any(demoLogins), standing: 'account' })
      .andWhere('locked_at IS NULL')
      .getMany();
    return found
      .map((person) => ({ ...person, login: person.login! }))
      .sort((a, b) => demoLogins.indexOf(a.login) - demoLogins.indexOf(b.login));
  }

  /** Whether demo people are here and may come in with one click. */
  async hasDemo(): Promise<boolean> {
    const facts = this.database.getRepository(FactRow);
    return this.settings.demo && (await facts.findOneBy({ key: 'demo' }))?.value === 'loaded';
  }

  /** The people who may have written in a manuscript: its members and those an imported file named. */
  async ofManuscript(manuscriptId: string): Promise<Colleague[]> {
    const { manager } = this.database;
    const members = await manager.findBy(MemberRow, { manuscriptId });
    const named = await manager.findBy(NamedPersonRow, { manuscriptId });
    const ids = [...members, ...named].map(({ personId }) => personId);
    const people = await manager.find(PersonRow, { where: { id: Any(ids) }, order: { name: 'ASC' } });
    const looks = new Set(members.map(({ personId }) => lookOf(people.find(({ id }) => id === personId)?.name ?? '')));
    return people.map((person) => {
      const member = members.find(({ personId }) => personId === person.id);
      const name = named.find(({ personId }) => personId === person.id);
      const { matchedTo = null, asked = true } = name ?? {};
      const looksLikeMember = !member && person.standing === 'outside' && !matchedTo && looks.has(lookOf(person.name));
      return { ...person, role: member?.role ?? null, hue: (member ?? name)!.hue, matchedTo, asked, looksLikeMember };
    });
  }

  /**
   * Someone's name, initials and what they are, as they read everywhere, in what was written before too.
   * @throws BadRequestException for a name that cannot be read, ConflictException for one that is taken for another's
   */
  async change(id: string, change: { name?: string; initials?: string; note?: string }): Promise<void> {
    const name = change.name === undefined ? undefined : this.readable(change.name);
    const wrong = change.initials && wrongWithName(change.initials);
    if (wrong) throw new BadRequestException(wrong);
    const initials = change.initials ?? (name && initialsOf(name));
    const note = change.note === undefined ? undefined : nameKept(change.note);
    if (note && wrongWithName(note)) throw new BadRequestException(wrongWithName(note)!);
    await this.database.transaction(async (manager) => {
      if (name) await this.free(manager, id, name);
      await manager.update(PersonRow, id, {
        ...(name && { name, look: lookOf(name) }),
        ...(initials && { initials }),
        ...(note !== undefined && { note: note || null }),
      });
    });
  }

  /** A name as it is kept. @throws BadRequestException for one that cannot be read */
  readable(name: string): string {
    const kept = nameKept(name);
    const wrong = wrongWithName(kept);
    if (wrong) throw new BadRequestException(wrong);
    return kept;
  }

  /**
   * Goes on only where a person may be called so: nobody with an account, and nobody in their manuscripts, looks the same.
   * Of a guest it is only asked who is in their one manuscript, so that nobody learns of anyone else by trying.
   */
  async free(manager: EntityManager, id: string, name: string, guestOf?: string): Promise<void> {
    await manager.query('SELECT pg_advisory_xact_lock($1)', [naming]);
    const [{ guest }] = await manager.query<[{ guest: boolean }]>(
      `SELECT EXISTS (SELECT 1 FROM people WHERE id = $1 AND standing = 'guest') AS guest`,
      [id],
    );
    const inHouse = guest || guestOf !== undefined ? '' : `standing = 'account' OR`;
    const [taken] = await manager.query<unknown[]>(
      `SELECT 1 FROM people AS other WHERE look = $2 AND id <> $1 AND (${inHouse} EXISTS (
         SELECT 1 FROM named_people AS named WHERE named.person_id = other.id AND named.matched_to IS DISTINCT FROM $1
           AND named.manuscript_id IN (SELECT manuscript_id FROM members WHERE person_id = $1 UNION SELECT $3))
         OR EXISTS (SELECT 1 FROM members AS here WHERE here.person_id = other.id
           AND here.manuscript_id IN (SELECT manuscript_id FROM members WHERE person_id = $1 UNION SELECT $3)))
       LIMIT 1`,
      [id, lookOf(name), guestOf ?? null],
    );
    if (taken) throw new ConflictException('Somebody here is called so, or so much like it that one reads the same.');
  }

  /** Sets a picture as someone's portrait. */
  async setPortrait(personId: string, name: string, bytes: Buffer): Promise<void> {
    const file = await readInTurn(personId, bytes);
    if (typeof file === 'string') throw new BadRequestException(`“${name}” ${file}. Your portrait is as it was.`);
    await this.database.transaction(async (manager) => {
      await manager.save(PortraitRow, { personId, type: file.type, bytes: file.bytes });
      await manager.update(PersonRow, personId, { portrait: nanoid(8) });
    });
  }

  /** Their initials are the portrait again. */
  async removePortrait(personId: string): Promise<void> {
    await this.database.transaction(async (manager) => {
      await manager.delete(PortraitRow, { personId });
      await manager.update(PersonRow, personId, { portrait: null });
    });
  }

  /** The portrait of somebody, for those alone who see them in a manuscript. */
  async portrait(personId: string, me: string): Promise<PortraitRow> {
    const row = await this.database.getRepository(PortraitRow).findOneBy({ personId });
    const [seen] = await this.database.query<unknown[]>(
      `SELECT 1 WHERE $1 = $2 OR EXISTS (
         SELECT 1 FROM members AS mine JOIN (
           SELECT manuscript_id FROM members WHERE person_id = $1 UNION SELECT manuscript_id FROM named_people WHERE person_id = $1
         ) AS theirs USING (manuscript_id) WHERE mine.person_id = $2 AND (mine.until IS NULL OR mine.until > now()))
       OR EXISTS (SELECT 1 FROM notices WHERE person_id = $2 AND actor = $1)
       OR EXISTS (SELECT 1 FROM people WHERE id = $2 AND keeps_house)`,
      [personId, me],
    );
    if (!row || !seen) throw new NotFoundException('This person has set no picture.');
    return row;
  }

  /** The manuscripts in which someone is seen. */
  async manuscriptsOf(personId: string): Promise<string[]> {
    const rows = await this.database.query<{ manuscript_id: string }[]>(
      `SELECT manuscript_id FROM members WHERE person_id = $1
       UNION SELECT manuscript_id FROM named_people WHERE person_id = $1`,
      [personId],
    );
    return rows.map(({ manuscript_id }) => manuscript_id);
  }
}
