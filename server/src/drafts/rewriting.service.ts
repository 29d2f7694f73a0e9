import { BadRequestException, ConflictException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import { Step } from 'prosemirror-transform';
import { DataSource, type EntityManager } from 'typeorm';
import { limitWords, OnBlocks, schema, squareTables, toDate } from '@tea-pencil/core';
import type { BringBackHow, BroughtBack, DraftReason, Outcome } from '@tea-pencil/wire';
import { Transform } from 'prosemirror-transform';
import { ActRow, DraftRow } from '../database/draft-entities.js';
import { keepDraft } from '../database/kept-draft.js';
import { keepSummary, summaryOf } from '../database/kept-text.js';
import { Authority } from '../live/authority.js';
import { breathing } from '../live/breathing.js';
import { Broadcasting } from '../live/broadcasting.js';
import { History } from '../live/history.js';
import type { OpenText } from '../live/open-text.js';
import { jsonOf } from '../live/packing.js';
import type { Batch } from '../live/step-log.js';
import type { OwnSteps } from '../live/submissions.js';
import { may, type Member } from '../policy/may.js';
import { saysBusy, Workers } from '../work/workers.js';
import type { Rewritten, ToRewrite } from './rewriting-task.js';

/** What is done to a whole text, and by whom. */
export interface Rewriting<R extends Rewritten> {
  by: Member;
  intent: 'pencil' | 'ink';
  /** The draft that is kept before: why, and of what. */
  keep: { reason: DraftReason; before: string };
  /** Makes the steps, from the text as JSON and its version. */
  make(now: string, version: number): Promise<R>;
  /** What else is kept in the same moment. */
  also?(manager: EntityManager, made: R): Promise<void>;
  inkFrom?: number;
}

/** How often one begins anew because somebody has written meanwhile, before the others are asked to wait. */
const patience = 3;

function* applied(text: OpenText, steps: readonly object[]): Generator<undefined, Transform> {
  const on = new OnBlocks(text.doc);
  for (const json of steps) {
    on.step(Step.fromJSON(schema, json));
    yield;
  }
  return on.addTo(new Transform(text.doc));
}

/** Acts of the server’s on a whole text, made elsewhere and kept as one: what they do can be taken back. */
@Injectable()
export class RewritingService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly authority: Authority,
    private readonly history: History,
    private readonly workers: Workers,
    private readonly live: Broadcasting,
  ) {}

  /** Brings a version back, in pencil or in ink. */
  async bringBack(by: Member, version: number, how: BringBackHow, stop: AbortSignal): Promise<BroughtBack> {
    const allowed = may(how === 'ink' ? 'write in ink' : 'write in pencil', by);
    if (allowed !== true) throw new BadRequestException(allowed);
    const { manuscriptId: manuscript } = by;
    const at = await this.history.endUpTo(manuscript, version);
    const named = await this.database
      .getRepository(DraftRow)
      .findOne({ where: { manuscriptId: manuscript, version: at }, order: { name: 'ASC' } });
    const what = named?.name ? `bringing back “${named.name}”` : 'bringing back an earlier draft';
    const pencil = how === 'pencil' ? { author: by.personId, date: toDate(new Date()) } : null;
    const { act, changes } = await this.rewrite({
      by,
      intent: how,
      keep: { reason: 'back', before: what },
      make: (now) => {
        const task: ToRewrite = { now, manuscript, version: at, pencil };
        return this.workers.run<Rewritten>('bringBack', () => Promise.resolve(task), { of: by.personId, stop });
      },
    });
    return { act, changes };
  }

  /**
   * Has steps made for the text as it stands, and keeps them.
   * @throws ConflictException where it cannot be done, with the reason; nothing is kept then
   */
  async rewrite<R extends Rewritten>(what: Rewriting<R>): Promise<BroughtBack & { made: R }> {
    const { manuscriptId: manuscript } = what.by;
    let made: R | null = null;
    let version = -1;
    const prepare = async (text: OpenText) => {
      [made, version] = [await saysBusy(what.make(jsonOf(text.doc), text.version)), text.version];
    };
    for (let attempt = 0; ; attempt++) {
      const text = await this.authority.text(manuscript);
      if (!text) throw new NotFoundException('This manuscript is not there any more.');
      // While others write all the time they wait in the end, their words with them.
      const within = attempt >= patience;
      if (!within && version !== text.version) await prepare(text);
      let id: string | null = null;
      const outcome = await this.authority.write(manuscript, async (now) => {
        if (within && version !== now.version) await prepare(now);
        if (version !== now.version) return { behind: true };
        const steps = await this.#steps(what, made!, now);
        id = 'id' in steps ? (steps.id ?? null) : null;
        return steps;
      });
      if ('behind' in outcome) continue;
      if ('refused' in outcome) throw new ConflictException(outcome.refused);
      if ('later' in outcome) throw new ConflictException(outcome.later);
      if (id) this.live.changed(manuscript, 'drafts');
      return { act: id, changes: made!.fresh.length, made: made! };
    }
  }

  async #steps<R extends Rewritten>(what: Rewriting<R>, made: R, now: OpenText): Promise<Outcome | OwnSteps> {
    const { by, intent, keep, inkFrom } = what;
    const { manuscriptId } = by;
    if (made.tooMuch) return { refused: `This is too much: ${limitWords.changes}.` };
    const tr = await breathing(applied(now, made.steps));
    squareTables(tr);
    const id = tr.steps.length ? nanoid(12) : undefined;
    const toVersion = now.version + tr.steps.length;
    const batch: Batch = { steps: tr.steps, author: by.personId, intent, client: 'server', fresh: new Map(made.fresh) };
    const also = async (manager: EntityManager) => {
      await what.also?.(manager, made);
      if (!id) return;
      await keepDraft(manager, { manuscriptId, version: now.version, ...keep });
      const act = { id, manuscriptId, fromVersion: now.version, toVersion, by: by.personId };
      await manager.insert(ActRow, { ...act, inkFrom: inkFrom ?? null });
      await keepSummary(manager, manuscriptId, toVersion, summaryOf(tr.doc));
    };
    return { tr, batch, also, ...(id !== undefined && { id }) };
  }

  /** Takes such an act back, whatever has been written since. */
  async takeBack(by: Member, id: string): Promise<void> {
    const { manuscriptId, personId } = by;
    const acts = this.database.getRepository(ActRow);
    const outcome = await this.authority.write(manuscriptId, async (text) => {
      const act = await acts.findOneBy({ manuscriptId, id });
      if (!act) return { refused: 'There is no such act in this manuscript.' };
      if (act.takenBackBy !== null) return { refused: 'This has been taken back already.' };
      const allowed = may(act.by === personId ? 'write in pencil' : 'decide', by);
      if (allowed !== true) return { refused: allowed };
      const tr = await this.history.undone(act, text);
      if (!tr) return { refused: 'This cannot be taken back any more: the text around it has changed too far.' };
      squareTables(tr);
      const batch: Batch = { steps: tr.steps, author: personId, intent: 'decision', client: 'server' };
      const also = async (manager: EntityManager) => {
        await manager.update(ActRow, id, { takenBackBy: personId });
        await keepSummary(manager, manuscriptId, text.version + tr.steps.length, summaryOf(tr.doc));
      };
      return { tr, batch, also };
    });
    if (!('taken' in outcome))
      throw new ConflictException('refused' in outcome ? outcome.refused : 'later' in outcome ? outcome.later : '');
    this.live.changed(manuscriptId, 'drafts');
  }
}
