import { BadRequestException, ConflictException, Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, type EntityManager } from 'typeorm';
import { kindOf, toDate } from '@tea-pencil/core';
import type { ReturnedFile } from '@tea-pencil/wire';
import { AssetRow, NamedPersonRow, PersonRow } from '../database/entities.js';
import { RewritingService } from '../drafts/rewriting.service.js';
import type { Rewritten } from '../drafts/rewriting-task.js';
import { History } from '../live/history.js';
import { lookOf } from '../names/names.js';
import { PeopleService } from '../people/people.service.js';
import { may, type Member } from '../policy/may.js';
import { Workers } from '../work/workers.js';
import { taken } from './exchange.service.js';
import type { TakenIn, TakenInMade, ToTakeIn } from './returned-task.js';

export interface Returning {
  name: string;
  bytes: Uint8Array;
  /** The draft that was sent out. */
  version: number;
  /** In whose name the unrecorded stands; null where the file shall say it. */
  sender: string | null;
  /** Whether to go on though it has next to nothing in common with that draft. */
  anyway: boolean;
}

type Made = Rewritten & TakenInMade;

/** Files that come back of a draft that was sent out. */
@Injectable()
export class ReturnedService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly rewriting: RewritingService,
    private readonly history: History,
    private readonly people: PeopleService,
    private readonly workers: Workers,
  ) {}

  /**
   * Takes such a file in as a new state of its manuscript.
   * @throws BadRequestException that names the file and the reason; nothing is kept then
   */
  async takeIn(
    by: Member,
    { name, bytes, version, sender, anyway }: Returning,
    stop: AbortSignal,
  ): Promise<ReturnedFile> {
    const { manuscriptId: manuscript, personId } = by;
    const kind = kindOf(name);
    if (!kind) throw new BadRequestException(`“${name}” is of a kind that cannot be brought in. ${taken}`);
    const people = (await this.people.ofManuscript(manuscript)).map(({ id, name: called, standing }) => ({
      id,
      name: called,
      isOutside: standing === 'outside',
    }));
    if (sender !== null && !people.some(({ id }) => id === sender))
      throw new BadRequestException('Whoever sent the file must be one of the people of this manuscript.');
    const at = await this.history.endUpTo(manuscript, version);
    const about = { manuscript, version: at, people, sender, bringer: personId, anyway, date: toDate(new Date()) };
    /** Whom the file has brought, at whatever attempt. */
    const came: string[] = [];
    const rewriting = this.rewriting.rewrite<Made>({
      by,
      allows: (member) => may('take in what came back', member),
      intent: 'pencil',
      arrived: true,
      keep: { reason: 'file', before: `taking in “${name.slice(0, 100)}”` },
      make: async (now) => {
        const task: ToTakeIn = { ...about, now, bytes, format: kind.name };
        const read = await this.workers.run<TakenIn>('takeIn', () => Promise.resolve(task), { of: personId, stop });
        if ('reason' in read && read.apart) throw new ConflictException(`“${name}” ${read.reason}.`);
        if ('reason' in read) throw new BadRequestException(`“${name}” ${read.reason}. ${taken}`);
        await this.#addPeople(read);
        came.push(...read.outside.map(({ id }) => id));
        return read;
      },
      also: (manager, read) => this.#keepBeside(manager, manuscript, personId, read),
    });
    const { act, changes, made } = await rewriting.finally(() => this.#forget(came));
    const { unrecorded, recorded, meetings, decided, sender: found, comments, losses } = made;
    return { act, changes, unrecorded, recorded, meetings, decided, sender: found, comments, losses };
  }

  /** People must be there before anything is written in their name. */
  async #addPeople({ outside }: TakenInMade): Promise<void> {
    for (const person of outside)
      await this.database.getRepository(PersonRow).insert({ ...person, look: lookOf(person.name), login: null });
  }

  /** Those whom nothing names in the end were not needed. */
  async #forget(people: readonly string[]): Promise<void> {
    if (people.length)
      await this.database.query(
        `DELETE FROM people WHERE id = ANY ($1) AND standing = 'outside'
           AND NOT EXISTS (SELECT 1 FROM named_people WHERE person_id = people.id)`,
        [people],
      );
  }

  async #keepBeside(manager: EntityManager, manuscriptId: string, me: string, { outside, assets }: TakenInMade) {
    const [{ hue }] = await manager.query<[{ hue: number }]>(
      `SELECT coalesce(max(hue), 0) AS hue FROM (SELECT hue FROM members WHERE manuscript_id = $1
         UNION ALL SELECT hue FROM named_people WHERE manuscript_id = $1) AS hues`,
      [manuscriptId],
    );
    for (const [i, { id }] of outside.entries())
      await manager.insert(NamedPersonRow, { manuscriptId, personId: id, hue: hue + 1 + i });
    for (const { id, type, bytes } of assets)
      await manager.insert(AssetRow, { id, manuscriptId, type, bytes: Buffer.from(bytes), addedBy: me });
  }
}
