import type { Thread } from '@tea-pencil/core';
import { demoPerson, startServer, type Running, type Visitor } from './support/server';

let server: Running;
let ines: Visitor;
let maren: Visitor;
let talk: string;
beforeAll(async () => {
  server = await startServer();
  [ines, maren] = (await Promise.all(['ines', 'maren'].map((login) => demoPerson(server.address, login)))) as [
    Visitor,
    Visitor,
  ];
  talk = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Talk' })).body.id;
  await ines.ask('PUT', `/api/manuscripts/${talk}/members/${maren.id}`, { role: 'remarker' });
});
afterAll(() => server.stop());

const at = (manuscript: string, more = '') => `/api/manuscripts/${manuscript}/threads${more}`;
const threads = async (who: Visitor, manuscript: string) => (await who.ask<Thread[]>('GET', at(manuscript))).body;

test('a thread is begun, answered, resolved and reopened, each under the sender’s name', async () => {
  const begin = { id: 'a-new-thread', comment: 'its-first', quote: 'the lime kiln', text: '  Which of the two?  ' };
  expect((await maren.ask('POST', at(talk), { ...begin, author: ines.id })).status).toBe(400);
  expect((await maren.ask('POST', at(talk), begin)).status).toBe(204);
  expect(
    (await ines.ask('POST', at(talk, '/a-new-thread/comments'), { id: 'its-second', text: 'The northern one.' }))
      .status,
  ).toBe(204);
  const find = async () => (await threads(ines, talk)).find(({ id }) => id === 'a-new-thread')!;
  const thread = await find();
  expect(thread).toMatchObject({ quote: 'the lime kiln', resolved: false });
  expect(thread.comments.map(({ author, text }) => [author, text])).toEqual([
    [maren.id, 'Which of the two?'],
    [ines.id, 'The northern one.'],
  ]);
  for (const resolved of [true, false]) {
    expect((await maren.ask('PATCH', at(talk, '/a-new-thread'), { resolved })).status).toBe(204);
    expect((await find()).resolved).toBe(resolved);
  }
});

test('the same comment sent twice is kept once, and says so', async () => {
  const begin = { id: 'sent-twice', comment: 'sent-twice-1', quote: '', text: 'Once.' };
  expect((await ines.ask('POST', at(talk), begin)).status).toBe(204);
  expect((await ines.ask('POST', at(talk), begin)).status).toBe(409);
  expect((await threads(ines, talk)).filter(({ id }) => id === 'sent-twice')).toHaveLength(1);
});

test('two who answer at the same moment both stay', async () => {
  const [{ id }] = (await threads(ines, talk)) as [Thread];
  await Promise.all(
    [ines, maren].map((who, i) => who.ask('POST', at(talk, `/${id}/comments`), { id: `at-once-${i}`, text: `${i}` })),
  );
  const thread = (await threads(ines, talk)).find((one) => one.id === id)!;
  expect(thread.comments.map((comment) => comment.id)).toEqual(expect.arrayContaining(['at-once-0', 'at-once-1']));
});

test('a thread is reached only through its own manuscript, and an empty or endless comment is refused', async () => {
  const [{ id }] = (await threads(ines, talk)) as [Thread];
  const other = await ines.manuscript(/Before You Set Out/);
  expect((await ines.ask('POST', at(other, `/${id}/comments`), { id: 'astray', text: 'x' })).status).toBe(404);
  expect((await ines.ask('PATCH', at(other, `/${id}`), { resolved: true })).status).toBe(404);
  for (const text of ['', '   ', 'x'.repeat(100_000)]) {
    expect((await ines.ask('POST', at(talk, `/${id}/comments`), { id: 'bad', text })).status).toBe(400);
  }
});

test('whoever has the manuscript open hears that its threads have changed', async () => {
  const socket = ines.live();
  await socket.timeout(5000).emitWithAck('join', { manuscript: talk });
  const heard = new Promise((resolve) => socket.once('changed', resolve));
  await maren.ask('POST', at(talk), { id: 'heard-of', comment: 'heard-of-1', quote: '', text: 'Live.' });
  expect(await heard).toEqual({ manuscript: talk, what: 'threads' });
  socket.disconnect();
});
