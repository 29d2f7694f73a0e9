import { ConflictException, ForbiddenException, HttpException, Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import { DataSource } from 'typeorm';
import type { Protection } from '@tea-pencil/core';
import type { Seal } from '@tea-pencil/wire';
import { PersonRow } from '../database/entities.js';
import { SealRow } from '../database/sharing-entities.js';
import { Broadcasting } from '../live/broadcasting.js';
import type { Member } from '../policy/may.js';
import { Memberships } from '../policy/memberships.js';
import { Notices } from '../post/notices.js';
import { Limits } from '../running/limits.js';
import { isPassword, passwordHash } from '../secrets/secrets.js';
import { Workers } from '../work/workers.js';
import type { PassphraseToCheck } from './passphrase-task.js';

/** A seal keeps everyone in pencil and decisions closed until its passphrase is given, to keepers too. */
@Injectable()
export class SealService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly memberships: Memberships,
    private readonly workers: Workers,
    private readonly limits: Limits,
    private readonly notices: Notices,
    private readonly live: Broadcasting,
  ) {}

  async put(member: Member, passphrase: string, mayWithdraw: boolean): Promise<void> {
    const { manuscriptId, personId: by } = member;
    const hash = await passwordHash(passphrase);
    // What copies as DOCX carry; whoever may take one away could have it from there too.
    const standard = await this.workers.keep<Protection>('protect', passphrase);
    const told = await this.memberships.write(member, 'seal', async (manager) => {
      const row = { manuscriptId, id: nanoid(12), sealedBy: by, mayWithdraw, hash, standard };
      await manager.insert(SealRow, row);
      return this.notices.sealed(manager, manuscriptId, by, true);
    });
    this.#tell(manuscriptId, told);
  }

  /** @throws ForbiddenException for another passphrase; nothing is lifted then */
  async lift(member: Member, passphrase: string): Promise<void> {
    const { manuscriptId, personId: by } = member;
    const seals = this.database.getRepository(SealRow);
    const seal = await seals.findOneBy({ manuscriptId });
    if (!seal) throw new ConflictException('This manuscript is not sealed.');
    const right = await this.limits.tried(`seal ${manuscriptId}`, by, () => this.#opens(seal, passphrase));
    if (right === null)
      throw new HttpException('Too many tries. The seal stays; please wait a quarter of an hour.', 429);
    if (!right) throw new ForbiddenException('This is not the passphrase of the seal. It stays.');
    const told = await this.memberships.write(member, 'lift the seal', async (manager) => {
      // Whoever was first has lifted this seal, and perhaps put on another.
      const { affected } = await manager.delete(SealRow, { manuscriptId, id: seal.id });
      if (!affected) throw new ConflictException('This seal has been lifted already.');
      return this.notices.sealed(manager, manuscriptId, by, false);
    });
    this.#tell(manuscriptId, told);
  }

  #opens({ hash, standard }: SealRow, passphrase: string): Promise<boolean> {
    if (hash !== null) return isPassword(passphrase, hash);
    const check: PassphraseToCheck = { passphrase, protection: standard! };
    return this.workers.keep<boolean>('isProtectedWith', check);
  }

  #tell(manuscript: string, told: Awaited<ReturnType<Notices['sealed']>>): void {
    this.live.changed(manuscript, 'people');
    this.notices.announce(told);
  }

  /** The seal of a manuscript, as its people see it. */
  async of(manuscriptId: string): Promise<Seal | null> {
    const row = await this.database.getRepository(SealRow).findOneBy({ manuscriptId });
    if (!row) return null;
    const by =
      row.sealedBy === null ? null : await this.database.getRepository(PersonRow).findOneBy({ id: row.sealedBy });
    return {
      by: row.sealedBy,
      byName: by?.name ?? null,
      at: row.sealedAt.toISOString(),
      mayWithdraw: row.mayWithdraw,
    };
  }
}
