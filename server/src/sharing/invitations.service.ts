import {
  BadRequestException,
  ConflictException,
  ForbiddenException,
  GoneException,
  HttpException,
  Injectable,
  NotFoundException,
} from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, IsNull, MoreThan, type EntityManager } from 'typeorm';
import type { Invitation, InvitationTold, Rights } from '@tea-pencil/wire';
import { ManuscriptRow, PersonRow } from '../database/entities.js';
import { InvitationRow } from '../database/sharing-entities.js';
import { AccountsService } from '../people/accounts.service.js';
import { inviting } from '../people/letters.js';
import { roles } from '../policy/acts.js';
import { Memberships, notThere } from '../policy/memberships.js';
import { may, type Member } from '../policy/may.js';
import { Mailer } from '../post/mailer.js';
import { Limits } from '../running/limits.js';
import { idIn, isToken, newToken } from '../secrets/secrets.js';
import { Settings } from '../settings/settings.js';
import { Grants } from './grants.js';
import { mayGive } from './members.service.js';

/** How many days an invitation holds. */
const days = 7;

export interface InvitationAsked {
  mail: string;
  rights: Rights | null;
  message: string;
}

/** How somebody who has no account here comes in: with a name and a password. */
export interface Comer {
  name: string;
  password: string | null;
}

const open = { usedAt: IsNull(), withdrawnAt: IsNull() };

/** Letters that let their readers in: each is for one address, works once, and runs out. */
@Injectable()
export class InvitationsService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly accounts: AccountsService,
    private readonly memberships: Memberships,
    private readonly mailer: Mailer,
    private readonly limits: Limits,
    private readonly grants: Grants,
    private readonly settings: Settings,
  ) {}

  /** Invites an address to a manuscript. It is not said whether somebody has an account with it. */
  async invite(by: Member, { mail, rights, message }: InvitationAsked): Promise<void> {
    if (rights) mayGive(by, rights);
    await this.write({ mail, rights, message }, by.manuscriptId, by.personId);
  }

  /**
   * Writes an invitation in the place of an earlier one to the same address.
   * @param manuscript null: to the house
   * @param by null: somebody asks for themselves
   */
  async write({ mail, rights, message }: InvitationAsked, manuscript: string | null, by: string | null): Promise<void> {
    if (!(await this.limits.mayInvite(by ?? 'the house', mail)))
      throw new HttpException('Too many letters went to this address already. Please try again in an hour.', 429);
    const people = this.database.getRepository(PersonRow);
    const inviter = by === null ? null : await people.findOneByOrFail({ id: by });
    const title =
      manuscript === null
        ? null
        : (await this.database.getRepository(ManuscriptRow).findOneByOrFail({ id: manuscript })).title;
    const { id, token, hash } = newToken();
    const row = {
      id,
      manuscriptId: manuscript,
      mail,
      role: rights?.role ?? null,
      takesAway: rights?.takesAway ?? true,
      invites: rights?.invites ?? false,
      message,
      tokenHash: hash,
      madeBy: by,
      endsAt: new Date(Date.now() + days * 24 * 3600_000),
    };
    await this.database.transaction(async (manager) => {
      if (manuscript !== null && by !== null) {
        const giver = await this.memberships.atTurn(manager, manuscript, by, 'invite');
        if (rights) mayGive(giver, rights);
      }
      await manager.query(
        `UPDATE invitations SET withdrawn_at = now() WHERE lower(mail) = lower($1) AND manuscript_id IS NOT DISTINCT FROM $2
           AND used_at IS NULL AND withdrawn_at IS NULL`,
        [mail, manuscript],
      );
      await manager.insert(InvitationRow, row);
    });
    const link = `${this.settings.home}/invitation/${token}`;
    const known = await this.accounts.find(mail);
    const shownTo = [...(by === null ? await this.accounts.houseKeepers() : [by]), ...(known ? [known.id] : [])];
    const letter = inviting({ by: inviter?.name ?? null, title, role: row.role, message, link, days });
    await this.mailer.write({ name: '', mail }, letter, shownTo);
  }

  /** The invitations of a manuscript that are open; of one person alone where one is named. */
  async open(manuscriptId: string, by: string | null): Promise<Invitation[]> {
    const rows = await this.database.getRepository(InvitationRow).find({
      where: { manuscriptId, ...open, endsAt: MoreThan(new Date()), ...(by !== null && { madeBy: by }) },
      order: { madeAt: 'ASC' },
    });
    return rows.map(asTold);
  }

  async withdraw(id: string, which: { manuscriptId?: string; madeBy?: string }): Promise<void> {
    const { affected } = await this.database
      .getRepository(InvitationRow)
      .update({ id, ...open, ...which }, { withdrawnAt: new Date() });
    if (!affected) throw new NotFoundException('There is no such invitation that is still open.');
  }

  /** What a letter held, if it still holds. @throws GoneException with the reason where it does not */
  async #held(manager: EntityManager, token: string, lock = false): Promise<InvitationRow> {
    const row = await manager.findOne(InvitationRow, {
      where: { id: idIn(token) },
      ...(lock && { lock: { mode: 'pessimistic_write' as const } }),
    });
    if (!row || !isToken(token, row.tokenHash))
      throw new NotFoundException('This invitation is not known here. The link may be cut short.');
    const by = row.madeBy && (await manager.findOneBy(PersonRow, { id: row.madeBy }));
    const again = by ? ` Ask ${by.name} for a new one.` : ' Ask for a new one.';
    if (row.usedAt) throw new GoneException('This invitation has been used already: it works once. Sign in to go on.');
    if (row.withdrawnAt) throw new GoneException(`This invitation has been withdrawn.${again}`);
    if (row.endsAt.getTime() < Date.now()) throw new GoneException(`This invitation has run out.${again}`);
    return row;
  }

  async told(token: string): Promise<InvitationTold> {
    const { manager } = this.database;
    const row = await this.#held(manager, token);
    const manuscript = row.manuscriptId && (await manager.findOneBy(ManuscriptRow, { id: row.manuscriptId }));
    const by = row.madeBy && (await manager.findOneBy(PersonRow, { id: row.madeBy }));
    return {
      title: manuscript ? manuscript.title : null,
      by: by ? by.name : null,
      role: row.role,
      mail: row.mail,
      known: (await this.accounts.find(row.mail)) !== null,
    };
  }

  /**
   * Uses an invitation.
   * @param me who is signed in, if anybody is
   * @param comer with what somebody without an account comes in
   * @returns who has come in, and to which manuscript
   */
  async accept(
    token: string,
    me: string | undefined,
    comer: Comer | null,
  ): Promise<{ person: string; manuscript: string | null }> {
    const { manuscriptId, mail } = await this.#held(this.database.manager, token);
    // Hashed while nothing is locked.
    const hash =
      me === undefined && comer?.password ? await this.accounts.hash(comer.password, comer.name, mail) : null;
    const use = async (manager: EntityManager) => {
      const row = await this.#held(manager, token, true);
      await this.#stillGiven(manager, row);
      const person = await this.#who(manager, row, me, comer && { name: comer.name, hash });
      await manager.update(InvitationRow, row.id, { usedAt: new Date(), usedBy: person });
      const { manuscriptId: manuscript, role } = row;
      if (manuscript && role)
        await this.grants.give(manager, { manuscriptId: manuscript, personId: person }, atLeast({ ...row, role }));
      return { person, manuscript };
    };
    if (!manuscriptId) return this.database.transaction(use);
    const manuscript = await this.database.getRepository(ManuscriptRow).findOneBy({ id: manuscriptId });
    if (!manuscript || manuscript.deletedAt) throw new GoneException('The manuscript is not there any more.');
    return this.grants.change(manuscriptId, null, use, notThere);
  }

  /** Goes on only where who wrote an invitation may still give what it gives. */
  async #stillGiven(manager: EntityManager, { manuscriptId, madeBy, role, takesAway, invites }: InvitationRow) {
    if (madeBy === null) return;
    const lost = new GoneException('Who wrote this invitation may not invite anybody any more. Ask for a new one.');
    if (manuscriptId === null) {
      if (!(await this.memberships.caller(madeBy, manager))?.keepsHouse) throw lost;
      return;
    }
    const giver = await this.memberships.of(manuscriptId, madeBy, manager);
    if (!giver || may('invite', giver) !== true) throw lost;
    if (role) mayGive(giver, { role, takesAway, invites });
  }

  /** Whose the invitation is: that of who is signed in with its address, or of a new account with it. */
  async #who(
    manager: EntityManager,
    { mail }: InvitationRow,
    me: string | undefined,
    comer: { name: string; hash: string | null } | null,
  ): Promise<string> {
    const known = await this.accounts.find(mail, manager);
    if (me !== undefined) {
      if (known?.id === me) return me;
      throw new ForbiddenException(
        `This invitation went to another address than yours. Sign out and open it again, or ask for one to your own address.`,
      );
    }
    if (known) throw new ConflictException('You have an account with this address already: sign in with it.');
    if (!comer) throw new BadRequestException('A name and a password are needed to come in.');
    return this.accounts.create(manager, { ...comer, mail, confirmed: true });
  }
}

/** Never less than somebody has already. */
const atLeast =
  ({ role, takesAway, invites }: Rights) =>
  (had: Rights | null): Rights => ({
    role: had && roles.indexOf(had.role) > roles.indexOf(role) ? had.role : role,
    takesAway: takesAway || !!had?.takesAway,
    invites: invites || !!had?.invites,
  });

export function asTold({ id, mail, role, takesAway, invites, madeBy, madeAt, endsAt }: InvitationRow): Invitation {
  return {
    id,
    mail,
    rights: role && { role, takesAway, invites },
    by: madeBy,
    madeAt: madeAt.toISOString(),
    endsAt: endsAt.toISOString(),
  };
}
