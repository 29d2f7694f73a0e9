import { listChanges, remarkOf } from '@tea-pencil/core';
import { noticeKinds } from '../src/post/kinds';
import type { Role } from '@tea-pencil/wire';
import { bundles, roles, talkActs, type Act, type Relation, type TalkAct } from '../src/policy/acts';
import { messages, routes } from '../src/policy/table';
import { Editor } from './support/editor';
import { demoPerson, sharedServer, Visitor } from './support/server';

/** The whole table of who may do what, walked by one person of every role, one who is no member, and one not signed in. */

type Who = Role | 'outsider' | 'nobody';
const everyone: Who[] = ['nobody', 'outsider', ...roles];

let server: Awaited<ReturnType<typeof sharedServer>>;
const people = {} as Record<Who, Visitor>;
/** The manuscript that all but the outsider are members of. */
let id: string;
let asset: string;
let thread: string;

/** The smallest picture there can be. */
const pixel = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==',
  'base64',
);
const file = (name: string, bytes: BlobPart) => {
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
  thread = 'table-thread';
  const begun = { id: thread, whole: true, comment: { id: 'table-comment', body: remarkOf('Hello') } };
  await keeper.ask('POST', `/api/manuscripts/${id}/threads`, begun);
});
afterAll(() => server.stop());

let n = 0;
/** What is sent on each route so that it succeeds for those who may. */
const bodies: Record<string, () => unknown> = {
  'POST /api/sign-in': () => ({ login: 'ines', password: 'low water' }),
  'POST /api/sign-in/demo': () => ({ person: people.keeper.id }),
  'PATCH /api/me': () => ({ initials: 'XY' }),
  'POST /api/manuscripts': () => ({ title: 'Made while walking the table' }),
  'POST /api/manuscripts/import': () => file('note.txt', 'A line.'),
  'PATCH /api/manuscripts/:id/view': () => ({ lenses: [] }),
  'PUT /api/manuscripts/:id/hue': () => ({ hue: 2 }),
  'POST /api/me/mail': () => ({ token: 'nothing' }),
  'PUT /api/me/portrait': () => file('me.png', pixel),
  'PATCH /api/post': () => ({ read: true }),
  'PUT /api/post/kinds': () => Object.fromEntries(noticeKinds.map((kind) => [kind, 'post'])),
  'POST /api/manuscripts/:id/threads': () => ({
    id: `t${++n}`,
    whole: true,
    comment: { id: `c${n}`, body: remarkOf('Hello') },
  }),
  'PATCH /api/manuscripts/:id/threads': () => ({ threads: [thread], resolved: false }),
  'PATCH /api/manuscripts/:id/threads/:thread': () => ({ resolved: false }),
  'PUT /api/manuscripts/:id/threads/:thread/place': () => ({ version: 0, from: 1, to: 1 }),
  'POST /api/manuscripts/:id/threads/:thread/comments': () => ({ id: `d${++n}`, body: remarkOf('Yes') }),
  'PATCH /api/manuscripts/:id/threads/:thread/comments/:comment': () => ({ body: remarkOf('Yes, said better') }),
  'PATCH /api/manuscripts/:id/threads/:thread/comments/:comment/query': () => ({ settled: true }),
  'POST /api/manuscripts/:id/pictures': () => file('p.png', pixel),
  'POST /api/manuscripts/:id/pictures/copy': () => ({ asset }),
  'PATCH /api/manuscripts/:id': () => ({ title: 'The whole table' }),
  'PUT /api/manuscripts/:id/members/:person': () => ({ role: 'reader' }),
  'PATCH /api/manuscripts/:id/outside/:person': () => ({ name: 'Somebody' }),
};
/** Routes of which even one who may gets something else than success, because there is no such thing. */
const answers: Record<string, number> = {
  'GET /api/metrics': 404, // for whoever knows a token; rates.test.ts
  'POST /api/me/mail': 404, // nothing was sent
  'PATCH /api/manuscripts/:id/outside/:person': 404,
  'GET /api/manuscripts/:id/ledger/:change/place': 404,
  'PUT /api/manuscripts/:id/threads/:thread/place': 400, // it is about the whole
  'POST /api/manuscripts/:id/threads/:thread/comments/:comment/change': 404, // it proposes nothing
  'GET /api/people/:person/portrait': 404,
  'GET /api/outbox/:mail/html': 404,
};

/** The address of a route, for the shared manuscript or one that is nowhere. */
const addressOf = (path: string, manuscript: string) =>
  path
    .replace(':id', manuscript)
    .replace(':asset', asset)
    .replace(':thread', thread)
    .replace(':comment', ownComment)
    .replace(':mail', 'nothing')
    .replace(':copy', 'fair.txt')
    .replace(':version', '0')
    .replace(':change', 'nothing')
    .replace(':person', people.reader.id);

/** A comment of whoever asks, if they may write one, that asks the keeper something; else somebody's. */
let ownComment = 'table-comment';
async function comment(who: Visitor) {
  const own = { id: `own${++n}`, body: remarkOf('Mine'), query: { to: people.keeper.id } };
  const { status } = await who.ask('POST', `/api/manuscripts/${id}/threads/${thread}/comments`, own);
  ownComment = status === 204 ? own.id : 'table-comment';
}

const ask = async (who: Visitor, route: string, manuscript = id) => {
  const [method, path] = route.split(' ') as [string, string];
  if (path.includes(':comment')) await comment(who);
  return who.ask(method, addressOf(path, manuscript), bodies[route]?.());
};

test('every route the server has stands in the table, and no other', async () => {
  type Paths = { paths: Record<string, Record<string, unknown>> };
  const { body } = await people.nobody.ask<Paths>('GET', '/api/docs-json');
  const there = Object.entries(body.paths).flatMap(([path, methods]) =>
    Object.keys(methods).map((method) => `${method.toUpperCase()} ${path.replace(/\{(\w+)\}/g, ':$1')}`),
  );
  expect([...there].sort()).toEqual(Object.keys(routes).sort());
});

// Signing in and out changes who one is; those have tests of their own.
const walked = Object.entries(routes).filter(([route]) => !/sign-(in|out)/.test(route));

test.each(walked)('%s is for: %j', async (route, access) => {
  const wrong: string[] = [];
  for (const who of everyone.filter((each) => each !== 'outsider')) {
    const { status } = await ask(people[who], route);
    const may =
      access === 'anyone' ||
      (who !== 'nobody' && (access === 'signed in' || bundles[who as Role].has((access as { act: Act }).act)));
    const good = answers[route] ? status === answers[route] : status >= 200 && status < 300;
    const refused = who === 'nobody' ? status === 401 : status === 403;
    if (may ? !good : !refused) wrong.push(`${who}: ${status}`);
    // Whom the walk has taken off comes back for the next route.
    if (route.startsWith('DELETE') && may)
      await people.keeper.ask('PUT', `/api/manuscripts/${id}/members/${people.reader.id}`, { role: 'reader' });
  }
  expect(wrong).toEqual([]);
});

test('what is no member’s answers like what is nowhere, on every route about a manuscript', async () => {
  const { body } = await people.keeper.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Closed' });
  for (const [route] of walked.filter(([path]) => path.includes(':id'))) {
    const closed = await ask(people.outsider, route, body.id);
    const nowhere = await ask(people.outsider, route, 'nowhere');
    expect([route, closed.status, closed.body]).toEqual([route, 404, nowhere.body]);
  }
  const picture = await people.keeper.ask<{ asset: string }>(
    'POST',
    `/api/manuscripts/${body.id}/pictures`,
    file('p.png', pixel),
  );
  const closed = await people.outsider.ask('GET', `/api/assets/${picture.body.asset}`);
  expect([closed.status, closed.body]).toEqual([404, (await people.outsider.ask('GET', '/api/assets/nowhere')).body]);
});

test('what may be done to talk that is there goes by whose it is, as the table says', async () => {
  const { keeper, decider, proposer, remarker } = people;
  const path = `/api/manuscripts/${id}/threads`;
  const made = async (author: Visitor, more: object = {}) => {
    const own = { id: `act${++n}`, comment: { id: `act-c${n}`, body: remarkOf('x'), query: { to: remarker.id } } };
    const whole = 'at' in more ? {} : { whole: true };
    expect((await author.ask('POST', path, { ...own, ...whole, ...more })).status).toBe(204);
    return { at: `${path}/${own.id}`, comment: `${path}/${own.id}/comments/${own.comment.id}` };
  };
  const writer = await new Editor(keeper, id).open();
  await writer.edit((state) => state.tr.insertText('Words to talk about. ', 1), 'ink');
  const words = () => ({ version: writer.version, from: 1, to: 6 });
  const acts: Record<TalkAct, (author: Visitor, who: Visitor) => Promise<number>> = {
    'see a note to oneself': async (author, who) => {
      const { at } = await made(author, { toSelf: true, comment: { id: `n${++n}`, body: remarkOf('mine') } });
      return (await who.ask('PATCH', at, { resolved: true })).status;
    },
    'change a comment': async (author, who) =>
      (await who.ask('PATCH', (await made(author)).comment, { body: remarkOf('y') })).status,
    'delete a comment': async (author, who) =>
      (await who.ask('PATCH', (await made(author)).comment, { deleted: true })).status,
    'settle a query': async (author, who) =>
      (await who.ask('PATCH', `${(await made(author)).comment}/query`, { settled: true })).status,
    'move a thread from its words': async (author, who) =>
      (await who.ask('PUT', `${(await made(author, { at: words() })).at}/place`, words())).status,
    'change a tint': async (author, who) =>
      (await who.ask('PATCH', (await made(author, { tint: 'sky' })).at, { tint: 'clay' })).status,
  };
  const asking: [Visitor, Role, Relation[]][] = [
    [keeper, 'keeper', []],
    [decider, 'decider', []],
    [proposer, 'proposer', ['author']],
    [remarker, 'remarker', ['asked']],
  ];
  for (const [act, { by, or }] of Object.entries(talkActs) as [TalkAct, { by: Relation[]; or: Act | null }][]) {
    for (const [who, role, is] of asking) {
      const may = is.some((one) => by.includes(one)) || (or !== null && bundles[role].has(or));
      const refused = act === 'see a note to oneself' ? 404 : 403;
      expect([act, role, await acts[act](proposer, who)]).toEqual([act, role, may ? 204 : refused]);
    }
  }
  writer.close();
});

test('every live message is for those whom the table names', async () => {
  const { keeper } = people;
  const open = async (who: Visitor) => new Editor(who, id).open();
  const writer = await open(keeper);
  const own = await open(people.proposer);
  await writer.edit((state) => state.tr.insertText('Words.', 1), 'ink');
  const refused = async (who: Who, act: string): Promise<boolean> => {
    const editor = await open(people[who]);
    const { client } = editor;
    const lastOf = async (author: Visitor) => {
      const typing = author === keeper ? writer : own;
      await typing.edit((state) => state.tr.insertText('word ', 1));
      const changes = listChanges(typing.state.doc);
      return changes.filter((change) => change.author === author.id).at(-1)!.id;
    };
    const attempt = async () => {
      switch (act) {
        case 'read':
          return (await editor.ask('join', {})).refused ? editor.ask('join', {}) : editor.ask('leave', {});
        case 'write in pencil':
          return editor.edit((state) => state.tr.insertText('p', 1));
        case 'write in ink':
          return editor.edit((state) => state.tr.insertText('i', 1), 'ink');
        case 'decide':
          return editor.ask('decide', { changes: [await lastOf(keeper)], verdict: 'accept', client });
        case 'withdraw own changes':
          return editor.ask('decide', { changes: [await lastOf(people[who])], verdict: 'reject', client });
        case 'take back decisions': {
          const { decision } = await writer.ask('decide', {
            changes: [await lastOf(keeper)],
            verdict: 'accept',
            client: writer.client,
          });
          return editor.ask('takeBack', { decision, client });
        }
        default: {
          const { decision } = await editor.ask('decide', {
            changes: [await lastOf(people[who])],
            verdict: 'reject',
            client,
          });
          return editor.ask('takeBack', { decision, client });
        }
      }
    };
    const answer = await attempt();
    editor.close();
    return !!answer.refused;
  };
  // Those who may not write have nothing of their own to withdraw or to take back.
  for (const act of new Set<Act>(Object.values(messages).flat())) {
    const asking = act.includes('own') ? (['proposer'] as const) : roles;
    for (const who of asking) expect([act, who, await refused(who, act)]).toEqual([act, who, !bundles[who].has(act)]);
  }
  writer.close();
  own.close();
});
