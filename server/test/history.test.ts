import { Client } from 'pg';
import { StepMap } from 'prosemirror-transform';
import { remarkOf } from '@tea-pencil/core';
import { mapOf } from '../../core/src/row/maps';
import { spansBetween, spansUpTo, sizes } from '../src/live/spans';
import { Editor } from './support/editor';
import { demoPerson, sharedServer, startServer, type Visitor } from './support/server';

/** The cost of a place of long ago does not grow with the history: spans, composed maps, and what the server does of them. */

let server: Awaited<ReturnType<typeof sharedServer>>;
let ines: Visitor;
beforeAll(async () => {
  server = await sharedServer();
  ines = await demoPerson(server.address, 'ines');
});
afterAll(() => server.stop());

async function query<T>(sql: string, values: unknown[]): Promise<T[]> {
  const client = new Client({ connectionString: process.env.TEA_PENCIL_TEST_DATABASE });
  await client.connect();
  try {
    return (await client.query(sql, values)).rows as T[];
  } finally {
    await client.end();
  }
}

test.each([
  [0, 1],
  [0, 100_000],
  [511, 100_001],
  [3, 20_000_000],
])('the stretch from %i to %i is a handful of spans that join without a gap', (from, to) => {
  const spans = spansBetween(from, to);
  expect(spans[0]!.from).toBe(from);
  expect(spans.at(-1)!.to).toBe(to);
  spans.slice(1).forEach((span, i) => expect(span.from).toBe(spans[i]!.to));
  expect(spans.length).toBeLessThan(200);
  for (const { level, n, from: a, to: b } of spans)
    if (level) expect([a, b - a]).toEqual([n * sizes[level]!, sizes[level]]);
});

test('every span a stretch may ask for has been made by then', () => {
  const made = new Set(spansUpTo(700_000, 0).map(({ level, n }) => `${level} ${n}`));
  for (const from of [0, 5, 512, 20_000])
    for (const { level, n } of spansBetween(from, 700_000)) if (level) expect(made).toContain(`${level} ${n}`);
});

test('a thread keeps its place over a long history, and a client’s version is bounded', async () => {
  const { id } = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Long history' })).body;
  const writer = await new Editor(ines, id).open();
  await writer.type('The groyne stands.');
  const { version } = writer;
  writer.close();
  // Steps of others by the thousand, as the log has them: each a letter at the front.
  const letter = { stepType: 'replace', from: 1, to: 1, slice: { content: [{ type: 'text', text: 'x' }] } };
  await server.stop();
  await query(
    `INSERT INTO steps (manuscript_id, version, author, client, intent, step, ranges)
     SELECT $1, $2::int + n, author, 'other', 'ink', $3::jsonb, '{1,0,1}'
       FROM (SELECT author FROM steps WHERE manuscript_id = $1 LIMIT 1) AS one, generate_series(0, 2999) AS n`,
    [id, version, JSON.stringify(letter)],
  );
  server = await startServer();
  ines = await demoPerson(server.address, 'ines');
  const late = await new Editor(ines, id).open();
  expect(late.state.doc.textContent).toBe('x'.repeat(3000) + 'The groyne stands.');
  const comment = { id: 'said-of-it', body: remarkOf('Which?') };
  const begin = (name: string, at: object) =>
    ines.ask('POST', `/api/manuscripts/${id}/threads`, { id: name, at, comment: { ...comment, id: `${name}-says` } });
  expect((await begin('of-long-ago', { version, from: 5, to: 11 })).status).toBe(204);
  const [kept] = (await ines.ask<{ quote: string }[]>('GET', `/api/manuscripts/${id}/threads`)).body;
  expect(kept!.quote).toBe('groyne');
  const { status, body } = await begin('of-the-future', { version: late.version + 9, from: 1, to: 2 });
  expect([status, body.message]).toEqual([400, expect.any(String)]);
  late.close();
});

test('composed maps map as those they are made of', () => {
  const map = mapOf([1, 0, 3, 9, 2, 0]);
  expect(map).toBeInstanceOf(StepMap);
  expect([0, 2, 9, 12].map((pos) => map.map(pos))).toEqual([0, 5, 12, 13]);
});
