import { EventEmitter } from 'node:events';
import type { Request, Response } from 'express';
import { Client } from 'pg';
import { fewAtOnce } from '../src/http/shares';
import { Editor } from './support/editor';
import { demoPerson, ownDatabase, startServer, Visitor } from './support/server';

/** How much one person may ask for, and the numbers that tell of it. */

const token = 'only for those who keep it';

test('who asks too often is told so, whichever process they ask; others are answered, and numbers tell of it', async () => {
  const environment = {
    TEA_PENCIL_DATABASE_URL: await ownDatabase('rates', 'the demo'),
    TEA_PENCIL_REQUESTS: '120',
    TEA_PENCIL_METRICS_TOKEN: token,
  };
  const one = await startServer(undefined, environment);
  const other = await startServer(undefined, environment);
  const ines = await demoPerson(one.address, 'ines');
  const maren = await demoPerson(one.address, 'maren');
  const statuses: number[] = [];
  for (let i = 0; i < 125; i++) statuses.push((await ines.ask('GET', '/api/post')).status);
  expect(statuses.indexOf(429)).toBeGreaterThan(110);
  const refused = await ines.ask('GET', '/api/post');
  expect([refused.status, refused.body.message]).toEqual([
    429,
    expect.stringMatching(/^Too many requests come from you/),
  ]);
  const elsewhere = new Visitor(other.address);
  elsewhere.cookie = ines.cookie;
  expect((await elsewhere.ask('GET', '/api/post')).status).toBe(429);
  expect((await maren.ask('GET', '/api/post')).status).toBe(200);

  const numbers = (authorization?: string) =>
    fetch(`${one.address}/api/metrics`, authorization ? { headers: { authorization } } : {});
  expect((await numbers()).status).toBe(404);
  expect((await numbers(`Bearer ${token}!`)).status).toBe(404);
  const told = await numbers(`Bearer ${token}`);
  expect(told.headers.get('content-type')).toMatch(/^text\/plain; version=0\.0\.4/);
  const lines = (await told.text()).trim().split('\n');
  // The exposition format of Prometheus, version 0.0.4: comments, or a name, labels and a value.
  for (const line of lines)
    expect(line).toMatch(/^$|^# (HELP|TYPE) |^[a-z_][\w:]*(\{.*\})? (-?[\d.e+-]+|NaN|[+-]Inf)$/i);
  const value = (name: RegExp) =>
    Number(
      lines
        .find((line) => name.test(line))
        ?.split(' ')
        .at(-1),
    );
  expect(value(/^tea_pencil_refused_for_rate_total\{/)).toBeGreaterThan(0);
  expect(value(/^tea_pencil_request_seconds_count\{.*route="\/api\/post",status="200"/)).toBeGreaterThan(50);
  expect(value(/^tea_pencil_database_connections\{.*state="open"/)).toBeGreaterThan(0);
  await Promise.all([one.stop(), other.stop()]);
});

test('who brings more in an hour than is taken is told so; nothing is lost, asking goes on, and others bring theirs', async () => {
  const url = await ownDatabase('megabytes', 'the demo');
  const server = await startServer(undefined, { TEA_PENCIL_DATABASE_URL: url, TEA_PENCIL_MEGABYTES: '1' });
  const ines = await demoPerson(server.address, 'ines');
  const maren = await demoPerson(server.address, 'maren');
  const bring = (who: Visitor) => {
    const form = new FormData();
    form.append('file', new File(['The tide comes in.\n'.repeat(4000)], 'tide.txt'));
    return who.ask<{ id?: string; message?: string }>('POST', '/api/manuscripts/import', form);
  };
  const first = await bring(ines);
  expect(first.status).toBe(201);
  const editor = await new Editor(ines, first.body.id!).open();
  expect(await editor.type('High water. ')).toMatchObject({ taken: true });
  let last = first;
  for (let n = 0; n < 5 && last.status === 201; n++) last = await bring(ines);
  const said = 'Very much has come from you in the last hour. Nothing was changed; try again when that has passed.';
  expect([last.status, last.body.message]).toEqual([429, said]);
  // What is written waits in the window, and is not refused.
  expect(await editor.type('Low water. ')).toEqual({ later: expect.stringMatching(/^Very much has come from you/) });
  expect((await ines.ask('GET', '/api/manuscripts')).status).toBe(200);
  expect((await ines.ask('DELETE', `/api/manuscripts/${first.body.id}`)).status).toBe(204);
  expect((await bring(maren)).status).toBe(201);
  editor.close();
  await server.stop();
});

test('of one person six requests are answered side by side, the others in turn; another person goes in between', () => {
  const share = fewAtOnce();
  const begun: string[] = [];
  const ask = (who: string) => {
    const response = Object.assign(new EventEmitter(), { destroyed: false });
    const request = { session: { personId: who } };
    share(request as unknown as Request, response as unknown as Response, () => begun.push(who));
    return response;
  };
  const answers = Array.from({ length: 9 }, () => ask('ann'));
  ask('ben');
  expect(begun).toEqual([...Array<string>(6).fill('ann'), 'ben']);
  Object.assign(answers[6]!, { destroyed: true }); // went away while waiting
  answers[0]!.emit('close');
  expect(begun.filter((who) => who === 'ann')).toHaveLength(7); // the one behind it
  for (const answer of answers.slice(1, 6)) answer.emit('close');
  expect(begun.filter((who) => who === 'ann')).toHaveLength(8);
});

test('what the database does not let go of is answered with a sentence in time, and others meanwhile', async () => {
  const url = await ownDatabase('deadline', 'the demo');
  const server = await startServer(undefined, { TEA_PENCIL_DATABASE_URL: url, TEA_PENCIL_DEADLINE: '2' });
  const ines = await demoPerson(server.address, 'ines');
  const holder = new Client({ connectionString: url });
  await holder.connect();
  await holder.query('BEGIN; LOCK TABLE notices IN ACCESS EXCLUSIVE MODE');
  const [held, other] = await Promise.all([ines.ask('GET', '/api/post'), ines.ask('GET', '/api/me')]);
  expect([held.status, held.body.message]).toEqual([
    503,
    'This takes too long. It may still be done: look before you try once more.',
  ]);
  expect(other.status).toBe(200);
  await holder.query('ROLLBACK');
  await holder.end();
  expect((await ines.ask('GET', '/api/post')).status).toBe(200);
  await server.stop();
  // The log says once that it took too long, and calls what came after it no failure.
  const lines = server
    .said()
    .split('\n')
    .filter((line) => line.includes('"/api/post"'));
  expect(lines.map((line) => JSON.parse(line) as unknown)).toEqual([
    expect.objectContaining({ level: 40, what: 'not answered in time', method: 'GET', route: '/api/post' }),
  ]);
});
