import { Client } from 'pg';
import { remarkOf, talkLimits } from '@tea-pencil/core';
import type { Visitor } from './support/server';
import { peopleThere } from './support/together';

/** How much may be said about one manuscript, by all and by one. */

const people = peopleThere(['ines', 'maren']);
let ines: Visitor;
let maren: Visitor;
let database: Client;
beforeAll(async () => {
  [ines, maren] = people as [Visitor, Visitor];
  database = new Client({ connectionString: process.env.TEA_PENCIL_TEST_DATABASE });
  await database.connect();
});
afterAll(() => database.end());

async function manuscript(title: string): Promise<string> {
  const { id } = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title })).body;
  await ines.ask('PUT', `/api/manuscripts/${id}/members/${maren.id}`, { role: 'remarker' });
  return id;
}

/** So many threads with a comment each, as if they had come one by one. */
async function said(id: string, howMany: number, author: Visitor, words = 'Hm.'): Promise<void> {
  await database.query(
    `INSERT INTO threads (id, manuscript_id, author, quote, about_whole)
     SELECT $1 || '-' || $2 || n, $1, $3, '', true FROM generate_series(1, $4) n`,
    [id, author.id.slice(0, 4), author.id, howMany],
  );
  await database.query(
    `INSERT INTO comments (id, thread_id, author, body)
     SELECT threads.id || 'c', threads.id, author, $2::jsonb FROM threads WHERE manuscript_id = $1 AND author = $3`,
    [id, JSON.stringify(remarkOf(words)), author.id],
  );
}

let n = 0;
const begin = (who: Visitor, id: string, words = 'One more.') =>
  who.ask<{ message: string }>('POST', `/api/manuscripts/${id}/threads`, {
    id: `limit${++n}`,
    whole: true,
    comment: { id: `limit${n}c`, body: remarkOf(words) },
  });
const reply = (who: Visitor, id: string, thread: string) =>
  who.ask<{ message: string }>('POST', `/api/manuscripts/${id}/threads/${thread}/comments`, {
    id: `limit${++n}c`,
    body: remarkOf('And one more.'),
  });

test('one person cannot fill the talk of a manuscript: the others go on', async () => {
  const id = await manuscript('Much said');
  await said(id, talkLimits.commentsOfOne - 1, maren);
  expect((await begin(maren, id)).status).toBe(204);
  const { status, body } = await begin(maren, id);
  expect([status, body.message]).toEqual([
    400,
    'This is too much: of one person a manuscript holds at most 10,000 comments.',
  ]);
  expect((await reply(maren, id, `limit${n - 1}`)).status).toBe(400);
  expect((await begin(ines, id)).status).toBe(204);
});

test('nor by long ones; and what has been said may be made shorter', async () => {
  const id = await manuscript('Long said');
  const long = 'x'.repeat(9900);
  await said(id, 200, maren, long);
  const { status, body } = await begin(maren, id, long);
  expect([status, body.message]).toEqual([400, expect.stringMatching(/at most 2,000,000 letters together/)]);
  const thread = `${id}-${maren.id.slice(0, 4)}1`;
  const edit = (words: string) =>
    maren.ask('PATCH', `/api/manuscripts/${id}/threads/${thread}/comments/${thread}c`, { body: remarkOf(words) });
  expect((await edit('x'.repeat(9990))).status).toBe(400);
  expect((await edit('Short.')).status).toBe(204);
  expect((await begin(ines, id, long)).status).toBe(204);
});

test('a manuscript in which more has been said than may be is read and worked on, and no more is said there', async () => {
  const id = await manuscript('Too much said');
  // Beyond the 65,535 values that one statement of PostgreSQL’s protocol takes (Bind: a 16-bit count).
  await said(id, 66_000, maren);
  const list = await ines.ask<unknown[]>('GET', `/api/manuscripts/${id}/threads`);
  expect([list.status, list.body.length]).toEqual([200, 66_000]);
  const { status, body } = await begin(ines, id);
  expect([status, body.message]).toEqual([
    400,
    'This is too much: a manuscript holds at most 20,000 threads; go on in a copy of a draft, which begins without any.',
  ]);
  // Where one goes on: a copy of a draft holds nothing of what was said.
  const copy = await ines.ask<{ id: string }>('POST', `/api/manuscripts/${id}/versions/0/copy`);
  expect((await ines.ask<unknown[]>('GET', `/api/manuscripts/${copy.body.id}/threads`)).body).toEqual([]);
});
