import { BadRequestException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { initialsOf } from '@tea-pencil/core';
import type { Outsider, Role } from '@tea-pencil/wire';
import { MemberRow, NamedPersonRow, PersonRow } from '../database/entities.js';
import { lookOf, nameKept, wrongWithName } from '../names/names.js';
import { PeopleService } from '../people/people.service.js';
import { Notices } from '../post/notices.js';

const needsKeeper = 'A manuscript needs a keeper: make someone else one first.';

/** The people of a manuscript: its members, and those it only names. */
@Injectable()
export class MembersService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly people: PeopleService,
    private readonly notices: Notices,
  ) {}

  /** Sets what a member may do; someone who was none becomes one. The last keeper stays keeper. */
  async set(manuscriptId: string, by: string, personId: string, role: Role): Promise<void> {
    const account = await this.people.get(personId);
    if (!account?.login) throw new BadRequestException('There is no such person with an account here.');
    const colleagues = await this.people.ofManuscript(manuscriptId);
    const hue = colleagues.find(({ id }) => id === personId)?.hue ?? colleagues.length;
    const isNew = !colleagues.some((person) => person.id === personId && person.role);
    await this.#keepingAKeeper(manuscriptId, (members) => members.save({ manuscriptId, personId, role, hue }));
    if (isNew) this.notices.announce(await this.notices.invited(manuscriptId, by, personId, role));
  }

  /** Takes someone off the manuscript; what they wrote stays, under their name. */
  async remove(manuscriptId: string, personId: string): Promise<void> {
    const member = await this.database.getRepository(MemberRow).findOneBy({ manuscriptId, personId });
    if (!member) throw new NotFoundException('This person is not one of the manuscript’s people.');
    await this.database
      .createQueryBuilder()
      .insert()
      .into(NamedPersonRow)
      .values({ manuscriptId, personId, hue: member.hue, asked: true })
      .orIgnore()
      .execute();
    await this.#keepingAKeeper(manuscriptId, (members) => members.delete({ manuscriptId, personId }));
  }

  /** Carries a change of members out unless no keeper would be left, whoever else is changing them at that moment. */
  async #keepingAKeeper(
    manuscriptId: string,
    change: (members: ReturnType<DataSource['getRepository']>) => Promise<unknown>,
  ): Promise<void> {
    await this.database.transaction(async (manager) => {
      await manager.query('SELECT 1 FROM manuscripts WHERE id = $1 FOR UPDATE', [manuscriptId]);
      await change(manager.getRepository(MemberRow));
      if (!(await manager.existsBy(MemberRow, { manuscriptId, role: 'keeper' })))
        throw new BadRequestException(needsKeeper);
    });
  }

  /** Chooses the hue in which everyone sees what a member writes here. */
  async setHue(manuscriptId: string, personId: string, hue: number): Promise<void> {
    await this.database.getRepository(MemberRow).update({ manuscriptId, personId }, { hue });
  }

  /** Says who someone is whom a file names. It can be said anew, and reaches all they wrote before. */
  async setOutside(manuscriptId: string, personId: string, { name, matchedTo }: Outsider): Promise<void> {
    const key = { manuscriptId, personId };
    const named = await this.database.getRepository(NamedPersonRow).findOneBy(key);
    const person = named && (await this.people.get(personId));
    if (!person || person.login) throw new NotFoundException('The manuscript names no such person from outside.');
    if (matchedTo) {
      const colleagues = await this.people.ofManuscript(manuscriptId);
      const is = colleagues.find(({ id }) => id === matchedTo);
      if (!is?.role) throw new BadRequestException('Only one of the manuscript’s people can be who wrote this.');
    }
    const called = name && nameKept(name);
    const wrong = called && wrongWithName(called);
    if (wrong) throw new BadRequestException(wrong);
    await this.database.transaction(async (manager) => {
      if (called)
        await manager.update(PersonRow, personId, { name: called, look: lookOf(called), initials: initialsOf(called) });
      await manager.update(NamedPersonRow, key, { asked: true, ...(matchedTo !== undefined && { matchedTo }) });
    });
  }
}
