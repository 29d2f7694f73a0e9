import type { Messages } from '@tea-pencil/wire';
import type { Act } from './acts.js';

/** Who may use a route: anyone at all, anyone signed in, or whoever may do something in the manuscript it is about. */
export type Access = 'anyone' | 'signed in' | { act: Act };

const to = (act: Act): Access => ({ act });

/** Every route there is. One that is not in this table answers nobody. */
export const routes: Readonly<Record<string, Access>> = {
  'GET /api/health': 'anyone',
  'GET /api/ready': 'anyone',
  'GET /api/metrics': 'anyone', // who knows the token
  'POST /api/sign-in': 'anyone',
  'POST /api/sign-in/demo': 'anyone',
  'GET /api/demo-people': 'anyone',

  'POST /api/sign-out': 'signed in',
  'GET /api/me': 'anyone', // null for one who is not signed in
  'PATCH /api/me': 'signed in',
  'POST /api/me/mail': 'signed in', // one's own address, with what was sent there
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
  'GET /api/manuscripts/import/waiting': 'signed in', // one's own place
  'GET /api/assets/:asset': 'signed in', // members of its manuscript only; to others there is no such picture

  'GET /api/manuscripts/:id': to('read'),
  'GET /api/manuscripts/:id/threads': to('read'),
  'GET /api/manuscripts/:id/copies/:copy': to('take away'),
  'GET /api/manuscripts/:id/versions/:version': to('read'),
  'GET /api/manuscripts/:id/ledger': to('read'),
  'GET /api/manuscripts/:id/ledger/last': to('read'), // one’s own
  'GET /api/manuscripts/:id/ledger/:change/place': to('read'),
  'GET /api/manuscripts/:id/view': to('look around'), // one's own, and nobody else's
  'PATCH /api/manuscripts/:id/view': to('look around'),
  'PUT /api/manuscripts/:id/hue': to('look around'),

  'POST /api/manuscripts/:id/threads': to('comment'),
  'POST /api/manuscripts/:id/threads/:thread/comments': to('comment'),
  'PATCH /api/manuscripts/:id/threads': to('comment'),
  'PATCH /api/manuscripts/:id/threads/:thread': to('comment'), // a note to somebody else is nowhere
  // For these see also `talkActs`.
  'PUT /api/manuscripts/:id/threads/:thread/place': to('comment'),
  'PATCH /api/manuscripts/:id/threads/:thread/comments/:comment': to('comment'),
  'PATCH /api/manuscripts/:id/threads/:thread/comments/:comment/query': to('comment'),
  'POST /api/manuscripts/:id/threads/:thread/comments/:comment/change': to('make wording a change'),

  'POST /api/manuscripts/:id/pictures': to('add pictures'),
  'POST /api/manuscripts/:id/pictures/copy': to('add pictures'),

  'PATCH /api/manuscripts/:id': to('change settings'),
  'PUT /api/manuscripts/:id/members/:person': to('look after people'),
  'DELETE /api/manuscripts/:id/members/:person': to('look after people'),
  'PATCH /api/manuscripts/:id/outside/:person': to('look after people'),
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
  takeBack: ['take back decisions', 'take back own decisions'],
} as const satisfies Record<keyof Messages, readonly Act[]>;
