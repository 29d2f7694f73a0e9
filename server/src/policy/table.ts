import type { Messages } from '@tea-pencil/wire';
import type { Act } from './acts.js';

/**
 * Who may use a route: anyone at all, anyone who is signed in or came by a guest link, whoever has an account, keepers of
 * the house, or whoever may do something in the manuscript it is about.
 */
export type Access = 'anyone' | 'known' | 'account' | 'house keeper' | { act: Act };

const to = (act: Act): Access => ({ act });

/** Every route there is. One that is not in this table answers nobody. */
export const routes: Readonly<Record<string, Access>> = {
  'GET /api/health': 'anyone',
  'GET /api/ready': 'anyone',
  'GET /api/metrics': 'anyone', // who knows the token
  'GET /api/door': 'anyone',
  'POST /api/begin': 'anyone', // while nobody has an account
  'POST /api/sign-in': 'anyone',
  'POST /api/sign-in/demo': 'anyone',
  'GET /api/sign-in/work': 'anyone',
  'GET /api/sign-in/work/back': 'anyone', // with what the provider says
  'GET /api/demo-people': 'anyone',
  'POST /api/come-in': 'anyone', // a letter goes out, or none
  'POST /api/password/forgotten': 'anyone', // the same
  'POST /api/password/reset': 'anyone', // with what the letter held
  'POST /api/invitations/told': 'anyone', // the same
  'POST /api/invitations/accepted': 'anyone',
  'POST /api/links/told': 'anyone', // with what the link holds
  'POST /api/links/entered': 'anyone',

  'POST /api/sign-out': 'known',
  'GET /api/me': 'anyone', // null for one who is not signed in
  'PATCH /api/me': 'known',
  'POST /api/me/mail': 'account', // one's own address, with what was sent there
  'PUT /api/me/password': 'account',
  'GET /api/me/sessions': 'account',
  'DELETE /api/me/sessions/:session': 'account', // one's own
  'POST /api/me/leave': 'account',
  'PUT /api/me/portrait': 'account',
  'DELETE /api/me/portrait': 'account',
  'GET /api/people/:person/portrait': 'known', // of people one has a manuscript with
  'GET /api/post': 'account', // one's own, and of manuscripts one may still read
  'PATCH /api/post': 'account',
  'PATCH /api/post/kinds': 'account',
  'GET /api/outbox': 'account', // one's own
  'GET /api/outbox/:mail/html': 'account',
  'GET /api/people': 'account', // those one has a manuscript with
  'GET /api/groups': 'account', // one's own
  'POST /api/groups': 'account',
  'PUT /api/groups/:group': 'account', // whose maker one is
  'DELETE /api/groups/:group': 'account',
  'GET /api/manuscripts': 'account',
  'POST /api/manuscripts': 'account',
  'GET /api/manuscripts/here': 'account',
  'GET /api/manuscripts/found': 'account',
  'POST /api/manuscripts/import': 'account',
  'POST /api/collations': 'account', // of manuscripts one may take away, and files
  'GET /api/manuscripts/import/waiting': 'account', // one's own place
  'GET /api/deleted': 'account', // of which one is keeper
  'POST /api/deleted/:manuscript/back': 'account', // whose keeper one was
  'GET /api/assets/:asset': 'known', // members of its manuscript only; to others there is no such picture

  'GET /api/styles': 'account',
  'POST /api/styles': 'account',
  'POST /api/styles/read': 'account',
  'GET /api/styles/:style': 'account',
  'GET /api/styles/:style/versions': 'account',
  'GET /api/styles/:style/versions/:version': 'account',
  'PUT /api/styles/:style': 'account', // whose maker one is; keepers of the house look after all
  'DELETE /api/styles/:style': 'account', // the same

  'GET /api/house': 'house keeper',
  'PATCH /api/house': 'house keeper',
  'PATCH /api/house/people/:person': 'house keeper',
  'POST /api/house/invitations': 'house keeper',
  'DELETE /api/house/invitations/:invitation': 'house keeper',
  'DELETE /api/house/links/:link': 'house keeper',
  'PUT /api/house/unkept/:manuscript': 'house keeper',

  'GET /api/manuscripts/:id': to('read'),
  'GET /api/manuscripts/:id/threads': to('read'),
  'GET /api/manuscripts/:id/copies/:copy': to('take away'),
  'GET /api/manuscripts/:id/pages/:printed': to('take away'),
  'GET /api/manuscripts/:id/versions/:version': to('read'),
  'GET /api/manuscripts/:id/versions/:version/copies/:copy': to('take away'),
  'POST /api/manuscripts/:id/versions/:version/copy': to('take away'),
  'GET /api/manuscripts/:id/ledger': to('read'),
  'GET /api/manuscripts/:id/ledger/last': to('read'), // one’s own
  'GET /api/manuscripts/:id/ledger/:change/place': to('read'),
  'GET /api/manuscripts/:id/ledger/:change/events': to('read'),
  'GET /api/manuscripts/:id/drafts': to('read'),
  'GET /api/manuscripts/:id/time-line': to('read'),
  'GET /api/manuscripts/:id/moments/:version': to('read'),
  'GET /api/manuscripts/:id/beside': to('read'),
  'GET /api/manuscripts/:id/ink': to('read'),
  'GET /api/manuscripts/:id/view': to('look around'), // one's own, and nobody else's
  'PATCH /api/manuscripts/:id/view': to('look around'),
  'PUT /api/manuscripts/:id/hue': to('look around'),
  'PUT /api/manuscripts/:id/desk': to('look around'),
  'POST /api/manuscripts/:id/copy': to('take away'),

  'POST /api/manuscripts/:id/threads': to('comment'),
  'POST /api/manuscripts/:id/threads/:thread/comments': to('comment'),
  'PATCH /api/manuscripts/:id/threads': to('comment'),
  'PATCH /api/manuscripts/:id/threads/:thread': to('comment'), // a note to somebody else is nowhere
  // For these see also `talkActs`.
  'PUT /api/manuscripts/:id/threads/:thread/place': to('comment'),
  'PATCH /api/manuscripts/:id/threads/:thread/comments/:comment': to('comment'),
  'PATCH /api/manuscripts/:id/threads/:thread/comments/:comment/query': to('comment'),
  'POST /api/manuscripts/:id/threads/:thread/comments/:comment/change': to('make wording a change'),

  'POST /api/manuscripts/:id/drafts': to('keep drafts'),
  'PATCH /api/manuscripts/:id/drafts/:draft': to('keep drafts'),
  'DELETE /api/manuscripts/:id/drafts/:draft': to('keep drafts'), // one's own; others': only keepers
  'POST /api/manuscripts/:id/drafts/:draft/back': to('keep drafts'), // the same
  'POST /api/manuscripts/:id/back': to('write in pencil'), // in ink: only who may write in ink
  'POST /api/manuscripts/:id/acts/:act/back': to('write in pencil'), // others': only who may decide
  'POST /api/manuscripts/:id/ink/:from/pencil': to('decide'),
  'POST /api/manuscripts/:id/returned': to('take in what came back'),

  'GET /api/manuscripts/:id/fair-copies': to('read'),
  'POST /api/manuscripts/:id/fair-copies': to('decide'),
  'GET /api/manuscripts/:id/fair-copies/:copy/files/:file': to('take away'),
  'POST /api/manuscripts/:id/fair-copies/:copy/back': to('decide'), // others': only who may take back decisions

  'GET /api/manuscripts/:id/last-look': to('read'), // one’s own words, and nobody else’s
  'POST /api/manuscripts/:id/last-look': to('leave findings'),
  'POST /api/manuscripts/:id/left': to('leave findings'),
  'DELETE /api/manuscripts/:id/left/:left': to('leave findings'),
  'POST /api/manuscripts/:id/words': to('read'), // for oneself; for others: only who may write in pencil
  'DELETE /api/manuscripts/:id/words/:word': to('read'), // the same
  'POST /api/manuscripts/:id/decided-at': to('read'),
  'PUT /api/manuscripts/:id/style': to('change settings'),

  'POST /api/manuscripts/:id/pictures': to('add pictures'),
  'POST /api/manuscripts/:id/pictures/copy': to('add pictures'),

  'PATCH /api/manuscripts/:id': to('change settings'),
  'DELETE /api/manuscripts/:id': to('delete'),
  'GET /api/manuscripts/:id/sharing': to('see who may do what'),
  'PUT /api/manuscripts/:id/members/:person': to('invite'), // others' rights: only who looks after people
  'DELETE /api/manuscripts/:id/members/:person': to('read'), // oneself; others: only who looks after people
  'PUT /api/manuscripts/:id/groups/:group': to('look after people'),
  'DELETE /api/manuscripts/:id/groups/:group': to('look after people'),
  'POST /api/manuscripts/:id/invitations': to('invite'),
  'DELETE /api/manuscripts/:id/invitations/:invitation': to('invite'), // one's own; others': who looks after people
  'POST /api/manuscripts/:id/links': to('look after people'),
  'DELETE /api/manuscripts/:id/links/:link': to('look after people'),
  'PATCH /api/manuscripts/:id/outside/:person': to('say who is who'),
  'PUT /api/manuscripts/:id/seal': to('seal'),
  'POST /api/manuscripts/:id/seal/lifted': to('lift the seal'),
};

/**
 * Every message of a live connection, and the act it is. Where it depends on what is sent (a batch on its intent, a
 * decision on whose change it is about), every act that it can be.
 */
export const messages = {
  join: ['read'],
  leave: ['read'],
  presence: ['read'],
  submit: ['write in pencil', 'write in ink'],
  decide: ['decide', 'withdraw own changes'],
  takeBack: ['take back decisions', 'take back own decisions', 'take back own withdrawals'],
} as const satisfies Record<keyof Messages, readonly Act[]>;
