import { execFile } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import { gunzipSync, gzipSync } from 'node:zlib';
import { Client } from 'pg';
import { canonical, listChanges, remarkOf, schema } from '@tea-pencil/core';
import { Editor } from './support/editor';
import { demoPerson, ownDatabase, startServer, type Running, type Visitor } from './support/server';

/** A manuscript goes to another house as one file: its text, history, changes, decisions, talk; whole or not at all. */

const folder = mkdtempSync(path.join(tmpdir(), 'tea-pencil-moving-'));
const file = path.join(folder, 'wrack.manuscript');
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const run = promisify(execFile);
async function npm(script: 'move-out' | 'move-in', database: string, ...args: string[]) {
  const env = { ...process.env, TEA_PENCIL_DATABASE_URL: database };
  return run(process.execPath, [path.resolve(__dirname, `../../scripts/${script}.mjs`), ...args], { env }).then(
    ({ stdout }) => ({ done: true, said: stdout.trim() }),
    (problem: { stderr: string }) => ({ done: false, said: problem.stderr.trim() }),
  );
}

/** All that can be read of a manuscript. */
async function read(who: Visitor, id: string, versions: number[]) {
  const ask = async <T = object>(rest: string) => (await who.ask<T>('GET', `/api/manuscripts/${id}${rest}`)).body;
  const past = [];
  for (const version of versions) past.push(await ask(`/versions/${version}`));
  const threads = await ask<{ toSelf?: boolean }[]>('/threads'); // a note to oneself stays where its author is
  return { threads: threads.filter(({ toSelf }) => !toSelf), ledger: await ask('/ledger'), past };
}

test('a manuscript with its history is moved to another house; a file that is not whole changes nothing', async () => {
  const [here, there] = [await ownDatabase('from', 'the demo'), await ownDatabase('to')];
  const houses = await Promise.all(
    [here, there].map((url) => startServer(undefined, { TEA_PENCIL_DATABASE_URL: url })),
  );
  const [from, to] = houses as [Running, Running];
  const ines = await demoPerson(from.address, 'ines');
  const maren = await demoPerson(from.address, 'maren');
  const id = await ines.manuscript(/Wrack/);
  const m = await new Editor(maren, id).open();
  const { version: first } = m;
  await m.type(' Out at sea.');
  const [mine] = listChanges(m.state.doc).filter(({ author }) => author === maren.id);
  const editor = await new Editor(ines, id).open();
  expect((await editor.ask('decide', { changes: [mine!.id], verdict: 'accept', client: 'c' })).taken).toBe(true);
  const comment = (n: string, words: string) => ({ id: n, body: remarkOf(words) });
  const talk = { id: 'moved-thread', whole: true, comment: comment('moved-comment', 'Said before it moved') };
  expect((await maren.ask('POST', `/api/manuscripts/${id}/threads`, talk)).status).toBe(204);
  const note = { id: 'moved-note', whole: true, toSelf: true, comment: comment('note', 'Only to myself') };
  expect((await maren.ask('POST', `/api/manuscripts/${id}/threads`, note)).status).toBe(204);

  const out = await npm('move-out', here, `${from.address}/m/${id}`, file);
  expect(out).toEqual({ done: true, said: expect.stringMatching(/holds “3 · The Wrack Line”: \d+ rows, 5 people/) });
  expect(gunzipSync(readFileSync(file)).toString()).not.toMatch(/Only to myself|argon|harrow-press\.example/);
  const versions = [0, first, first + 1];
  const before = await read(ines, id, versions);
  m.close();
  editor.close();

  // What is not whole, or was touched, is refused, and nothing of it is kept.
  const damaged = path.join(folder, 'damaged');
  const lines = gunzipSync(readFileSync(file)).toString().trimEnd().split('\n');
  const forged = [
    readFileSync(file).subarray(0, -40),
    gzipSync(lines.slice(0, -1).join('\n')),
    gzipSync(lines.map((line) => line.replace('Said before', 'Never said')).join('\n')),
    gzipSync(lines.filter((line) => !line.startsWith('{"table":"comments"')).join('\n')),
    gzipSync('{"teaPencilManuscript":1,"version":"later","id":"x","title":"x","people":[]}\n'),
    gzipSync('[]\n[]'),
    Buffer.from('No such file at all'),
  ];
  for (const bytes of forged) {
    writeFileSync(damaged, bytes);
    const { done, said } = await npm('move-in', there, damaged, 'alba');
    expect([done, said]).toEqual([false, expect.stringMatching(/Nothing was (changed|kept)|nothing was changed/)]);
  }
  const nobody = await npm('move-in', there, file, 'nobody');
  expect(nobody).toEqual({ done: false, said: 'Nobody in this house signs in as nobody.' });
  const client = new Client({ connectionString: there });
  await client.connect();
  const { rows } = await client.query<{ n: string }>('SELECT count(*) AS n FROM manuscripts WHERE id = $1', [id]);
  await client.end();
  expect(rows[0]!.n).toBe('0');

  const moved = await npm('move-in', there, file, 'alba');
  expect(moved).toEqual({ done: true, said: expect.stringMatching(/is here: \d+ rows, the same as in the file/) });
  const twice = await npm('move-in', there, file, 'alba');
  expect(twice).toEqual({ done: false, said: expect.stringMatching(/is in this house already/) });

  // In the other house all reads the same, its keeper is asked who the people are, and work goes on.
  const alba = await demoPerson(to.address, 'alba');
  expect(await read(alba, id, versions)).toEqual(before);
  expect((await alba.manuscripts()).map((one) => one.id)).toContain(id);
  const info = (
    await alba.ask<{ people: { name: string; role: string; asked: boolean; looksLikeMember: boolean }[] }>(
      'GET',
      `/api/manuscripts/${id}`,
    )
  ).body;
  const named = info.people.filter(({ role }) => !role);
  expect(named.map(({ name, asked }) => [name, asked])).toContainEqual(['Maren Holt', false]);
  expect(info.people.filter(({ role }) => role).map(({ name }) => name)).toEqual(['Alba Renwick']);
  const goes = await new Editor(alba, id).open();
  expect(
    canonical(
      schema.nodeFromJSON(
        (await alba.ask<{ doc: object }>('GET', `/api/manuscripts/${id}/versions/${goes.version}`)).body.doc,
      ),
    ),
  ).toEqual(canonical(goes.state.doc));
  await goes.type(' Here.');
  expect(goes.state.doc.textContent).toContain(' Here.');
  goes.close();
  await Promise.all([from.stop(), to.stop()]);
}, 120_000);
