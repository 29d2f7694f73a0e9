import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { FactRow } from '../database/entities.js';

const key = 'domains';

/** What is set for the whole house. */
@Injectable()
export class HouseFacts {
  constructor(@InjectDataSource() private readonly database: DataSource) {}

  /** Mail domains whose people may come in by themselves. */
  async domains(): Promise<string[]> {
    const row = await this.database.getRepository(FactRow).findOneBy({ key });
    return row ? (JSON.parse(row.value) as string[]) : [];
  }

  async setDomains(domains: readonly string[]): Promise<void> {
    const value = JSON.stringify([...new Set(domains.map((one) => one.toLowerCase()))].sort());
    await this.database.getRepository(FactRow).save({ key, value });
  }

  /** Whether somebody with that address may come in by themselves. */
  async mayComeIn(mail: string): Promise<boolean> {
    const domain = mail.slice(mail.lastIndexOf('@') + 1).toLowerCase();
    return (await this.domains()).includes(domain);
  }
}
