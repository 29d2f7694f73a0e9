import { remarkOf } from '@tea-pencil/core';
import type { Role } from '@tea-pencil/wire';
import { roles, type Act } from '../../src/policy/acts';
import { noticeKinds } from '../../src/post/kinds';
import { demoPerson, guestOf, sharedServer, Visitor } from './server';

/** Everyone who can stand to a manuscript in some way, a manuscript, and what is sent on every route there is. */

export const notThere = 'There is no such manuscript, or you are not one of its people.';

export type Who = Role | 'outsider' | 'nobody' | 'guest who reads' | 'guest who remarks' | 'guest who proposes';
export const everyone: Who[] = [
  'nobody',
  'outsider',
  ...roles,
  'guest who reads',
  'guest who remarks',
  'guest who proposes',
];
/** What each may as a member; guests may that besides what no guest may. */
export const roleOf = (who: Who): Role | null =>
  (({ 'guest who reads': 'reader', 'guest who remarks': 'remarker', 'guest who proposes': 'proposer' }) as const)[
    who as 'guest who reads'
  ] ?? ((roles as Who[]).includes(who) ? (who as Role) : null);
export const isGuest = (who: Who) => who.startsWith('guest');
export const notForGuests: readonly Act[] = ['take away', 'see who may do what', 'invite'];
/** Who of them looks after the house: Tobias. */
export const houseKeeper: Who = 'decider';

export let server: Awaited<ReturnType<typeof sharedServer>>;
export const people = {} as Record<Who, Visitor>;
/** The manuscript that all but the outsider are members of. */
export let id: string;
export let asset: string;
export let thread: string;
let firstComment: string;

/** The smallest picture there can be. */
export const pixel = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==',
  'base64',
);
export const file = (name: string, bytes: BlobPart) => {
  const form = new FormData();
  form.append('file', new File([bytes], name));
  return form;
};

beforeAll(async () => {
  server = await sharedServer();
  const logins = { keeper: 'ines', decider: 'tobias', proposer: 'maren', remarker: 'harbour', reader: 'alba' } as const;
  for (const [role, login] of Object.entries(logins)) people[role as Role] = await demoPerson(server.address, login);
  people.nobody = new Visitor(server.address);
  const { keeper } = people;
  id = (await keeper.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'The whole table' })).body.id;
  for (const role of roles.slice(0, -1)) {
    await keeper.ask('PUT', `/api/manuscripts/${id}/members/${people[role].id}`, { role });
  }
  // One of the same people, who is no member of another manuscript.
  people.outsider = people.reader;
  const picture = await keeper.ask<{ asset: string }>('POST', `/api/manuscripts/${id}/pictures`, file('p.png', pixel));
  asset = picture.body.asset;
  for (const who of ['guest who reads', 'guest who remarks', 'guest who proposes'] as const)
    people[who] = await guestOf(keeper, id, { role: roleOf(who)!, name: who });
  // Of each file of tests its own: they share a database.
  thread = `thread-${id}`;
  firstComment = `comment-${id}`;
  const begun = { id: thread, whole: true, comment: { id: firstComment, body: remarkOf('Hello') } };
  await keeper.ask('POST', `/api/manuscripts/${id}/threads`, begun);
});
afterAll(() => server.stop());

let n = 0;
/** What is sent on each route so that it succeeds for those who may. */
export const bodies: Record<string, () => unknown> = {
  'POST /api/sign-in': () => ({ login: 'ines', password: 'low water' }),
  'POST /api/sign-in/demo': () => ({ person: people.keeper.id }),
  'PATCH /api/me': () => ({ initials: 'XY' }),
  'POST /api/manuscripts': () => ({ title: 'Made while walking the table' }),
  'POST /api/manuscripts/import': () => file('note.txt', 'A line.'),
  'POST /api/collations': () => {
    const form = new FormData();
    for (const place of ['before', 'after']) form.append(place, new File(['A line.'], `${place}.txt`));
    return form;
  },
  'PATCH /api/manuscripts/:id/view': () => ({ lenses: [] }),
  'PUT /api/manuscripts/:id/hue': () => ({ hue: 2 }),
  'POST /api/me/mail': () => ({ token: 'nothing' }),
  'PUT /api/me/portrait': () => file('me.png', pixel),
  'PATCH /api/post': () => ({ read: true }),
  'PATCH /api/post/kinds': () => Object.fromEntries(noticeKinds.map((kind) => [kind, 'post'])),
  'POST /api/manuscripts/:id/threads': () => ({
    id: `t-${id}-${++n}`,
    whole: true,
    comment: { id: `c-${id}-${n}`, body: remarkOf('Hello') },
  }),
  'PATCH /api/manuscripts/:id/threads': () => ({ threads: [thread], resolved: false }),
  'PATCH /api/manuscripts/:id/threads/:thread': () => ({ resolved: false }),
  'PUT /api/manuscripts/:id/threads/:thread/place': () => ({ version: 0, from: 1, to: 1 }),
  'POST /api/manuscripts/:id/threads/:thread/comments': () => ({ id: `d-${id}-${++n}`, body: remarkOf('Yes') }),
  'PATCH /api/manuscripts/:id/threads/:thread/comments/:comment': () => ({ body: remarkOf('Yes, said better') }),
  'PATCH /api/manuscripts/:id/threads/:thread/comments/:comment/query': () => ({ settled: true }),
  'POST /api/manuscripts/:id/fair-copies': () => ({ chosen: [], format: 'docx', nameless: true, inert: true }),
  'POST /api/manuscripts/:id/left': () => ({ key: `such ${++n}`, all: true, kind: 'spaces', words: ' ' }),
  'POST /api/manuscripts/:id/words': () => ({ scope: 'person', language: 'en', word: `word${++n}` }),
  'POST /api/manuscripts/:id/decided-at': () => ({ version: 0, places: [{ from: 1, to: 2 }] }),
  'PUT /api/manuscripts/:id/style': () => ({ style: null }),
  'POST /api/styles': () => ({ name: `Style ${++n}`, language: 'en-GB', rules: [] }),
  'POST /api/styles/read': () => ({ text: 'kind,write' }),
  'PUT /api/styles/:style': () => ({ name: 'Style', language: 'en-GB', rules: [], since: 1 }),
  'POST /api/manuscripts/:id/drafts': () => ({ name: `Draft ${++n}` }),
  'PATCH /api/manuscripts/:id/drafts/:draft': () => ({ name: 'Another name' }),
  'POST /api/manuscripts/:id/back': () => ({ version: 0, how: 'pencil' }),
  'POST /api/manuscripts/:id/returned': () => file('back.txt', 'The tide came back.'),
  'POST /api/manuscripts/:id/pictures': () => file('p.png', pixel),
  'POST /api/manuscripts/:id/pictures/copy': () => ({ asset }),
  'PATCH /api/manuscripts/:id': () => ({ title: 'The whole table' }),
  'PUT /api/manuscripts/:id/members/:person': () => ({ role: 'reader' }),
  'PATCH /api/manuscripts/:id/outside/:person': () => ({ name: 'Somebody' }),
  'POST /api/begin': () => ({ name: 'Odile Marsh', mail: 'odile@harrow-press.example', password: 'spring tide' }),
  'POST /api/come-in': () => ({ mail: `n${++n}@nowhere.example` }),
  'POST /api/password/forgotten': () => ({ mail: `n${++n}@nowhere.example` }),
  'POST /api/password/reset': () => ({ token: 'no.thing', password: 'spring tide' }),
  'POST /api/invitations/told': () => ({ token: 'no.thing' }),
  'POST /api/invitations/accepted': () => ({ token: 'no.thing' }),
  'POST /api/links/told': () => ({ token: 'no.thing' }),
  'POST /api/links/entered': () => ({ token: 'no.thing', name: 'Jo', passphrase: null }),
  'PUT /api/me/password': () => ({ old: 'high water', fresh: 'spring tide' }),
  'POST /api/me/leave': () => ({ password: 'high water', named: true }),
  'POST /api/groups': () => ({ name: `Readers ${++n}`, people: [] }),
  'PUT /api/groups/:group': () => ({ name: 'Readers', people: [] }),
  'PATCH /api/house': () => ({ domains: [] }),
  'PATCH /api/house/people/:person': () => ({ locked: false }),
  'POST /api/house/invitations': () => ({ mail: `n${++n}@nowhere.example`, message: '' }),
  'PUT /api/house/unkept/:manuscript': () => ({ person: people.reader.id }),
  'PUT /api/manuscripts/:id/desk': () => ({ labels: ['tides'] }),
  'PUT /api/manuscripts/:id/groups/:group': () => ({ role: 'reader', takesAway: true, invites: false }),
  'POST /api/manuscripts/:id/invitations': () => ({
    mail: `n${++n}@nowhere.example`,
    role: 'reader',
    takesAway: true,
    invites: false,
    message: '',
  }),
  'POST /api/manuscripts/:id/links': () => ({
    name: `Link ${++n}`,
    role: 'reader',
    passphrase: null,
    endsAt: null,
    mostUses: null,
  }),
};
/** Routes of which even one who may gets something else than success, because there is no such thing. */
export const answers: Record<string, number> = {
  'GET /api/metrics': 404, // for whoever knows a token; rates.test.ts
  'POST /api/me/mail': 404, // nothing was sent
  'PATCH /api/manuscripts/:id/outside/:person': 404,
  'GET /api/manuscripts/:id/ledger/:change/place': 404,
  'PUT /api/manuscripts/:id/threads/:thread/place': 400, // it is about the whole
  'POST /api/manuscripts/:id/threads/:thread/comments/:comment/change': 404, // it proposes nothing
  'GET /api/people/:person/portrait': 404,
  'GET /api/outbox/:mail/html': 404,
  'POST /api/begin': 409, // the house has been begun
  'GET /api/sign-in/work': 404, // there are none here; work-accounts.test.ts
  'GET /api/sign-in/work/back': 404,
  'POST /api/password/reset': 404, // no letter held that
  'POST /api/invitations/told': 404,
  'POST /api/invitations/accepted': 404,
  'POST /api/links/told': 404,
  'POST /api/links/entered': 404,
  'PUT /api/me/password': 403, // with another password than one's own
  'POST /api/me/leave': 403,
  'DELETE /api/me/sessions/:session': 404,
  'PATCH /api/manuscripts/:id/drafts/:draft': 404,
  'DELETE /api/manuscripts/:id/drafts/:draft': 404,
  'POST /api/manuscripts/:id/drafts/:draft/back': 404,
  'POST /api/manuscripts/:id/acts/:act/back': 409, // there is no such act
  'POST /api/manuscripts/:id/ink/:from/pencil': 404,
  'POST /api/manuscripts/:id/fair-copies': 409, // the text has no word
  'GET /api/manuscripts/:id/fair-copies/:copy/files/:file': 404,
  'POST /api/manuscripts/:id/fair-copies/:copy/back': 404,
  'DELETE /api/manuscripts/:id/left/:left': 404,
  'DELETE /api/manuscripts/:id/words/:word': 404,
  'GET /api/styles/:style': 404,
  'GET /api/styles/:style/versions': 404,
  'GET /api/styles/:style/versions/:version': 404,
  'PUT /api/styles/:style': 404,
  'DELETE /api/styles/:style': 404,
  'PUT /api/groups/:group': 404,
  'DELETE /api/groups/:group': 404,
  'POST /api/deleted/:manuscript/back': 404, // it is not deleted
  'DELETE /api/house/invitations/:invitation': 404,
  'DELETE /api/house/links/:link': 404,
  'PUT /api/house/unkept/:manuscript': 409, // somebody keeps it
  'PUT /api/manuscripts/:id/groups/:group': 404,
  'DELETE /api/manuscripts/:id/groups/:group': 404,
  'DELETE /api/manuscripts/:id/invitations/:invitation': 404,
  'DELETE /api/manuscripts/:id/links/:link': 404,
};
/** What depends on whom it is done to besides: here the reader. */
export const only: Record<string, Who[]> = { 'DELETE /api/manuscripts/:id/members/:person': ['reader', 'keeper'] };

/** The address of a route, for the shared manuscript or one that is nowhere. */
const addressOf = (path: string, manuscript: string) =>
  path
    .replace(':id', manuscript)
    .replace(':asset', asset)
    .replace(':thread', thread)
    .replace(':comment', ownComment)
    .replace(':mail', 'nothing')
    .replace('fair-copies/:copy', 'fair-copies/nothing')
    .replace(':copy', 'fair.txt')
    .replace(':file', 'clean')
    .replace(':printed', 'clean')
    .replace(':version', '0')
    .replace(':change', 'nothing')
    .replace(':from', '7')
    .replace(/:(session|group|invitation|link|draft|act|left|word|style)\b/, 'nothing')
    .replace(/\/moments\/\d+$/, '$&?go=here')
    .replace(/\/beside$/, '/beside?before=0&after=0&reading=fair')
    .replace(/\/returned$/, '/returned?version=0&sender=&anyway=yes')
    .replace(':manuscript', manuscript)
    .replace(':person', people.reader.id)
    .replace(/\/found$/, '/found?words=tide');

/** A comment of whoever asks, if they may write one, that asks the keeper something; else somebody's. */
let ownComment = '';
async function comment(who: Visitor) {
  const own = { id: `own-${id}-${++n}`, body: remarkOf('Mine'), query: { to: people.keeper.id } };
  const { status } = await who.ask('POST', `/api/manuscripts/${id}/threads/${thread}/comments`, own);
  ownComment = status === 204 ? own.id : firstComment;
}

export const ask = async (who: Visitor, route: string, manuscript = id) => {
  const [method, path] = route.split(' ') as [string, string];
  if (path.includes(':comment')) await comment(who);
  return who.ask(method, addressOf(path, manuscript), bodies[route]?.());
};
