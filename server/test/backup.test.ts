import { execFile } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import { Client } from 'pg';
import { plainText } from '@tea-pencil/core';
import { demoPerson, ownDatabase, startServer } from './support/server';
import { Writer } from './support/writer';

/** A copy is made while people write, holds all that was acknowledged before it, and proves itself when it is put back. */

const folder = mkdtempSync(path.join(tmpdir(), 'tea-pencil-backup-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const run = promisify(execFile);
/** What a command says, and whether it did it. */
async function npm(script: 'backup' | 'restore', database: string, file: string) {
  const args = [path.resolve(__dirname, `../../scripts/${script}.mjs`), file];
  const env = { ...process.env, TEA_PENCIL_DATABASE_URL: database };
  return run(process.execPath, args, { env }).then(
    ({ stdout }) => ({ done: true, said: stdout.trim() }),
    (problem: { stderr: string }) => ({ done: false, said: problem.stderr.trim() }),
  );
}

async function tables(url: string): Promise<number> {
  const client = new Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query<{ n: string }>(`SELECT count(*) AS n FROM pg_tables WHERE schemaname = 'public'`);
  await client.end();
  return Number(rows[0]!.n);
}

test('a copy made while people write is put back whole; anything else is refused and nothing is touched', async () => {
  const file = path.join(folder, 'house.tar');
  const url = await ownDatabase('copied', 'the demo');
  const server = await startServer(undefined, { TEA_PENCIL_DATABASE_URL: url });
  const ines = await demoPerson(server.address, 'ines');
  const { id } = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Copied' })).body;
  const writer = await new Writer(ines, id).until();
  let typed = 0;
  const typing = setInterval(() => writer.type(`a${typed++};`), 15);
  await writer.until(() => writer.version() > 30);
  const before = writer.version();
  const made = await npm('backup', url, file);
  expect(made).toEqual({
    done: true,
    said: expect.stringMatching(/house\.tar holds \d+ manuscripts, \d+ people and [\d,]+ steps, as of 20/),
  });
  const after = writer.version();
  clearInterval(typing);
  expect(after).toBeGreaterThan(before);
  expect(existsSync(`${file}.making`)).toBe(false);
  // Nothing that is there is written over.
  expect(await npm('backup', url, file)).toEqual({
    done: false,
    said: expect.stringMatching(/There is a file .* already/),
  });
  expect(await npm('restore', url, file)).toEqual({
    done: false,
    said: expect.stringMatching(/something in this place already/),
  });
  await writer.settled();
  const written = plainText(writer.doc);
  writer.close();
  await server.stop();

  const back = await ownDatabase('back');
  expect(await npm('restore', back, file)).toEqual({
    done: true,
    said: expect.stringMatching(/^Back, and proven row by row: /),
  });
  const again = await startServer(undefined, { TEA_PENCIL_DATABASE_URL: back });
  const late = await new Writer(await demoPerson(again.address, 'ines'), id).until();
  expect(late.version()).toBeGreaterThanOrEqual(before);
  expect(late.version()).toBeLessThanOrEqual(after + 60);
  const held = plainText(late.doc);
  expect(held.length).toBeGreaterThan(60);
  expect(written.startsWith(held)).toBe(true);
  // And one writes on in it.
  late.type('and on');
  await late.settled();
  late.close();
  await again.stop();

  // A copy that is not what it was, or none at all.
  const bytes = readFileSync(file);
  const at = bytes.indexOf('"sum": "') + 8;
  const changed = Buffer.from(bytes);
  changed[at] = changed[at] === 0x31 ? 0x32 : 0x31;
  writeFileSync(path.join(folder, 'changed.tar'), changed);
  writeFileSync(path.join(folder, 'half.tar'), bytes.subarray(0, bytes.length / 2));
  writeFileSync(path.join(folder, 'none.tar'), 'The tide comes in.');
  const empty = await ownDatabase('empty');
  for (const [name, why] of [
    ['changed', /does not hold what it held when it was made \(\w+\)\. Nothing was kept\./],
    ['half', /is no whole copy|did not succeed/],
    ['none', /is no whole copy made by npm run backup/],
    ['missing', /There is no file/],
  ] as const) {
    expect(await npm('restore', empty, path.join(folder, `${name}.tar`))).toEqual({
      done: false,
      said: expect.stringMatching(why),
    });
    expect(await tables(empty)).toBe(0);
  }
}, 120_000);

test('where there is nothing to copy, and no database, that is said', async () => {
  const empty = await ownDatabase('nothing');
  const file = path.join(folder, 'nothing.tar');
  expect(await npm('backup', empty, file)).toEqual({
    done: false,
    said: 'There is nothing in this database that could be copied.',
  });
  const gone = empty.replace(/:\d+\//, ':1/');
  expect(await npm('backup', gone, file)).toEqual({
    done: false,
    said: expect.stringMatching(/cannot be reached \(ECONNREFUSED\)/),
  });
  expect(existsSync(file) || existsSync(`${file}.making`)).toBe(false);
});
