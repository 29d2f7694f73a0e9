import { Injectable, Logger, NotFoundException, type OnModuleDestroy, type OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { Broadcasting } from '../live/broadcasting.js';
import type { Membership } from '../policy/may.js';
import { Memberships } from '../policy/memberships.js';
import { wentWrong } from '../running/log.js';

/** How many days what is deleted can be brought back. */
export const keptDays = 30;
/** How often one looks for what goes for good, in milliseconds. */
const beat = 600_000;

/** Deletes manuscripts, brings them back, and lets go for good what nobody has brought back in time, with all it had. */
@Injectable()
export class Deleting implements OnModuleInit, OnModuleDestroy {
  readonly #logger = new Logger('Deleting');
  #timer: ReturnType<typeof setInterval> | undefined;

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly memberships: Memberships,
    private readonly live: Broadcasting,
  ) {}

  onModuleInit(): void {
    this.#timer = setInterval(() => void this.#round(), beat).unref();
    void this.#round();
  }
  onModuleDestroy(): void {
    clearInterval(this.#timer);
  }

  async #round(): Promise<void> {
    try {
      await this.letGo();
    } catch (problem) {
      this.#logger.warn(wentWrong('what was deleted waits to go', problem));
    }
  }

  async delete(by: Membership): Promise<void> {
    const { manuscriptId: id, personId } = by;
    const [rows] = await this.memberships.write(by, 'delete', (manager) =>
      manager.query<[{ name: string }[], number]>(
        `UPDATE manuscripts SET deleted_at = now(), deleted_by = $2 WHERE id = $1 AND deleted_at IS NULL
         RETURNING (SELECT name FROM people WHERE id = $2) AS name`,
        [id, personId],
      ),
    );
    const name = rows[0]?.name;
    if (name)
      this.live.closed(id, `${name} has deleted this manuscript. Its keepers can bring it back for ${keptDays} days.`);
  }

  /** @throws NotFoundException for anyone who is no keeper of it */
  async bringBack(id: string, by: string): Promise<void> {
    const [, found] = await this.database.query<[unknown[], number]>(
      `UPDATE manuscripts SET deleted_at = NULL, deleted_by = NULL WHERE id = $1 AND deleted_at IS NOT NULL AND EXISTS
         (SELECT 1 FROM members WHERE manuscript_id = $1 AND person_id = $2 AND role = 'keeper')`,
      [id, by],
    );
    if (!found) throw new NotFoundException('There is no such deleted manuscript that you could bring back.');
  }

  /** Lets go what was deleted long enough ago, and the people whom it alone has named. */
  async letGo(): Promise<void> {
    await this.database.transaction(async (manager) => {
      const people = await manager.query<{ id: string }[]>(
        `SELECT DISTINCT person_id AS id FROM named_people JOIN manuscripts ON manuscripts.id = manuscript_id
           JOIN people ON people.id = person_id
         WHERE deleted_at < now() - $1 * interval '1 day' AND standing IN ('outside', 'guest')
         UNION SELECT person_id FROM guests JOIN links ON links.id = link_id JOIN manuscripts ON manuscripts.id = links.manuscript_id
         WHERE deleted_at < now() - $1 * interval '1 day'`,
        [keptDays],
      );
      await manager.query(`DELETE FROM manuscripts WHERE deleted_at < now() - $1 * interval '1 day'`, [keptDays]);
      await manager.query(
        `DELETE FROM people WHERE id = ANY ($1) AND NOT EXISTS (SELECT 1 FROM named_people WHERE person_id = people.id)
           AND NOT EXISTS (SELECT 1 FROM members WHERE person_id = people.id)`,
        [people.map(({ id }) => id)],
      );
      // What would have been mailed speaks of manuscripts too.
      await manager.query(`DELETE FROM outbox WHERE at < now() - $1 * interval '1 day'`, [keptDays]);
    });
  }
}
