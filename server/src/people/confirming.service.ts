import { createHash, randomBytes } from 'node:crypto';
import { HttpException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { escapeHtml } from '@tea-pencil/core';
import { DataSource, MoreThan } from 'typeorm';
import { AskedMailRow, PersonRow } from '../database/entities.js';
import { Mailer } from '../post/mailer.js';
import { Limits } from '../running/limits.js';
import { Settings } from '../settings/settings.js';

/** How long the link of a letter holds, in milliseconds. */
const holds = 3 * 24 * 3600_000;

const hashOf = (token: string) => createHash('sha256').update(token).digest();

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
    const token = randomBytes(24).toString('base64url');
    await asked.save({ personId: person.id, mail, tokenHash: hashOf(token), askedAt: new Date() });
    await this.mailer.write(
      { id: person.id, name: person.name, mail },
      confirmation(person.name, this.settings.home, token),
    );
  }

  /** Takes an address as a person's own: they have opened the link that was sent to it. */
  async confirm(personId: string, token: string): Promise<void> {
    await this.database.transaction(async (manager) => {
      const which = { personId, tokenHash: hashOf(token), askedAt: MoreThan(new Date(Date.now() - holds)) };
      const row = await manager.findOneBy(AskedMailRow, which);
      if (!row) throw new NotFoundException('This link holds no more, or belongs to somebody else. Ask for a new one.');
      await manager.update(PersonRow, personId, { mail: row.mail });
      await manager.delete(AskedMailRow, { personId });
    });
  }
}

/** The letter that asks whether an address is its reader's. */
function confirmation(name: string, home: string, token: string) {
  const link = `${home}/confirm/${token}`;
  const says = `${name} has asked that post from Tea Pencil comes to this address. If that is you, open this link within three days:`;
  const otherwise = 'If it is not, do nothing: nothing more will come here.';
  const html =
    '<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Is this your address?</title></head>' +
    '<body style="margin:0;padding:24px;background:#ffffff;color:#1c1f22;font:15px/1.5 sans-serif">' +
    `<p>${escapeHtml(says)}</p><p><a href="${escapeHtml(link)}" style="color:#6b2a55">This is my address</a></p><p>${otherwise}</p></body></html>`;
  return { subject: 'Is this your address?', plain: `${says}\n\n${link}\n\n${otherwise}\n`, html };
}
