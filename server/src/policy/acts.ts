import type { Role } from '@tea-pencil/wire';

/** What can be done in a manuscript, and which roles may do it. A role is a name for a bundle of acts. */

/** What a sentence says that someone may not do: "In this manuscript you may not …". */
const words = {
  read: 'read',
  'take away': 'take anything away',
  'look around': 'choose how you look at it',
  comment: 'comment',
  'write in pencil': 'propose changes',
  'withdraw own changes': 'withdraw changes',
  'take back own decisions': 'take decisions back',
  'take back own withdrawals': 'take decisions back',
  'make wording a change': 'propose changes',
  'add pictures': 'propose changes',
  'keep drafts': 'propose changes',
  'change drafts of others': 'change drafts that others keep',
  'leave findings': 'propose changes',
  'take in what came back': 'decide',
  'write in ink': 'decide',
  decide: 'decide',
  'take back decisions': 'decide',
  'change settings': 'change people and settings',
  'look after people': 'change people and settings',
  invite: 'invite anyone',
  'say who is who': 'change people and settings',
  'see who may do what': 'see who may do what',
  seal: 'change people and settings',
  'lift the seal': 'lift the seal',
  delete: 'delete it',
} as const;

export type Act = keyof typeof words;
export const actWords: Readonly<Record<Act, string>> = words;

const reading: Act[] = ['read', 'take away', 'look around', 'see who may do what'];
const remarking: Act[] = [...reading, 'comment'];
const proposing: Act[] = [
  ...remarking,
  'write in pencil',
  'withdraw own changes',
  'take back own decisions',
  'take back own withdrawals',
  'make wording a change',
  'add pictures',
  'keep drafts',
  'leave findings',
];
const deciding: Act[] = [...proposing, 'write in ink', 'decide', 'take back decisions', 'take in what came back'];
const keeping: Act[] = [
  ...deciding,
  ...([
    'change drafts of others',
    'change settings',
    'look after people',
    'say who is who',
    'invite',
    'seal',
    'lift the seal',
    'delete',
  ] as const),
];

/** Each role with all it may do. */
export const bundles: Readonly<Record<Role, ReadonlySet<Act>>> = {
  reader: new Set(reading),
  remarker: new Set(remarking),
  proposer: new Set(proposing),
  decider: new Set(deciding),
  keeper: new Set(keeping),
};

/** The roles, the one that may least first. */
export const roles = Object.keys(bundles) as Role[];

/** What roles let one do, as a sentence says it of an invitation. */
export const roleWords: Readonly<Record<Role, string>> = {
  reader: 'read',
  remarker: 'comment',
  proposer: 'propose changes',
  decider: 'decide',
  keeper: 'change people and settings',
};

/** What someone is to a thread or a comment: whose it is, or who is asked in it. */
export type Relation = 'author' | 'asked';

/** What can be done to talk that is there: by whom it is one’s own, or by whom an act lets do it to everybody’s. */
export const talkActs = {
  'see a note to oneself': { by: ['author'], or: null },
  'change a comment': { by: ['author'], or: null },
  'delete a comment': { by: ['author'], or: null },
  'settle a query': { by: ['author', 'asked'], or: 'decide' },
  'move a thread from its words': { by: ['author'], or: 'decide' },
  'change a tint': { by: ['author'], or: 'decide' },
} as const satisfies Record<string, { by: Relation[]; or: Act | null }>;
export type TalkAct = keyof typeof talkActs;

/** Why not, of talk. A note of somebody else's to themselves is nowhere, so there is nothing to say of it. */
export const talkRefusals: Readonly<Record<TalkAct, string>> = {
  'see a note to oneself': 'There is no such thread in this manuscript.',
  'change a comment': 'Only who wrote a comment may change or delete it.',
  'delete a comment': 'Only who wrote a comment may change or delete it.',
  'settle a query': 'Only who asks, who is asked, or one who may decide can settle a query.',
  'move a thread from its words': 'A thread that has its words is moved by who began it, or by one who may decide.',
  'change a tint': 'Only who highlighted a passage, or one who may decide, can change its tint.',
};
