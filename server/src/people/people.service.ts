import { BadRequestException, ConflictException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource, InjectRepository } from '@nestjs/typeorm';
import { hash, verify } from '@node-rs/argon2';
import { nanoid } from 'nanoid';
import { DataSource, In, IsNull, Not, Repository, type EntityManager } from 'typeorm';
import { initialsOf } from '@tea-pencil/core';
import type { Account, Colleague, Self } from '@tea-pencil/wire';
import { FactRow, MemberRow, NamedPersonRow, PersonRow, PortraitRow } from '../database/entities.js';
import { pictureFile } from '../images/picture-file.js';
import { Settings } from '../settings/settings.js';
import { ConfirmingService } from './confirming.service.js';
import { lookOf, nameKept, wrongWithName } from '../names/names.js';

/** The number under which PostgreSQL holds the lock of names: "name" in letters. */
const naming = 0x6e616d65;

@Injectable()
export class PeopleService {
  constructor(
    @InjectRepository(PersonRow) private readonly people: Repository<PersonRow>,
    @InjectRepository(MemberRow) private readonly members: Repository<MemberRow>,
    @InjectRepository(NamedPersonRow) private readonly named: Repository<NamedPersonRow>,
    @InjectRepository(FactRow) private readonly facts: Repository<FactRow>,
    @InjectDataSource() private readonly database: DataSource,
    private readonly settings: Settings,
    private readonly confirming: ConfirmingService,
  ) {}

  /** The id of the person with that login and password, or null. Takes as long for a login that does not exist. */
  async signIn(login: string, password: string): Promise<string | null> {
    const person = await this.people.findOne({
      where: { login: login.trim().toLowerCase() },
      select: { id: true, passwordHash: true },
    });
    const known = await verify(person?.passwordHash ?? (await nobodysHash), password);
    return known && person ? person.id : null;
  }

  get = (id: string): Promise<Account | null> => this.people.findOneBy({ id });

  /** Oneself, with what nobody else is told. */
  async self(id: string): Promise<Self | null> {
    const person = await this.people.findOneBy({ id });
    const more = await this.people.findOne({ where: { id }, select: { id: true, mail: true } });
    return person && { ...person, mail: more?.mail ?? null, askedMail: await this.confirming.asked(id) };
  }

  /** Everyone with an account, by name. */
  accounts = (): Promise<Account[]> => this.people.find({ where: { login: Not(IsNull()) }, order: { name: 'ASC' } });

  async create(name: string, login: string, password: string, note = '', mail: string | null = null): Promise<string> {
    const id = nanoid(12);
    const passwordHash = await hash(password);
    const initials = initialsOf(name);
    const look = lookOf(name);
    await this.people.insert({ id, name, look, initials, login: login.toLowerCase(), passwordHash, note, mail });
    return id;
  }

  /** The people who may have written in a manuscript: its members and those an imported file named. */
  async ofManuscript(manuscriptId: string): Promise<Colleague[]> {
    const members = await this.members.findBy({ manuscriptId });
    const named = await this.named.findBy({ manuscriptId });
    const ids = [...members, ...named].map(({ personId }) => personId);
    const people = await this.people.find({ where: { id: In(ids) }, order: { name: 'ASC' } });
    const looks = new Set(members.map(({ personId }) => lookOf(people.find(({ id }) => id === personId)?.name ?? '')));
    return people.map((person) => {
      const member = members.find(({ personId }) => personId === person.id);
      const name = named.find(({ personId }) => personId === person.id);
      const { matchedTo = null, asked = true } = name ?? {};
      const looksLikeMember = !member && !person.login && !matchedTo && looks.has(lookOf(person.name));
      return { ...person, role: member?.role ?? null, hue: (member ?? name)!.hue, matchedTo, asked, looksLikeMember };
    });
  }

  /**
   * Someone's name and initials, as they read everywhere, in what was written before too.
   * @throws BadRequestException for a name that cannot be read, ConflictException for one that is taken for another's
   */
  async change(id: string, change: { name?: string; initials?: string }): Promise<void> {
    const name = change.name === undefined ? undefined : nameKept(change.name);
    const wrong = (name !== undefined && wrongWithName(name)) || (change.initials && wrongWithName(change.initials));
    if (wrong) throw new BadRequestException(wrong);
    const initials = change.initials ?? (name && initialsOf(name));
    await this.database.transaction(async (manager) => {
      if (name) await this.#free(manager, id, name);
      await manager.update(PersonRow, id, { ...(name && { name, look: lookOf(name) }), ...(initials && { initials }) });
    });
  }

  /** Whether a person may be called so: nobody with an account, and nobody in their manuscripts, looks the same. */
  async #free(manager: EntityManager, id: string, name: string): Promise<void> {
    await manager.query('SELECT pg_advisory_xact_lock($1)', [naming]);
    const [taken] = await manager.query<unknown[]>(
      `SELECT 1 FROM people AS other WHERE look = $2 AND id <> $1 AND (login IS NOT NULL OR EXISTS (
         SELECT 1 FROM named_people AS named JOIN members USING (manuscript_id)
         WHERE named.person_id = other.id AND members.person_id = $1 AND named.matched_to IS DISTINCT FROM $1))
       LIMIT 1`,
      [id, lookOf(name)],
    );
    if (taken) throw new ConflictException('Somebody here is called so, or so much like it that one reads the same.');
  }

  /** Sets a picture as someone's portrait. */
  async setPortrait(personId: string, name: string, bytes: Buffer): Promise<void> {
    const file = await pictureFile(bytes);
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

  async portrait(personId: string): Promise<PortraitRow> {
    const row = await this.database.getRepository(PortraitRow).findOneBy({ personId });
    if (!row) throw new NotFoundException('This person has set no picture.');
    return row;
  }

  /** The manuscripts in which someone is seen. */
  async manuscriptsOf(personId: string): Promise<string[]> {
    const [members, named] = await Promise.all([this.members.findBy({ personId }), this.named.findBy({ personId })]);
    return [...new Set([...members, ...named].map(({ manuscriptId }) => manuscriptId))];
  }

  /** Whether demo people are here and may come in with one click. */
  async hasDemo(): Promise<boolean> {
    return this.settings.demo && (await this.facts.findOneBy({ key: 'demo' }))?.value === 'loaded';
  }
}

const nobodysHash = hash(nanoid());
