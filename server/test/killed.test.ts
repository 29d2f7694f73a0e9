import { spawn, spawnSync } from 'node:child_process';
import { get } from 'node:http';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Client } from 'pg';
import { listChanges, plainText } from '@tea-pencil/core';
import { demoPerson, ownDatabase, startServer, type Running, type Visitor } from './support/server';
import { Writer } from './support/writer';

/**
 * What was acknowledged is there, once, whatever is killed in mid-typing: a server process, and PostgreSQL itself. The
 * writers are the screen's own live text; they notice a pause at most. `npm run faults` does it as often, and with as many
 * writers, as one wants.
 */
const rounds = Number(process.env.FAULTS_ROUNDS ?? 0);
const asked = process.env.FAULTS_WRITERS;
const limit = (standard: number) => standard + 20_000 * rounds;
const letters = 'abcdefghijklmnopqrst';

/** How many write in one paragraph: it holds what they type in hours, and at its end they meet. */
const inOne = 2;

/** What a test that fails has left running would weigh on those that follow. */
const left: (() => void)[] = [];
afterEach(() => left.splice(0).forEach((end) => end()));
async function begun(...asked: Parameters<typeof startServer>): Promise<Running> {
  const server = await startServer(...asked);
  left.push(() => server.process.kill('SIGKILL'));
  return server;
}

const pause = (time: number) => new Promise((resolve) => setTimeout(resolve, time));

/** Somebody who accepts one change after the other, while there is a connection, until stopped. */
async function deciding(who: Visitor, id: string) {
  const decider = await new Writer(who, id).until();
  const made: string[] = [];
  let over = false;
  const all = (async () => {
    while (!over) {
      await pause(asked ? 400 : 60);
      // Both processes may be on their way up, for longer than a decision waits before it says that it was not made.
      await decider.until(() => over || decider.socket.connected, 60_000);
      const [change] = listChanges(decider.doc);
      const decision = change && (await decider.text.decide([change.id], 'accept'));
      if (decision) made.push(decision);
    }
  })();
  return {
    /** The decisions that this window knows of, and what was said to it beside that. */
    async end() {
      over = true;
      await all;
      decider.close();
      return { made, said: decider.said };
    },
  };
}

/** The decisions that are kept. */
async function decisionsOf(connectionString: string, id: string): Promise<string[]> {
  const client = new Client({ connectionString });
  await client.connect();
  const { rows } = await client.query<{ id: string }>(`SELECT id FROM decisions WHERE manuscript_id = $1`, [id]);
  await client.end();
  return rows.map((row) => row.id);
}

/** People who type words that can be told apart, and one who decides, until stopped. */
async function typing(server: Running, howMany: number) {
  const people = await Promise.all(['ines', 'maren'].map((login) => demoPerson(server.address, login)));
  const [ines, maren] = people as [(typeof people)[0], (typeof people)[0]];
  const form = new FormData();
  form.append(
    'file',
    new File(
      [
        Array(Math.ceil(howMany / inOne))
          .fill('.')
          .join('\n'),
      ],
      'Killed.txt',
    ),
  );
  const { id } = (await ines.ask<{ id: string }>('POST', '/api/manuscripts/import', form)).body;
  await ines.ask('PUT', `/api/manuscripts/${id}/members/${maren.id}`, { role: 'proposer' });
  const writers = await Promise.all(Array.from({ length: howMany }, (_, k) => new Writer(people[k % 2]!, id).until()));
  const typed = writers.map(() => 0);
  const decider = await deciding(ines, id);
  let over = false;
  const all = writers.map(async (writer, k) => {
    while (!over) {
      writer.type(`${letters[k]}${typed[k]!++};`, Math.floor(k / inOne));
      await pause((asked ? 2500 : 12) + 5 * k);
    }
  });
  return {
    id,
    ines,
    writers,
    acknowledged: () => writers.map((writer) => writer.version()),
    /** The words of each as the server has them at last, and how many each has typed. */
    async end() {
      over = true;
      await Promise.all(all);
      const decided = await decider.end();
      for (const writer of writers) await writer.until(() => !writer.text.hasUnkept(), 60_000);
      const late = await new Writer(ines, id).until();
      const text = plainText(late.doc);
      late.close();
      for (const writer of writers) writer.close();
      const words = writers.map((_, k) =>
        [...text.matchAll(new RegExp(`${letters[k]}(\\d+);`, 'g'))].map(([, n]) => Number(n)),
      );
      return {
        words,
        typed,
        decided,
        notTaken: writers.flatMap(({ notTaken }) => notTaken),
        rest: text.replace(/[a-t]\d+;|[.\n]/g, ''),
      };
    },
  };
}

/** The processes that one has begun, the oldest first. */
const childrenOf = (pid: number) =>
  spawnSync('pgrep', ['-P', String(pid)], { encoding: 'utf8' })
    .stdout.split('\n')
    .filter(Boolean)
    .map(Number);

/** The processes of a server; none while all of them are dead and not replaced yet. */
const workersOf = (server: Running) => childrenOf(server.process.pid!);

const counted = (n: number) => Array.from({ length: n }, (_, i) => i);

/**
 * Each kill hits in mid-typing: something was acknowledged since the last one, so that there is a process with writers on it.
 * It is the older of the two; the younger may be on its way up still, and then all write without a connection for a while.
 */
test(
  'kill -9 of one of two server processes, five times in mid-typing: nothing is lost and nothing comes twice',
  async () => {
    const server = await begun(undefined, { TEA_PENCIL_PROCESSES: '2' });
    const work = await typing(server, Number(asked ?? 4));
    const acknowledged = () => Math.max(...work.acknowledged());
    const killed = new Set<number>();
    const living = () => workersOf(server).find((one) => !killed.has(one));
    for (let round = 0, before = 0; round < (rounds || 5); round++) {
      while (acknowledged() <= before) await pause(20);
      await pause((round % 8) * 70);
      before = acknowledged();
      // The last two may have been killed within a breath of each other.
      let pid = living();
      for (; !pid; pid = living()) await pause(20);
      killed.add(pid);
      process.kill(pid, 'SIGKILL');
    }
    await pause(1500);
    const { words, typed, decided, notTaken, rest } = await work.end();
    expect(killed.size).toBe(rounds || 5);
    expect(words).toEqual(typed.map(counted));
    expect([notTaken, rest]).toEqual([[], '']);
    expect([decided.made.length > 0, decided.said]).toEqual([true, []]);
    expect((await decisionsOf(process.env.TEA_PENCIL_TEST_DATABASE!, work.id)).sort()).toEqual(decided.made.sort());
    expect(workersOf(server).length).toBeGreaterThan(0);
    await server.stop();
  },
  limit(300_000),
);

test('while a process stands still, and after it has died of that, the others answer whoever comes', async () => {
  const server = await begun(undefined, { TEA_PENCIL_PROCESSES: '2' });
  const { cookie } = await demoPerson(server.address, 'ines');
  /** Each on a connection of its own, as people come. Who has what open is asked of the other process too. */
  const answered = (k: number) =>
    new Promise<number | undefined>((resolve, reject) => {
      const address = `${server.address}/api/${k ? 'health' : 'manuscripts/here'}`;
      const asked = get(address, { agent: false, timeout: 20_000, headers: { cookie } }, (response) => {
        response.resume();
        resolve(response.statusCode);
      });
      asked.on('timeout', () => asked.destroy(new Error('nobody answers')));
      asked.on('error', reject);
    });
  const many = () => Promise.all(counted(30).map(answered));
  const well = counted(30).map(() => 200);
  while (workersOf(server).length < 2) await pause(50);
  const [first, second] = workersOf(server) as [number, number];
  // The second is on its way up still; who comes now waits for it.
  process.kill(first, 'SIGSTOP');
  expect(await many()).toEqual(well);
  process.kill(first, 'SIGCONT');
  process.kill(second, 'SIGSTOP');
  const asked = many();
  await pause(100);
  process.kill(second, 'SIGKILL');
  expect(await asked).toEqual(well);
  await server.stop();
}, 90_000);

test('a server that has lost a connection just now ends when it is told to', async () => {
  const url = await ownDatabase('ending', 'the demo');
  const server = await begun(undefined, { TEA_PENCIL_DATABASE_URL: url });
  const client = new Client({ connectionString: url });
  await client.connect();
  let lost = 0;
  for (let i = 0; !lost && i < 100; i++, await pause(50))
    ({ rowCount: lost } = (await client.query(
      `SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = current_database() AND query LIKE 'LISTEN%'`,
    )) as { rowCount: number });
  await client.end();
  expect(lost).toBe(1);
  const stopped = await Promise.race([server.stop().then(() => 'ended'), pause(8000).then(() => 'still there')]);
  server.process.kill('SIGKILL');
  expect(stopped).toBe('ended');
}, 30_000);

test(
  'kill -9 of PostgreSQL itself, four times: what was acknowledged is there, the rest is kept when it is back',
  async () => {
    const home = mkdtempSync(path.join(tmpdir(), 'tea-pencil-killed-'));
    chmodSync(home, 0o755); // PostgreSQL’s user gets in, so that the cluster lies in it and goes with it
    const keeper = spawn(process.execPath, [path.join(__dirname, 'support/own-database.mjs'), home], {
      stdio: ['ignore', 'pipe', 'ignore'],
    });
    left.push(() => keeper.kill('SIGTERM'));
    const url = await new Promise<string>((resolve) => {
      let said = '';
      keeper.stdout.on('data', (data: Buffer) => {
        said += data.toString();
        const found = /postgres:\/\/\S+/.exec(said);
        if (found) resolve(found[0]);
      });
    });
    const server = await begun(undefined, { TEA_PENCIL_DATABASE_URL: url });
    const work = await typing(server, Number(asked ?? 3));
    const kept = async () => {
      const client = new Client({ connectionString: url });
      client.on('error', () => undefined);
      await client.connect();
      const { rows } = await client.query<{ pid: string; n: string }>(
        `SELECT split_part(pg_read_file('postmaster.pid'), chr(10), 1) AS pid, (SELECT count(*) FROM steps) AS n`,
      );
      await client.end();
      return { pid: Number(rows[0]!.pid), steps: Number(rows[0]!.n) };
    };
    /** The same as soon as it can be asked: a connection that was just made may be one to what is ending. */
    const keptSoon = async () => {
      for (;;) {
        const now = await kept().catch(() => null);
        if (now) return now;
        await pause(100);
      }
    };
    let kills = 0;
    for (let round = 0; round < (rounds || 4); round++) {
      await pause(600 + (round % 4) * 110);
      const { pid } = await keptSoon();
      const acknowledged = Math.max(...work.acknowledged());
      process.kill(pid, 'SIGKILL');
      kills++;
      // Until it is back, nothing is acknowledged; then all that was is there.
      expect((await keptSoon()).steps).toBeGreaterThanOrEqual(acknowledged);
    }
    await pause(1500);
    const { words, typed, decided, notTaken, rest } = await work.end();
    expect(kills).toBe(rounds || 4);
    expect(words).toEqual(typed.map(counted));
    expect([notTaken, rest]).toEqual([[], '']);
    expect([decided.made.length > 0, decided.said]).toEqual([true, []]);
    expect((await decisionsOf(url, work.id)).sort()).toEqual(decided.made.sort());

    // It stands still: whoever asks is told so before long, and all goes on after.
    const { pid } = await keptSoon();
    const all = [pid, ...childrenOf(pid)];
    // One that served a connection may have ended meanwhile.
    const signal = (name: NodeJS.Signals) => {
      for (const one of all)
        try {
          process.kill(one, name);
        } catch (problem) {
          if ((problem as NodeJS.ErrnoException).code !== 'ESRCH') throw problem;
        }
    };
    signal('SIGSTOP');
    const told = await Promise.race([work.ines.ask('GET', '/api/manuscripts'), pause(25_000)]);
    signal('SIGCONT');
    expect(told).toMatchObject({
      status: 503,
      body: { message: expect.stringMatching(/database does not answer just now/) },
    });
    for (let i = 0; i < 50 && (await work.ines.ask('GET', '/api/manuscripts')).status !== 200; i++) await pause(100);
    expect((await work.ines.ask('GET', '/api/manuscripts')).status).toBe(200);

    await server.stop();
    const ended = new Promise((resolve) => keeper.once('exit', resolve));
    keeper.kill('SIGTERM');
    await ended;
    rmSync(home, { recursive: true, force: true });
  },
  limit(180_000),
);
