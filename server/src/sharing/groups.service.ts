import { BadRequestException, ConflictException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import { DataSource, Any, type EntityManager } from 'typeorm';
import type { Account, Group, Rights, TakenOff } from '@tea-pencil/wire';
import { PersonRow } from '../database/entities.js';
import { GrantRow, GroupPersonRow, GroupRow } from '../database/sharing-entities.js';
import { PeopleService } from '../people/people.service.js';
import type { Member } from '../policy/may.js';
import { Memberships } from '../policy/memberships.js';
import { Grants, inPart } from './grants.js';

export interface GroupAsked {
  name: string;
  people: string[];
}
const noGroup = 'There is no such group of yours.';

/** Groups: people of the house under one name. A group is its maker's; keepers of the house look after all. */
@Injectable()
export class GroupsService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly people: PeopleService,
    private readonly memberships: Memberships,
    private readonly grants: Grants,
  ) {}

  /** The groups somebody can share manuscripts with, by name. */
  async list(me: string): Promise<Group[]> {
    const { manager } = this.database;
    const keepsHouse = (await this.memberships.caller(me))?.keepsHouse;
    const rows = await manager.find(GroupRow, { where: keepsHouse ? {} : { madeBy: me }, order: { name: 'ASC' } });
    const belonging = await manager.findBy(GroupPersonRow, { groupId: Any(rows.map(({ id }) => id)) });
    const people = await manager.find(PersonRow, {
      where: { id: Any(belonging.map(({ personId }) => personId)) },
      order: { name: 'ASC' },
    });
    const inGroup = (id: string) => new Set(belonging.flatMap((one) => (one.groupId === id ? [one.personId] : [])));
    return rows.map(({ id, name }) => {
      const ids = inGroup(id);
      return { id, name, people: people.filter((person) => ids.has(person.id)) };
    });
  }

  async make(me: string, asked: GroupAsked): Promise<{ id: string }> {
    const id = nanoid(12);
    const name = this.people.readable(asked.name);
    await this.database.transaction(async (manager) => {
      await manager.insert(GroupRow, { id, name, madeBy: me });
      await this.#fill(manager, me, id, asked.people);
    });
    return { id };
  }

  /** Whom a group may hold: those whom its maker knows, and who is in it already. */
  async #fill(manager: EntityManager, me: string, groupId: string, people: readonly string[]): Promise<void> {
    const keepsHouse = (await this.memberships.caller(me, manager))?.keepsHouse;
    const known = await (keepsHouse ? this.people.accounts(manager) : this.people.knownTo(me, manager));
    const before = await manager.findBy(GroupPersonRow, { groupId });
    const allowed = new Set([...known.map(({ id }: Account) => id), ...before.map(({ personId }) => personId)]);
    if (people.some((id) => !allowed.has(id)))
      throw new BadRequestException('Somebody in this group is not known to you. Nothing was changed.');
    await manager.delete(GroupPersonRow, { groupId });
    await manager.insert(
      GroupPersonRow,
      [...new Set(people)].map((personId) => ({ groupId, personId })),
    );
  }

  /** Changes a group, and with it what its people may do wherever it is given something. */
  async set(me: string, id: string, asked: GroupAsked): Promise<void> {
    const name = this.people.readable(asked.name);
    await this.#everywhere(me, id, async (manager) => {
      await manager.update(GroupRow, id, { name });
      await this.#fill(manager, me, id, asked.people);
    });
  }

  remove(me: string, id: string): Promise<void> {
    return this.#everywhere(me, id, async (manager) => void (await manager.delete(GroupRow, id)));
  }

  /** Settles every manuscript in which the group is given something, in the same transaction. */
  async #everywhere(me: string, id: string, work: (manager: EntityManager) => Promise<void>): Promise<void> {
    const done = await this.database.transaction(async (manager) => {
      const group = await manager.findOne(GroupRow, { where: { id }, lock: { mode: 'pessimistic_write' } });
      const keepsHouse = (await this.memberships.caller(me, manager))?.keepsHouse;
      if (!group || (group.madeBy !== me && !keepsHouse)) throw new NotFoundException(noGroup);
      const manuscripts = (await manager.findBy(GrantRow, { groupId: id })).map(({ manuscriptId }) => manuscriptId);
      await this.grants.lock(manager, ...manuscripts);
      await work(manager);
      const settled = [];
      for (const manuscript of manuscripts)
        settled.push({ manuscript, what: await this.grants.settle(manager, manuscript) });
      return settled;
    });
    for (const { manuscript, what } of done) this.grants.tell(manuscript, what);
  }

  /** Gives a group something in a manuscript, or a part of it anew. Nobody keeps a manuscript by a group, which others may change. */
  async give(by: Member, groupId: string, asked: Partial<Rights>): Promise<void> {
    const { manuscriptId, personId: person } = by;
    if (asked.role === 'keeper')
      throw new ConflictException('A group cannot keep a manuscript. Make some of its people keepers.');
    await this.grants.change(manuscriptId, { person, act: 'look after people' }, async (manager) => {
      const group = await manager.findOneBy(GroupRow, { id: groupId });
      const given = await manager.existsBy(GrantRow, { manuscriptId, groupId });
      const keepsHouse = (await this.memberships.caller(person, manager))?.keepsHouse;
      if (!group || (!given && group.madeBy !== person && !keepsHouse)) throw new NotFoundException(noGroup);
      await this.grants.give(manager, { manuscriptId, groupId }, (had) => inPart(asked, had));
    });
  }

  take({ manuscriptId, personId: person }: Member, groupId: string): Promise<TakenOff> {
    return this.grants.change(manuscriptId, { person, act: 'look after people' }, async (manager) => {
      const had = await this.grants.take(manager, { manuscriptId, groupId });
      if (!had) throw new NotFoundException('This group is not among the people of the manuscript.');
      return { had };
    });
  }
}
