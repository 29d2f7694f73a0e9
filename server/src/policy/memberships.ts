import { ForbiddenException, Injectable, Module, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, type EntityManager } from 'typeorm';
import type { HouseStanding, Role } from '@tea-pencil/wire';
import { DatabaseModule } from '../database/database.module.js';
import { NamedPersonRow } from '../database/entities.js';
import type { Act } from './acts.js';
import { may, type Member, type Membership } from './may.js';

interface Row {
  manuscript: string;
  person: string;
  role: Role;
  takes_away: boolean;
  invites: boolean;
  standing: HouseStanding;
  everyone_in_pencil: boolean;
  sealed_at: Date | null;
  may_withdraw: boolean | null;
  until: Date | null;
  rights: number;
}

/** Who asks, as they stand to the house. */
export interface Caller {
  personId: string;
  isGuest: boolean;
  keepsHouse: boolean;
}

const memberOf = (row: Row): Member => ({
  manuscriptId: row.manuscript,
  personId: row.person,
  role: row.role,
  takesAway: row.takes_away,
  invites: row.invites,
  isGuest: row.standing === 'guest',
  everyoneInPencil: row.everyone_in_pencil,
  seal: row.sealed_at && { at: row.sealed_at, mayWithdraw: !!row.may_withdraw },
  until: row.until,
  rights: row.rights,
});

/** Memberships that hold now: of nobody whose account is locked or whose time is over, in nothing that is deleted. */
const holding = `
  SELECT members.manuscript_id AS manuscript, person_id AS person, role, takes_away, invites, standing, everyone_in_pencil,
    sealed_at, may_withdraw, until, rights
  FROM members JOIN people ON people.id = person_id JOIN manuscripts ON manuscripts.id = members.manuscript_id
    LEFT JOIN seals ON seals.manuscript_id = manuscripts.id
  WHERE locked_at IS NULL AND deleted_at IS NULL AND (until IS NULL OR until > now())`;

export const notThere = 'There is no such manuscript, or you are not one of its people.';

/** Where it is asked: within somebody’s transaction where one is given, so that it needs no connection of its own. */
type Asked = Pick<EntityManager, 'query'>;

/** Knows who is a member of what, and as what. Nobody else asks the database for that. */
@Injectable()
export class Memberships {
  constructor(@InjectDataSource() private readonly database: DataSource) {}

  /** Somebody’s membership, with what the manuscript is set to; null: then to them the manuscript is nowhere. */
  async of(manuscriptId: string, personId: string, within: Asked = this.database): Promise<Member | null> {
    const which = 'AND members.manuscript_id = $1 AND person_id = $2';
    const [row] = await within.query<Row[]>(`${holding} ${which}`, [manuscriptId, personId]);
    return row ? memberOf(row) : null;
  }

  /**
   * Takes the manuscript's turn for the rest of a transaction: nobody's rights in it change until that ends.
   * @returns who asks, as they stand to it at that moment
   * @throws NotFoundException for one who is no member any more, ForbiddenException for one who may not do that any more
   */
  async atTurn(manager: EntityManager, manuscriptId: string, personId: string, act: Act): Promise<Member> {
    await manager.query('SELECT 1 FROM manuscripts WHERE id = $1 FOR NO KEY UPDATE', [manuscriptId]);
    const member = await this.of(manuscriptId, personId, manager);
    if (!member) throw new NotFoundException(notThere);
    const allowed = may(act, member);
    if (allowed !== true) throw new ForbiddenException(allowed);
    return member;
  }

  /** Writes what somebody may write at that very moment, in a transaction of its own. */
  write<T>(
    { manuscriptId, personId }: Pick<Membership, 'manuscriptId' | 'personId'>,
    act: Act,
    work: (manager: EntityManager, member: Member) => Promise<T>,
  ): Promise<T> {
    return this.database.transaction(async (manager) =>
      work(manager, await this.atTurn(manager, manuscriptId, personId, act)),
    );
  }

  /** Those of some people who are members of a manuscript. */
  async among(manuscriptId: string, people: readonly string[]): Promise<Member[]> {
    const which = 'AND members.manuscript_id = $1 AND person_id = ANY ($2)';
    return (await this.database.query<Row[]>(`${holding} ${which}`, [manuscriptId, people])).map(memberOf);
  }

  /** The ids under which someone has written in a manuscript: their own, and those of people in a file that are they. */
  async idsOf(manuscriptId: string, personId: string): Promise<Set<string>> {
    const named = await this.database.getRepository(NamedPersonRow).findBy({ manuscriptId, matchedTo: personId });
    return new Set([personId, ...named.map(({ personId: other }) => other)]);
  }

  /** Whether two people have a manuscript together. */
  async meet(one: string, other: string, within: Asked = this.database): Promise<boolean> {
    const [found] = await within.query<unknown[]>(
      `SELECT 1 FROM members AS mine JOIN members AS theirs USING (manuscript_id)
       WHERE mine.person_id = $1 AND theirs.person_id = $2 LIMIT 1`,
      [one, other],
    );
    return !!found;
  }

  /** Who somebody is to the house; null where they cannot come in. */
  async caller(personId: string, within: Asked = this.database): Promise<Caller | null> {
    const [row] = await within.query<{ standing: HouseStanding; keeps_house: boolean }[]>(
      `SELECT standing, keeps_house FROM people
       WHERE id = $1 AND standing IN ('account', 'guest') AND locked_at IS NULL`,
      [personId],
    );
    return row ? { personId, isGuest: row.standing === 'guest', keepsHouse: row.keeps_house } : null;
  }
}

@Module({ imports: [DatabaseModule], providers: [Memberships], exports: [Memberships] })
export class PolicyModule {}
