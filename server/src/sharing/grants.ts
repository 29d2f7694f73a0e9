import { BadRequestException, Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import { DataSource, type EntityManager } from 'typeorm';
import type { Rights, Role } from '@tea-pencil/wire';
import { MemberRow, NamedPersonRow } from '../database/entities.js';
import { GrantRow } from '../database/sharing-entities.js';
import { Broadcasting } from '../live/broadcasting.js';
import { roles, type Act } from '../policy/acts.js';
import { notThere } from '../policy/memberships.js';
import type { Member } from '../policy/may.js';
import { Memberships } from '../policy/memberships.js';

const noRole = 'They are not here any more. Say what they may do, and they are invited anew.';
const needsKeeper = 'A manuscript needs a keeper: make someone else one first.';

/** What a person has in a manuscript, of all that is given to them, their groups and their link. */
interface Held {
  person: string;
  role: Role;
  takesAway: boolean;
  invites: boolean;
  until: Date | null;
}

interface Given {
  person: string;
  role: Role;
  takes_away: boolean;
  invites: boolean;
  until: Date | null;
  /** Of what came with a link, who made it. */
  made_by: string | null;
}

const given = `
  SELECT coalesce(grants.person_id, group_people.person_id, guests.person_id) AS person, role, takes_away, invites,
    links.ends_at AS until, links.made_by
  FROM grants LEFT JOIN group_people ON group_people.group_id = grants.group_id
    LEFT JOIN links ON links.id = grants.link_id LEFT JOIN guests ON guests.link_id = links.id
  WHERE grants.manuscript_id = $1 AND (grants.link_id IS NULL OR (ended_at IS NULL AND (ends_at IS NULL OR ends_at > now())))
    AND coalesce(grants.person_id, group_people.person_id, guests.person_id) IS NOT NULL`;

const greater = (a: Role, b: Role): Role => (roles.indexOf(a) >= roles.indexOf(b) ? a : b);

/** All of a person's grants as one: whatever one of them lets them do, they may. */
function together(rows: readonly Given[]): Map<string, Held> {
  const held = new Map<string, Held>();
  for (const { person, role, takes_away: takesAway, invites, until } of rows) {
    const known = held.get(person);
    held.set(person, {
      person,
      role: known ? greater(known.role, role) : role,
      takesAway: takesAway || !!known?.takesAway,
      invites: invites || !!known?.invites,
      until: known ? known.until && until : until,
    });
  }
  return held;
}

const isSame = (one: Omit<Held, 'person'>, other: Omit<Held, 'person'>): boolean =>
  one.role === other.role &&
  one.takesAway === other.takesAway &&
  one.invites === other.invites &&
  one.until?.getTime() === other.until?.getTime();

/** What changed for whom. */
interface Settled {
  joined: string[];
  left: string[];
}

/**
 * What somebody has once a part of it is said anew: the rest stays as they had it. Who comes new may take files away.
 * @throws BadRequestException where nothing says what somebody new may do
 */
export function inPart(asked: Partial<Rights>, had: Rights | null): Rights {
  const role = asked.role ?? had?.role;
  if (!role) throw new BadRequestException(noRole);
  return {
    role,
    takesAway: asked.takesAway ?? had?.takesAway ?? true,
    invites: asked.invites ?? had?.invites ?? false,
  };
}

/** To whom something is given in a manuscript. */
export type Grantee = { manuscriptId: string } & ({ personId: string } | { groupId: string });

/** Who acts, and what it is that they do. */
export interface Acting {
  person: string;
  act: Act;
}

/**
 * Gives people rights in manuscripts, and takes them. Whatever changes what is given goes through here: what holds for each
 * person is made anew in the same transaction, and every open screen hears of it.
 */
@Injectable()
export class Grants {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly memberships: Memberships,
    private readonly live: Broadcasting,
  ) {}

  /**
   * Carries a change of what is given out, unless no keeper would be left, whoever else is changing it at that moment.
   * @param by who does it; null for what the house does by itself. They must be allowed to at that very moment
   * @param because what those are told to whom the manuscript closes
   */
  async change<T>(
    manuscript: string,
    by: Acting | null,
    work: (manager: EntityManager, member: Member | null) => Promise<T>,
    because = notThere,
  ): Promise<T> {
    const { result, settled } = await this.database.transaction(async (manager) => {
      await this.lock(manager, manuscript);
      const member = by && (await this.memberships.atTurn(manager, manuscript, by.person, by.act));
      const done = await work(manager, member);
      return { result: done, settled: await this.settle(manager, manuscript) };
    });
    this.tell(manuscript, settled, because);
    return result;
  }

  /**
   * Nobody else changes what is given in these until the transaction ends; in one order, so that nobody waits in a circle.
   * Whoever writes in them waits for nothing.
   */
  async lock(manager: EntityManager, ...manuscripts: string[]): Promise<void> {
    await manager.query('SELECT 1 FROM manuscripts WHERE id = ANY ($1) ORDER BY id FOR NO KEY UPDATE', [manuscripts]);
  }

  /**
   * Makes what holds in a manuscript out of what is given. Who loses all stays named in it, with their hue.
   * @throws BadRequestException where somebody kept it and nobody would
   */
  async settle(manager: EntityManager, manuscriptId: string): Promise<Settled> {
    const all = await manager.query<Given[]>(given, [manuscriptId]);
    // A link holds as long as who made it may make one.
    const keepers = new Set(
      all.flatMap(({ person, role, made_by }) => (role === 'keeper' && !made_by ? [person] : [])),
    );
    const lost = all.filter(({ made_by }) => made_by && !keepers.has(made_by));
    await manager.query(
      'UPDATE links SET ended_at = now() WHERE manuscript_id = $1 AND ended_at IS NULL AND NOT made_by = ANY ($2)',
      [manuscriptId, [...keepers]],
    );
    const held = together(all.filter((one) => !lost.includes(one)));
    const isKept = await this.isKept(manager, manuscriptId);
    const before = await manager.findBy(MemberRow, { manuscriptId });
    const named = await manager.findBy(NamedPersonRow, { manuscriptId });
    const hues = new Map([...named, ...before].map(({ personId, hue }) => [personId, hue]));
    const free = () => {
      const taken = new Set(hues.values());
      let hue = 0;
      while (taken.has(hue)) hue++;
      return hue;
    };
    const left = before.filter(({ personId }) => !held.has(personId));
    for (const { personId, hue } of left) {
      await manager
        .createQueryBuilder()
        .insert()
        .into(NamedPersonRow)
        .values({ manuscriptId, personId, hue, asked: true })
        .orIgnore()
        .execute();
      await manager.delete(MemberRow, { manuscriptId, personId });
    }
    const joined: string[] = [];
    for (const { person, role, takesAway, invites, until } of held.values()) {
      const known = before.find(({ personId }) => personId === person);
      if (!known) joined.push(person);
      const hue = hues.get(person) ?? free();
      hues.set(person, hue);
      const row = { manuscriptId, personId: person, role, takesAway, invites, until, hue };
      if (!known) await manager.insert(MemberRow, row);
      else if (!isSame(known, row)) await manager.update(MemberRow, { manuscriptId, personId: person }, row);
    }
    if (isKept && !(await this.isKept(manager, manuscriptId))) throw new BadRequestException(needsKeeper);
    return { joined, left: left.map(({ personId }) => personId) };
  }

  /** Gives a person or a group something, in the place of what they were given before. @returns what they then have */
  async give(manager: EntityManager, to: Grantee, rights: (had: Rights | null) => Rights): Promise<Rights> {
    const had = await manager.findOneBy(GrantRow, to);
    const { role, takesAway, invites } = rights(had);
    if (had) await manager.update(GrantRow, had.id, { role, takesAway, invites });
    else await manager.insert(GrantRow, { id: nanoid(12), ...to, role, takesAway, invites });
    return { role, takesAway, invites };
  }

  /** Takes what a person or a group was given. @returns what that was; null where it was nothing */
  async take(manager: EntityManager, from: Grantee): Promise<Rights | null> {
    const had = await manager.findOneBy(GrantRow, from);
    if (!had) return null;
    await manager.delete(GrantRow, had.id);
    const { role, takesAway, invites } = had;
    return { role, takesAway, invites };
  }

  /** Whether somebody keeps a manuscript who can come in. */
  async isKept(manager: EntityManager, manuscriptId: string): Promise<boolean> {
    const [kept] = await manager.query<unknown[]>(
      `SELECT 1 FROM members JOIN people ON people.id = person_id JOIN manuscripts ON manuscripts.id = manuscript_id
       WHERE manuscript_id = $1 AND role = 'keeper' AND standing = 'account' AND locked_at IS NULL AND deleted_at IS NULL
       LIMIT 1`,
      [manuscriptId],
    );
    return !!kept;
  }

  /** Tells all open screens; only of what is committed. */
  tell(manuscript: string, { left }: Settled, because = notThere): void {
    for (const person of left) this.live.removed(manuscript, person, because);
    this.live.changed(manuscript, 'people');
  }
}
