import { ConflictException, ForbiddenException, Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { toDate } from '@tea-pencil/core';
import type { ActTakenBack } from '@tea-pencil/wire';
import { ActRow } from '../database/draft-entities.js';
import { may, type Member, type Permission } from '../policy/may.js';
import { Memberships } from '../policy/memberships.js';
import { Workers } from '../work/workers.js';
import { RewritingService } from './rewriting.service.js';
import type { TakenBack, ToTakeBack } from './take-back-task.js';

const takenBack = 'This has been taken back already.';

/** Whether somebody may take an act back at all. What one has done oneself since a seal was put on is one's own to withdraw. */
function mayAsk(member: Member, act: ActRow): Permission {
  const own = member.seal && act.at >= member.seal.at ? 'take back own withdrawals' : 'take back own decisions';
  return may(act.by === member.personId ? own : 'take back decisions', member);
}

/** Whether somebody may do what taking it back comes to. */
function mayDo(member: Member, { how, isOwn }: TakenBack): Permission {
  if (how === 'recorded') return may('write in pencil', member);
  if (isOwn) return may('withdraw own changes', member);
  if (how === 'withdrawn') return may('decide', member);
  const inInk = may('write in ink', member);
  return inInk === true ? may('take back decisions', member) : inInk;
}

/** Takes acts on a whole text back. That is an edit as well: it is allowed as what it does to the text as it stands now. */
@Injectable()
export class TakingBackService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly memberships: Memberships,
    private readonly rewriting: RewritingService,
    private readonly workers: Workers,
  ) {}

  async takeBack(by: Member, id: string, stop: AbortSignal): Promise<ActTakenBack> {
    const { manuscriptId: manuscript, personId } = by;
    const acts = this.database.getRepository(ActRow);
    const act = await acts.findOneBy({ manuscriptId: manuscript, id });
    if (!act) throw new ConflictException('There is no such act in this manuscript.');
    if (act.takenBackBy !== null) throw new ConflictException(takenBack);
    const asked = mayAsk(by, act);
    if (asked !== true) throw new ForbiddenException(asked);
    const { fromVersion: from, toVersion: to } = act;
    const mine = [...(await this.memberships.idsOf(manuscript, personId))];
    const freely = may('write in ink', by) === true && may('take back decisions', by) === true;
    const { made } = await this.rewriting.rewrite<TakenBack>({
      by,
      keep: null,
      intent: ({ how, wasInk }) => (how === 'recorded' ? 'pencil' : how === 'undone' && wasInk ? 'ink' : 'decision'),
      allows: async (member, found) => {
        // Twice at once: the first has it.
        if ((await acts.findOneByOrFail({ id })).takenBackBy !== null) return takenBack;
        const still = mayAsk(member, act);
        return still === true ? mayDo(member, found) : still;
      },
      make: (now, version) => {
        const date = toDate(new Date());
        const task: ToTakeBack = { now, version, manuscript, from, to, by: personId, mine, date, freely };
        return this.workers.run<TakenBack>('takeBackAct', () => Promise.resolve(task), { of: personId, stop });
      },
      also: async (manager) => void (await manager.update(ActRow, id, { takenBackBy: personId })),
    });
    return { how: made.how, decided: made.decided, changes: made.fresh.length };
  }
}
