import {
  BadRequestException,
  ConflictException,
  ForbiddenException,
  Injectable,
  NotFoundException,
} from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { initialsOf } from '@tea-pencil/core';
import type { Outsider, Rights, TakenOff } from '@tea-pencil/wire';
import { MemberRow, NamedPersonRow, PersonRow } from '../database/entities.js';
import { GuestRow } from '../database/sharing-entities.js';
import { lookOf } from '../names/names.js';
import { PeopleService } from '../people/people.service.js';
import { roles } from '../policy/acts.js';
import { may, type Member } from '../policy/may.js';
import { Memberships } from '../policy/memberships.js';
import { Notices } from '../post/notices.js';
import { Grants, inPart } from './grants.js';

const noAccount = 'There is no such person with an account here.';
const notAmong = 'This person is not one of the manuscript’s people.';

/** Goes on only where somebody may give these rights: who invites without looking after people, no more than they have. */
export function mayGive(by: Member, { role, takesAway, invites }: Rights): void {
  if (may('look after people', by) === true) return;
  if (roles.indexOf(role) > roles.indexOf(by.role) || invites || (takesAway && !by.takesAway))
    throw new ForbiddenException('You can invite others to what you may do yourself, and no more.');
}

/** The people of a manuscript: its members, and those it only names. */
@Injectable()
export class MembersService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly people: PeopleService,
    private readonly memberships: Memberships,
    private readonly grants: Grants,
    private readonly notices: Notices,
  ) {}

  /**
   * Sets what somebody may do, or a part of it; someone who was no member becomes one. The last keeper stays keeper.
   * @param message what is said to somebody who comes new
   */
  async set(by: Member, personId: string, asked: Partial<Rights>, message = ''): Promise<void> {
    const { manuscriptId } = by;
    const account = await this.people.get(personId);
    if (account?.standing === 'guest') throw new BadRequestException('What a guest may do goes by their link.');
    if (account?.standing !== 'account') throw new BadRequestException(noAccount);
    const invited = await this.grants.change(
      manuscriptId,
      { person: by.personId, act: 'invite' },
      async (manager, now) => {
        const key = { manuscriptId, personId };
        const member = await manager.existsBy(MemberRow, key);
        if (member && may('look after people', now!) !== true)
          throw new ForbiddenException('Only a keeper changes what somebody may do who is here already.');
        // Nobody can find out by trying who has an account.
        const named = await manager.existsBy(NamedPersonRow, key);
        if (!member && !named && !(await this.memberships.meet(by.personId, personId, manager)))
          throw new BadRequestException(noAccount);
        const { role } = await this.grants.give(manager, key, (had) => {
          const rights = inPart(asked, had);
          mayGive(now!, rights);
          return rights;
        });
        return member ? null : role;
      },
    );
    if (invited)
      this.notices.announce(await this.notices.invited(manuscriptId, by.personId, personId, invited, message));
  }

  /** Takes someone off the manuscript; what they wrote stays, under their name. Anybody can go by themselves. */
  remove(by: Member, personId: string): Promise<TakenOff> {
    const { manuscriptId } = by;
    const self = personId === by.personId;
    const act = self ? 'read' : 'look after people';
    return this.grants.change(manuscriptId, { person: by.personId, act }, async (manager) => {
      if (!(await manager.existsBy(MemberRow, { manuscriptId, personId }))) throw new NotFoundException(notAmong);
      const had = await this.grants.take(manager, { manuscriptId, personId });
      await manager.delete(GuestRow, { personId });
      const [group] = await manager.query<{ name: string }[]>(
        `SELECT name FROM grants JOIN groups ON groups.id = grants.group_id JOIN group_people USING (group_id)
         WHERE manuscript_id = $1 AND group_people.person_id = $2 LIMIT 1`,
        [manuscriptId, personId],
      );
      if (group)
        throw new ConflictException(
          `They are here with the group “${group.name}”. Take the group off, or have them taken out of it.`,
        );
      return { had };
    });
  }

  /** Chooses the hue in which everyone sees what a member writes here. */
  async setHue(manuscriptId: string, personId: string, hue: number): Promise<void> {
    await this.database.getRepository(MemberRow).update({ manuscriptId, personId }, { hue });
  }

  /** Says who someone is whom a file names. It can be said anew, and reaches all they wrote before. */
  async setOutside(by: Member, personId: string, { name, matchedTo }: Outsider): Promise<void> {
    const { manuscriptId } = by;
    const key = { manuscriptId, personId };
    const named = await this.database.getRepository(NamedPersonRow).findOneBy(key);
    const person = named && (await this.people.get(personId));
    if (person?.standing !== 'outside')
      throw new NotFoundException('The manuscript names no such person from outside.');
    if (matchedTo) {
      const colleagues = await this.people.ofManuscript(manuscriptId);
      const is = colleagues.find(({ id }) => id === matchedTo);
      if (!is?.role) throw new BadRequestException('Only one of the manuscript’s people can be who wrote this.');
    }
    const called = name && this.people.readable(name);
    await this.memberships.write(by, 'say who is who', async (manager) => {
      if (called)
        await manager.update(PersonRow, personId, { name: called, look: lookOf(called), initials: initialsOf(called) });
      await manager.update(NamedPersonRow, key, { asked: true, ...(matchedTo !== undefined && { matchedTo }) });
    });
  }
}
