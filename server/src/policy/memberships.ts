import { Injectable, Module } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In } from 'typeorm';
import type { Role } from '@tea-pencil/wire';
import { DatabaseModule } from '../database/database.module.js';
import { MemberRow, NamedPersonRow } from '../database/entities.js';
import type { ManuscriptState, Membership } from './may.js';

/** Knows who is a member of what, and as what. Nobody else asks the database for that. */
@Injectable()
export class Memberships {
  constructor(@InjectDataSource() private readonly database: DataSource) {}

  /** Somebody’s membership, or null: then to them the manuscript is nowhere. */
  of = (manuscriptId: string, personId: string): Promise<Membership | null> =>
    this.database.getRepository(MemberRow).findOneBy({ manuscriptId, personId });

  /** The same with what the manuscript is set to. */
  async inState(manuscriptId: string, personId: string): Promise<(Membership & ManuscriptState) | null> {
    const [found] = await this.database.query<{ role: Role; everyone_in_pencil: boolean }[]>(
      `SELECT role, everyone_in_pencil FROM members JOIN manuscripts ON manuscripts.id = manuscript_id
       WHERE manuscript_id = $1 AND person_id = $2`,
      [manuscriptId, personId],
    );
    return found ? { manuscriptId, personId, role: found.role, everyoneInPencil: found.everyone_in_pencil } : null;
  }

  /** Those of some people who are members of a manuscript. */
  among = (manuscriptId: string, people: readonly string[]): Promise<Membership[]> =>
    this.database.getRepository(MemberRow).findBy({ manuscriptId, personId: In([...people]) });

  /** All of somebody’s memberships. */
  all = (personId: string): Promise<Membership[]> => this.database.getRepository(MemberRow).findBy({ personId });

  /** The ids under which someone has written in a manuscript: their own, and those of people in a file that are they. */
  async idsOf(manuscriptId: string, personId: string): Promise<Set<string>> {
    const named = await this.database.getRepository(NamedPersonRow).findBy({ manuscriptId, matchedTo: personId });
    return new Set([personId, ...named.map(({ personId: other }) => other)]);
  }
}

@Module({ imports: [DatabaseModule], providers: [Memberships], exports: [Memberships] })
export class PolicyModule {}
