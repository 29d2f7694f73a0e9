import { mayAtLeast, roles, type Role } from '../database/roles.js';

/** Who may use a route: anyone at all, anyone signed in, or members of its manuscript with at least a role. */
export type Access = 'anyone' | 'signed in' | Role;

/** Every route there is. One that is not in this table answers nobody. */
export const routes: Readonly<Record<string, Access>> = {
  'GET /api/health': 'anyone',
  'POST /api/sign-in': 'anyone',
  'POST /api/sign-in/demo': 'anyone',
  'GET /api/demo-people': 'anyone',

  'POST /api/sign-out': 'signed in',
  'GET /api/me': 'anyone', // null for one who is not signed in
  'PATCH /api/me': 'signed in',
  'PUT /api/me/portrait': 'signed in',
  'DELETE /api/me/portrait': 'signed in',
  'GET /api/people/:person/portrait': 'signed in',
  'GET /api/post': 'signed in', // one's own, and of manuscripts one may still read
  'PATCH /api/post': 'signed in',
  'PUT /api/post/kinds': 'signed in',
  'GET /api/outbox': 'signed in', // one's own
  'GET /api/outbox/:mail/html': 'signed in',
  'GET /api/people': 'signed in',
  'GET /api/manuscripts': 'signed in',
  'POST /api/manuscripts': 'signed in',
  'POST /api/manuscripts/import': 'signed in',
  'GET /api/assets/:asset': 'signed in', // members of its manuscript only; to others there is no such picture

  'GET /api/manuscripts/:id': 'reader',
  'GET /api/manuscripts/:id/threads': 'reader',
  'GET /api/manuscripts/:id/copies/:copy': 'reader',
  'GET /api/manuscripts/:id/versions/:version': 'reader',
  'GET /api/manuscripts/:id/ledger': 'reader',
  'GET /api/manuscripts/:id/ledger/:change/place': 'reader',
  'GET /api/manuscripts/:id/view': 'reader', // one's own, and nobody else's
  'PATCH /api/manuscripts/:id/view': 'reader',
  'PUT /api/manuscripts/:id/hue': 'reader',

  'POST /api/manuscripts/:id/threads': 'remarker',
  'POST /api/manuscripts/:id/threads/:thread/comments': 'remarker',
  'PATCH /api/manuscripts/:id/threads': 'remarker',
  'PATCH /api/manuscripts/:id/threads/:thread': 'remarker', // a note to somebody else is nowhere
  // For these see also `talkActs`.
  'PUT /api/manuscripts/:id/threads/:thread/place': 'remarker',
  'PATCH /api/manuscripts/:id/threads/:thread/comments/:comment': 'remarker',
  'PATCH /api/manuscripts/:id/threads/:thread/comments/:comment/query': 'remarker',
  'POST /api/manuscripts/:id/threads/:thread/comments/:comment/change': 'proposer',

  'POST /api/manuscripts/:id/pictures': 'proposer',
  'POST /api/manuscripts/:id/pictures/copy': 'proposer',

  'PATCH /api/manuscripts/:id': 'keeper',
  'PUT /api/manuscripts/:id/members/:person': 'keeper',
  'DELETE /api/manuscripts/:id/members/:person': 'keeper',
  'PATCH /api/manuscripts/:id/outside/:person': 'keeper',
};

/** Every message of a live connection, and the least role for it. A batch is named with its intent. */
export const messages = {
  join: 'reader',
  leave: 'reader',
  presence: 'reader',
  'submit pencil': 'proposer',
  'submit ink': 'decider', // nobody, where everyone writes in pencil
  'decide own': 'proposer', // withdrawing changes of one's own
  decide: 'decider',
  'takeBack own': 'proposer', // a decision of one's own
  takeBack: 'decider',
} as const satisfies Record<string, Role>;

/** What someone is to a thread or a comment: whose it is, who is asked in it, or someone with a role. */
export type Relation = 'author' | 'asked' | Role;

/** Who may do what to talk that is there already, besides having the role for the route. */
export const talkActs = {
  'see a note to oneself': ['author'],
  'change a comment': ['author'],
  'delete a comment': ['author'],
  'settle a query': ['author', 'asked', 'decider'],
  'move a thread from its words': ['author', 'decider'],
  'change a tint': ['author', 'decider'],
} as const satisfies Record<string, Relation[]>;

/** Whether one of what somebody is may do it; a role includes those before it. */
export const mayInTalk = (act: keyof typeof talkActs, is: readonly Relation[]): boolean =>
  talkActs[act].some((least) =>
    is.some((one) => one === least || (isRole(one) && isRole(least) && mayAtLeast(one, least))),
  );
const isRole = (relation: Relation): relation is Role => roles.includes(relation as Role);
