import type { Role } from '@tea-pencil/wire';
import { actWords, bundles, talkActs, talkRefusals, type Act, type Relation, type TalkAct } from './acts.js';

/** Someone’s membership in a manuscript. */
export interface Membership {
  manuscriptId: string;
  personId: string;
  role: Role;
  takesAway: boolean;
  invites: boolean;
  isGuest: boolean;
  /** When it ends by itself. */
  until: Date | null;
}
/** What the manuscript is set to. */
export interface ManuscriptState {
  /** Whether nobody uses ink. */
  everyoneInPencil: boolean;
  seal: { at: Date; mayWithdraw: boolean } | null;
  /** How often somebody's rights in it have changed: as long as it is the same, what the policy said holds. */
  rights: number;
}
/** Somebody as they stand to a manuscript just now. */
export type Member = Membership & ManuscriptState;

/** Yes, or the sentence that says why not. */
export type Permission = true | string;

/** Where there is more to say than that one may not. */
const sentences: Partial<Record<Act, string>> = {
  'write in pencil': 'You may not change this manuscript.',
  'write in ink': 'You may not use ink in this manuscript; take the pencil.',
  decide: 'You may not decide changes in this manuscript; you may withdraw your own.',
  'take back decisions': 'You may not take back what others have decided.',
};

const undecided = 'This manuscript is sealed: nothing is decided until the seal is lifted.';
const unwithdrawn = 'This manuscript is sealed: what has been proposed stays as it is until the seal is lifted.';
/** What a seal closes to everyone, keepers included, and what is said of it. */
const sealed: Partial<Record<Act, string>> = {
  'write in ink': 'This manuscript is sealed: everyone writes in pencil until the seal is lifted.',
  decide: undecided,
  'take back decisions': undecided,
  'take back own decisions': undecided,
  'say who is who':
    'This manuscript is sealed: whose the proposed changes are stays as it is until the seal is lifted.',
  seal: 'This manuscript is sealed already.',
  delete: 'This manuscript is sealed. Lift the seal before you delete it.',
};
/** What it closes where it says so. */
const perhapsSealed: readonly Act[] = ['withdraw own changes', 'take back own withdrawals'];

/** What a guest sees nothing of, whatever their link lets them do. */
const notForGuests: ReadonlySet<Act> = new Set(['take away', 'see who may do what', 'invite']);

/** Whether someone may do something in a manuscript. Guard, gateway, authority and talk ask this and nothing else. */
export function may(
  act: Act,
  { role, takesAway, invites, isGuest, ...state }: Omit<Member, 'manuscriptId' | 'personId' | 'rights' | 'until'>,
): Permission {
  const no = sentences[act] ?? `In this manuscript you may not ${actWords[act]}.`;
  if (state.seal) {
    const closed = sealed[act] ?? (perhapsSealed.includes(act) && !state.seal.mayWithdraw ? unwithdrawn : undefined);
    if (closed) return closed;
  }
  if (isGuest && notForGuests.has(act)) return no;
  if (act === 'take away' && !takesAway) return no;
  if (!bundles[role].has(act) && !(act === 'invite' && invites)) return no;
  if (act === 'lift the seal' && !state.seal) return 'This manuscript is not sealed.';
  if (act === 'write in ink' && state.everyoneInPencil) return 'In this manuscript everyone writes in pencil.';
  return true;
}

/** Whether someone may do something to talk that is there, by what they are to it. A seal is none of its business. */
export function mayInTalk(act: TalkAct, { role }: Pick<Membership, 'role'>, is: readonly Relation[]): Permission {
  const { by, or } = talkActs[act];
  if (by.some((one) => is.includes(one)) || (or && bundles[role].has(or))) return true;
  return talkRefusals[act];
}
