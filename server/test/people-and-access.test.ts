import { remarkOf } from '@tea-pencil/core';
import { demoPerson, sharedServer, startServer, Visitor } from './support/server';

let server: Awaited<ReturnType<typeof sharedServer>>;
beforeAll(async () => {
  server = await sharedServer();
});
afterAll(() => server.stop());

test('health answers once the database does', async () => {
  const { status, body } = await new Visitor(server.address).ask('GET', '/api/health');
  expect([status, body]).toEqual([200, { status: 'ok' }]);
});

test('the ordinary form lets in who knows the password, and says the same to everyone else', async () => {
  const visitor = new Visitor(server.address);
  const wrong = await visitor.ask('POST', '/api/sign-in', { login: 'ines', password: 'high water' });
  const nobody = await visitor.ask('POST', '/api/sign-in', { login: 'no one', password: 'low water' });
  expect([wrong.status, nobody.status]).toEqual([401, 401]);
  expect(wrong.body.message).toMatch(/do not belong together/);
  expect(nobody.body.message).toBe(wrong.body.message);
  const right = await visitor.ask<{ name: string }>('POST', '/api/sign-in', { login: 'Ines', password: 'low water' });
  expect([right.status, right.body.name]).toEqual([200, 'Ines Vega']);
  expect(right.headers.get('set-cookie')).toMatch(/HttpOnly.*SameSite=Lax/i);
  expect(JSON.stringify(right.body)).not.toMatch(/argon/);
  const me = async () => (await visitor.ask<{ me: { name: string } | null }>('GET', '/api/me')).body.me;
  expect(await me()).toMatchObject({ name: 'Ines Vega' });
  await visitor.ask('POST', '/api/sign-out');
  expect(await me()).toBeNull();
});

test('without signing in no route about people or texts answers', async () => {
  const visitor = new Visitor(server.address);
  for (const at of [
    'people',
    'manuscripts',
    'manuscripts/x',
    'manuscripts/x/threads',
    'manuscripts/x/copies/fair.txt',
  ]) {
    expect([at, (await visitor.ask('GET', `/api/${at}`)).status]).toEqual([at, 401]);
  }
});

test('a manuscript one is no member of answers like one that is not there', async () => {
  const ines = await demoPerson(server.address, 'ines');
  const maren = await demoPerson(server.address, 'maren');
  const foreword = await ines.manuscript(/Foreword/);
  for (const at of ['', '/threads', '/copies/marked.docx']) {
    const closed = await maren.ask('GET', `/api/manuscripts/${foreword}${at}`);
    const missing = await maren.ask('GET', `/api/manuscripts/nowhere${at}`);
    expect([closed.status, closed.body]).toEqual([404, missing.body]);
  }
  expect((await maren.manuscripts()).map(({ title }) => title)).not.toContain('Foreword');
});

test('roles: a reader may not comment, only a keeper shares, and the last keeper stays', async () => {
  const ines = await demoPerson(server.address, 'ines');
  const maren = await demoPerson(server.address, 'maren');
  const first = await ines.manuscript(/Before You Set Out/);
  const thread = { id: 'thread-of-maren', whole: true, comment: { id: 'c-of-maren', body: remarkOf('Hello') } };
  expect((await maren.ask('POST', `/api/manuscripts/${first}/threads`, thread)).status).toBe(403);
  expect((await maren.ask('PUT', `/api/manuscripts/${first}/members/${maren.id}`, { role: 'keeper' })).status).toBe(
    403,
  );
  expect((await ines.ask('PUT', `/api/manuscripts/${first}/members/${maren.id}`, { role: 'remarker' })).status).toBe(
    204,
  );
  expect((await maren.ask('POST', `/api/manuscripts/${first}/threads`, thread)).status).toBe(204);
  const own = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Mine' })).body.id;
  const leave = await ines.ask('PUT', `/api/manuscripts/${own}/members/${ines.id}`, { role: 'reader' });
  expect([leave.status, leave.body.message]).toEqual([400, expect.stringMatching(/needs a keeper/)]);
});

test('malformed requests are answered with what is wrong', async () => {
  const ines = await demoPerson(server.address, 'ines');
  const wrack = await ines.manuscript(/Wrack/);
  const comment = { id: 'a', body: remarkOf('x') };
  const cases: [string, string, unknown, RegExp][] = [
    ['POST', '/api/manuscripts', { title: '' }, /title/],
    ['POST', '/api/manuscripts', { title: 'x', more: 1 }, /more/],
    ['POST', `/api/manuscripts/${wrack}/threads`, { id: '<b>', whole: true, comment }, /id/],
    [
      'POST',
      `/api/manuscripts/${wrack}/threads`,
      { id: 'a', whole: true, comment: { id: 'b', body: remarkOf('x'.repeat(10_001)) } },
      /too long/,
    ],
    ['POST', '/api/sign-in', { login: 'ines' }, /password/],
  ];
  for (const [method, at, body, wrong] of cases) {
    const answer = await ines.ask(method, at, body);
    expect([answer.status, answer.body.message]).toEqual([400, expect.stringMatching(wrong)]);
  }
});

test('a page of another site cannot act in a visitor’s name', async () => {
  const ines = await demoPerson(server.address, 'ines');
  const answer = await ines.ask(
    'POST',
    '/api/manuscripts',
    { title: 'Forged' },
    { origin: 'https://elsewhere.example' },
  );
  expect(answer.status).toBe(403);
});

test('who signs in as somebody else leaves no window of the former one connected', async () => {
  const visitor = await demoPerson(server.address, 'ines');
  const live = visitor.live();
  await new Promise((resolve) => live.once('connect', () => resolve(null)));
  const told = new Promise((resolve) => live.once('signed-out', () => resolve('told')));
  const closed = new Promise((resolve) => live.once('disconnect', () => resolve('closed')));
  const people = await visitor.ask<{ id: string; login: string }[]>('GET', '/api/demo-people');
  const maren = people.body.find(({ login }) => login === 'maren')!.id;
  expect((await visitor.ask('POST', '/api/sign-in/demo', { person: maren })).status).toBe(200);
  expect(await Promise.all([told, closed])).toEqual(['told', 'closed']);
  expect((await visitor.ask<{ me: { name: string } }>('GET', '/api/me')).body.me.name).toBe('Maren Holt');
});

test('who signs in again as themselves is thrown out of no window; it connects anew', async () => {
  const visitor = await demoPerson(server.address, 'ines');
  const live = visitor.live();
  await new Promise((resolve) => live.once('connect', () => resolve(null)));
  let thrownOut = false;
  live.on('signed-out', () => (thrownOut = true));
  const closed = new Promise((resolve) => live.once('disconnect', resolve));
  expect((await visitor.ask('POST', '/api/sign-in/demo', { person: visitor.id })).status).toBe(200);
  expect([await closed, thrownOut]).toEqual(['io server disconnect', false]);
});

test('where the process does not say so, demo people do not come in without a password, though they are there', async () => {
  const closed = await startServer(undefined, { TEA_PENCIL_DEMO: '0' });
  const people = await new Visitor(server.address).ask<{ id: string }[]>('GET', '/api/demo-people');
  const visitor = new Visitor(closed.address);
  expect((await visitor.ask('GET', '/api/demo-people')).body).toEqual([]);
  const { status, body } = await visitor.ask('POST', '/api/sign-in/demo', { person: people.body[0]!.id });
  expect([status, body.message]).toEqual([403, 'The demo people are not here.']);
  expect((await visitor.ask('POST', '/api/sign-in', { login: 'ines', password: 'low water' })).status).toBe(200);
  await closed.stop();
});

test('what the API answers is kept by no one on the way', async () => {
  const ines = await demoPerson(server.address, 'ines');
  for (const at of ['/api/me', '/api/manuscripts', '/api/people', '/api/nothing'])
    expect([at, (await ines.ask('GET', at)).headers.get('cache-control')]).toEqual([at, 'no-store']);
});

test('the interface is described at /api/docs', async () => {
  const { body } = await new Visitor(server.address).ask<{ paths: Record<string, unknown> }>('GET', '/api/docs-json');
  expect(Object.keys(body.paths)).toEqual(
    expect.arrayContaining(['/api/manuscripts/import', '/api/manuscripts/{id}/threads']),
  );
});
