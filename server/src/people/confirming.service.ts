import { ConflictException, HttpException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { AskedMailRow, PersonRow } from '../database/entities.js';
import { violates } from '../database/violations.js';
import { Mailer } from '../post/mailer.js';
import { Limits } from '../running/limits.js';
import { idIn, isToken, newToken } from '../secrets/secrets.js';
import { Settings } from '../settings/settings.js';
import { confirmation } from './letters.js';

/** How long the link of a letter holds, in milliseconds. */
const holds = 3 * 24 * 3600_000;

/** Addresses that mail is to go to. It goes to none before the person has opened a link that was sent there. */
@Injectable()
export class ConfirmingService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly mailer: Mailer,
    private readonly limits: Limits,
    private readonly settings: Settings,
  ) {}

  /** The address that a person has named and not confirmed yet. */
  async asked(personId: string): Promise<string | null> {
    return (await this.database.getRepository(AskedMailRow).findOneBy({ personId }))?.mail ?? null;
  }

  /** Names an address, or none. Nothing changes for one that is confirmed already. */
  async ask(person: { id: string; name: string; mail: string | null }, mail: string | null): Promise<void> {
    const asked = this.database.getRepository(AskedMailRow);
    if (mail === null || mail === person.mail) {
      await asked.delete({ personId: person.id });
      if (mail === null) await this.database.getRepository(PersonRow).update(person.id, { mail: null });
      return;
    }
    if (!(await this.limits.mayWrite(person.id, mail)))
      throw new HttpException('Too many letters went to this address already. Please try again in an hour.', 429);
    const { id, token, hash } = newToken();
    await asked.save({ personId: person.id, id, mail, tokenHash: hash, askedAt: new Date() });
    const link = `${this.settings.home}/confirm/${token}`;
    await this.mailer.write({ name: person.name, mail }, confirmation(person.name, link), [person.id]);
  }

  /** Takes an address as a person's own, by which they sign in too: they have opened the link that was sent to it. */
  async confirm(personId: string, token: string): Promise<void> {
    try {
      await this.database.transaction(async (manager) => {
        const row = await manager.findOneBy(AskedMailRow, { personId, id: idIn(token) });
        const isOld = row && row.askedAt.getTime() < Date.now() - holds;
        if (!row || isOld || !isToken(token, row.tokenHash))
          throw new NotFoundException('This link holds no more, or belongs to somebody else. Ask for a new one.');
        await manager.query(
          `UPDATE people SET mail = $2, login = CASE WHEN login LIKE '%@%' THEN lower($2) ELSE login END WHERE id = $1`,
          [personId, row.mail],
        );
        await manager.delete(AskedMailRow, { personId });
      });
    } catch (problem) {
      if (violates(problem, 'people_mail') || violates(problem, 'people_login_key'))
        throw new ConflictException('Another account has this address already.');
      throw problem;
    }
  }
}
