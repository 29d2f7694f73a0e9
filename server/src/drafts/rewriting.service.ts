import { ConflictException, ForbiddenException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import { Transform, type Step } from 'prosemirror-transform';
import { DataSource, type EntityManager } from 'typeorm';
import { clockAllowance, limitWords, OnBlocks, soundInParts, squareTables, toDate } from '@tea-pencil/core';
import type { BringBackHow, BroughtBack, DraftReason, LoggedIntent } from '@tea-pencil/wire';
import { ActRow, DraftRow } from '../database/draft-entities.js';
import { keepDraft } from '../database/kept-draft.js';
import { keepSummary, summaryOf, type Summary } from '../database/kept-text.js';
import { Authority } from '../live/authority.js';
import { breathing } from '../live/breathing.js';
import { Broadcasting } from '../live/broadcasting.js';
import { History } from '../live/history.js';
import type { OpenText } from '../live/open-text.js';
import { jsonOf } from '../live/packing.js';
import { stepsInParts } from '../live/read-text.js';
import type { Batch } from '../live/step-log.js';
import type { OwnSteps } from '../live/submissions.js';
import { may, type Member, type Permission } from '../policy/may.js';
import { saysBusy, Workers } from '../work/workers.js';
import type { Rewritten, ToRewrite } from './rewriting-task.js';

/** What is done to a whole text, and by whom. */
export interface Rewriting<R extends Rewritten> {
  by: Member;
  intent: LoggedIntent | ((made: R) => LoggedIntent);
  /** Whether they may have it done, asked anew within the manuscript's turn. */
  allows(member: Member, made: R): Permission | Promise<Permission>;
  /** The draft that is kept before, why and of what; null for what takes an act back, which is none itself. */
  keep: { reason: DraftReason; before: string } | null;
  /** Makes the steps, from the text as JSON and its version. */
  make(now: string, version: number): Promise<R>;
  /** What else is kept in the same moment. */
  also?(manager: EntityManager, made: R): Promise<void>;
  inkFrom?: number;
  /** Whether what is new in it came with a file. */
  arrived?: boolean;
}

/** Steps on top of the text as it stands, and what they are kept with. */
interface Made {
  now: OpenText;
  tr: Transform;
  id: string | null;
  summary: Summary;
}

/** How often one begins anew because somebody has written at the same places meanwhile. */
const patience = 4;
const tooBusy = 'Others are writing at the same places just now. Nothing was changed; try again in a moment.';

function* applied(text: OpenText, steps: readonly Step[]): Generator<undefined, Transform> {
  const on = new OnBlocks(text.doc);
  for (const step of steps) {
    on.step(step);
    yield;
  }
  return on.addTo(new Transform(text.doc));
}

/** Steps that were made for a version on top of what has been written since; null where no manuscript would come of it. */
async function onTop(text: OpenText, json: readonly object[], version: number): Promise<Transform | null> {
  const steps = await breathing(stepsInParts(json));
  if (version === text.version) return breathing(applied(text, steps));
  try {
    const tr = await breathing(text.batch(version, steps, `act-${nanoid(8)}`));
    const latest = toDate(new Date(Date.now() + clockAllowance));
    return tr && (await breathing(soundInParts(tr.doc, latest))) ? tr : null;
  } catch {
    return null;
  }
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
    const allows = (member: Member) => may(how === 'ink' ? 'write in ink' : 'write in pencil', member);
    const allowed = allows(by);
    if (allowed !== true) throw new ForbiddenException(allowed);
    const { manuscriptId: manuscript } = by;
    const at = await this.history.endUpTo(manuscript, version);
    const named = await this.database
      .getRepository(DraftRow)
      .findOne({ where: { manuscriptId: manuscript, version: at }, order: { name: 'ASC' } });
    const what = named?.name ? `bringing back “${named.name}”` : 'bringing back an earlier draft';
    const pencil = how === 'pencil' ? { author: by.personId, date: toDate(new Date()) } : null;
    const { act, changes } = await this.rewrite({
      by,
      allows,
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
   * Has steps made for the text as it stands, and keeps them on top of what is written meanwhile.
   * @throws ConflictException where it cannot be done, with the reason; nothing is kept then
   */
  async rewrite<R extends Rewritten>(what: Rewriting<R>): Promise<BroughtBack & { made: R }> {
    const { manuscriptId: manuscript } = what.by;
    for (let attempt = 0; attempt < patience; attempt++) {
      const text = await this.authority.text(manuscript);
      if (!text) throw new NotFoundException('This manuscript is not there any more.');
      const { doc, version } = text;
      const made = await saysBusy(what.make(jsonOf(doc), version));
      if (made.impossible !== undefined) throw new ConflictException(made.impossible);
      let id: string | null = null;
      const { personId } = what.by;
      const asker = { personId, allows: (member: Member) => what.allows(member, made) };
      const outcome = await this.authority.write(manuscript, asker, async (now) => {
        if (made.tooMuch) return { refused: `This is too much: ${limitWords[made.tooMuch]}.` };
        const tr = await onTop(now, made.steps, version);
        if (!tr) return { behind: true };
        squareTables(tr);
        id = tr.steps.length && what.keep ? nanoid(12) : null;
        const asMade = version === now.version && tr.steps.length === made.steps.length;
        const summary = asMade ? made.summary : summaryOf(tr.doc);
        return this.#own(what, made, { now, tr, id, summary });
      });
      if ('behind' in outcome) continue;
      if (!('taken' in outcome)) throw new ConflictException(sentenceOf(outcome));
      this.live.changed(manuscript, 'drafts');
      return { act: id, changes: made.fresh.length, made };
    }
    throw new ConflictException(tooBusy);
  }

  #own<R extends Rewritten>(what: Rewriting<R>, made: R, { now, tr, id, summary }: Made): OwnSteps {
    const { by, intent, keep, inkFrom = null, arrived = false } = what;
    const { manuscriptId } = by;
    const toVersion = now.version + tr.steps.length;
    const batch: Batch = {
      steps: tr.steps,
      author: by.personId,
      intent: typeof intent === 'function' ? intent(made) : intent,
      client: 'server',
      fresh: new Map(made.fresh),
      arrived,
    };
    const also = async (manager: EntityManager) => {
      await what.also?.(manager, made);
      if (tr.steps.length) await keepSummary(manager, manuscriptId, toVersion, summary);
      if (id === null || !keep) return;
      await keepDraft(manager, { manuscriptId, version: now.version, ...keep });
      const act = { id, manuscriptId, fromVersion: now.version, toVersion, by: by.personId };
      await manager.insert(ActRow, { ...act, inkFrom });
    };
    return { tr, batch, also };
  }
}

const sentenceOf = (outcome: object): string =>
  'refused' in outcome ? String(outcome.refused) : 'later' in outcome ? String(outcome.later) : tooBusy;
