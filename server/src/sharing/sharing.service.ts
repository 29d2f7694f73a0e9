import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import type { GroupOf, MemberOf, Rights, Sharing } from '@tea-pencil/wire';
import { MemberRow } from '../database/entities.js';
import { GrantRow } from '../database/sharing-entities.js';
import { may, type Member } from '../policy/may.js';
import { InvitationsService } from './invitations.service.js';
import { LinksService } from './links.service.js';

const rightsOf = ({ role, takesAway, invites }: Rights): Rights => ({ role, takesAway, invites });

/** Who may do what in a manuscript, told to whoever may see it. */
@Injectable()
export class SharingService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly invitations: InvitationsService,
    private readonly links: LinksService,
  ) {}

  async of(member: Member): Promise<Sharing> {
    const { manuscriptId, personId } = member;
    const keeps = may('look after people', member) === true;
    return {
      members: await this.#members(manuscriptId),
      groups: await this.#groups(manuscriptId),
      // Addresses of people who are not here are for those alone who wrote to them, and for keepers.
      invitations: keeps || member.invites ? await this.invitations.open(manuscriptId, keeps ? null : personId) : [],
      links: keeps ? await this.links.list(manuscriptId) : [],
    };
  }

  async #members(manuscriptId: string): Promise<MemberOf[]> {
    const { manager } = this.database;
    const grants = await manager.findBy(GrantRow, { manuscriptId });
    const own = new Map(grants.map((grant) => [grant.personId, rightsOf(grant)]));
    const members = await manager.findBy(MemberRow, { manuscriptId });
    return members.map((row) => ({ person: row.personId, ...rightsOf(row), own: own.get(row.personId) ?? null }));
  }

  async #groups(manuscriptId: string): Promise<GroupOf[]> {
    const rows = await this.database.query<(Omit<GroupOf, 'takesAway'> & { takes_away: boolean })[]>(
      `SELECT groups.id AS group, name, role, takes_away, invites,
         array_remove(array_agg(person_id ORDER BY person_id), NULL) AS people
       FROM (SELECT group_id, role, takes_away, invites FROM grants WHERE manuscript_id = $1) AS given
         JOIN groups ON groups.id = given.group_id LEFT JOIN group_people ON group_people.group_id = groups.id
       GROUP BY groups.id, name, role, takes_away, invites ORDER BY name`,
      [manuscriptId],
    );
    return rows.map(({ takes_away: takesAway, ...row }) => ({ ...row, takesAway }));
  }
}
