import {
  BadRequestException,
  ConflictException,
  ForbiddenException,
  Injectable,
  NotFoundException,
} from '@nestjs/common';
import { kindOf, toDate, type Pending } from '@tea-pencil/core';
import type { CollatedTexts } from '@tea-pencil/wire';
import { ManuscriptsService } from '../manuscripts/manuscripts.service.js';
import { notThere } from '../policy/memberships.js';
import { may } from '../policy/may.js';
import { Memberships } from '../policy/memberships.js';
import { saysBusy, Workers } from '../work/workers.js';
import type { Collated, Source, ToCollate } from './collate-task.js';
import { taken } from './exchange.service.js';

/** A text that somebody has named: a manuscript of the house, or a file. */
export type Named = { manuscript: string } | { name: string; bytes: Uint8Array };

export interface Collating {
  before: Named;
  after: Named;
  other: Named | null;
  pending: Pending;
  names: [after: string, other: string];
  anyway: boolean;
}

/** Lays texts together that come from anywhere. */
@Injectable()
export class CollatingService {
  constructor(
    private readonly manuscripts: ManuscriptsService,
    private readonly memberships: Memberships,
    private readonly workers: Workers,
  ) {}

  /**
   * Makes a manuscript of two texts in which what differs is changes; with another revision, of the changes of both.
   * @throws ConflictException where they have next to nothing in common and it is not said to go on
   */
  async collate(me: string, what: Collating, stop: AbortSignal): Promise<CollatedTexts> {
    const { pending, names, anyway } = what;
    const task = async (): Promise<ToCollate> => ({
      before: await this.#source(me, what.before),
      after: await this.#source(me, what.after),
      other: what.other && (await this.#source(me, what.other)),
      pending,
      names,
      anyway,
      date: toDate(new Date()),
    });
    const made = await saysBusy(this.workers.run<Collated>('collateTexts', task, { of: me, stop }));
    if ('reason' in made) {
      if (made.apart) throw new ConflictException(made.reason);
      throw new BadRequestException(`${made.reason} ${taken}`);
    }
    const { changes, meetings, losses, outside, ...text } = made;
    const [before, after] = [await this.#called(what.before), await this.#called(what.after)];
    const title = `${before.slice(0, 90)} / ${after.slice(0, 90)}`;
    const id = await this.manuscripts.add(me, { title, note: 'collated', losses }, { ...text, threads: [] }, outside);
    return { id, changes, meetings };
  }

  async #called(text: Named): Promise<string> {
    if ('manuscript' in text) return (await this.manuscripts.get(text.manuscript)).title;
    return text.name.replace(/\.\w+$/, '');
  }

  async #source(me: string, text: Named): Promise<Source> {
    if ('bytes' in text) {
      const kind = kindOf(text.name);
      if (!kind) throw new BadRequestException(`“${text.name}” is of a kind that cannot be brought in. ${taken}`);
      return { name: text.name, bytes: text.bytes, format: kind.name };
    }
    const member = await this.memberships.of(text.manuscript, me);
    if (!member) throw new NotFoundException(notThere);
    const allowed = may('take away', member);
    if (allowed !== true) throw new ForbiddenException(allowed);
    const whole = await this.manuscripts.whole(text.manuscript, me, { origin: null, pictures: true });
    if (!whole) throw new NotFoundException(notThere);
    const { json, people, assets } = whole;
    return { name: await this.#called(text), json, people, assets };
  }
}
