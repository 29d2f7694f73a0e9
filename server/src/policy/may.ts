import type { Role } from '@tea-pencil/wire';
import { actWords, bundles, talkActs, talkRefusals, type Act, type Relation, type TalkAct } from './acts.js';

/** Someone’s membership in a manuscript, and what the manuscript is set to. */
export interface Membership {
  manuscriptId: string;
  personId: string;
  role: Role;
}
export interface ManuscriptState {
  /** Whether nobody uses ink. */
  everyoneInPencil: boolean;
}

/** Yes, or the sentence that says why not. */
export type Permission = true | string;

/** Where there is more to say than that one may not. */
const sentences: Partial<Record<Act, string>> = {
  'write in pencil': 'You may not change this manuscript.',
  'write in ink': 'You may not use ink in this manuscript; take the pencil.',
  decide: 'You may not decide changes in this manuscript; you may withdraw your own.',
  'take back decisions': 'You may not take back what others have decided.',
};

/**
 * Whether someone may do something in a manuscript. Guard, gateway, authority and talk ask this and nothing else.
 * @param state of the manuscript, where the act depends on it
 */
export function may(act: Act, { role }: Pick<Membership, 'role'>, state?: ManuscriptState): Permission {
  if (!bundles[role].has(act)) return sentences[act] ?? `In this manuscript you may not ${actWords[act]}.`;
  if (act === 'write in ink' && state?.everyoneInPencil) return 'In this manuscript everyone writes in pencil.';
  return true;
}

/** Whether someone may do something to talk that is there, by what they are to it. */
export function mayInTalk(act: TalkAct, member: Pick<Membership, 'role'>, is: readonly Relation[]): Permission {
  const { by, or } = talkActs[act];
  if (by.some((one) => is.includes(one)) || (or && may(or, member) === true)) return true;
  return talkRefusals[act];
}
