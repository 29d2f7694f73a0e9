import { spawn, spawnSync } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';

const root = path.resolve(__dirname, '../..');
const script = path.join(root, 'scripts/start.mjs');

/** A start in a home of its own, until it prints its address or ends. */
function start(env: Record<string, string>, [program, ...args] = [process.execPath, script]) {
  const child = spawn(program!, args, { cwd: root, env: { ...process.env, ...env } });
  let said = '';
  child.stdout.on('data', (part: Buffer) => (said += part.toString()));
  child.stderr.on('data', (part: Buffer) => (said += part.toString()));
  const ended = new Promise<number | null>((resolve) => child.once('exit', (code) => resolve(code)));
  const up = new Promise<string>((resolve) => {
    child.stdout.on('data', () => said.includes('Stop it with') && resolve(said));
    void ended.then(() => resolve(said));
  });
  return { child, up, ended, said: () => said };
}

/** A folder that PostgreSQL's user can get into, too. */
function newHome(): string {
  const home = mkdtempSync(path.join(tmpdir(), 'tea-pencil-'));
  chmodSync(home, 0o755);
  homes.push(home);
  return home;
}
const homes: string[] = [];
afterAll(() => homes.forEach((home) => rmSync(home, { recursive: true, force: true })));

const freePort = () =>
  new Promise<number>((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });

test('a first start makes its own cluster; a second one, after a kill, finds the data again; TERM to npm stops everything', async () => {
  const home = newHome();
  const port = String(await freePort());
  const env = { TEA_PENCIL_HOME: home, TEA_PENCIL_PORT: port };
  const first = start(env);
  expect(await first.up).toContain(`http://localhost:${port}`);
  const demo = async () =>
    ((await (await fetch(`http://localhost:${port}/api/demo-people`)).json()) as { id: string }[]).map(({ id }) => id);
  const people = await demo();
  expect(people).toHaveLength(5);

  // While it runs, another one on the same port says so.
  const twin = start(env);
  expect(await twin.ended).toBe(1);
  expect(twin.said()).toMatch(/already running at/);

  // Killed without a chance to tidy up: the database goes on running, the server too.
  first.child.kill('SIGKILL');
  await first.ended;
  spawnSync('pkill', ['-9', '-f', `${root}/server/dist/main.js`]);
  await new Promise((resolve) => setTimeout(resolve, 500));

  const second = start(env, ['npm', 'start']);
  expect(await second.up).toContain(`http://localhost:${port}`);
  expect(await demo()).toEqual(people);
  // A server that dies is started again, on the same data.
  spawnSync('pkill', ['-9', '-f', `${root}/server/dist/main.js`]);
  for (let i = 0; i < 600 && !second.said().includes('is started again'); i++)
    await new Promise((resolve) => setTimeout(resolve, 100));
  for (let i = 0; i < 600; i++) {
    const well = await fetch(`http://localhost:${port}/api/health`).then(
      ({ ok }) => ok,
      () => false,
    );
    if (well) break;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  expect(await demo()).toEqual(people);
  // As a supervisor does it: to the one process that it knows.
  second.child.kill('SIGTERM');
  await second.ended;
  await expect(fetch(`http://localhost:${port}/api/health`)).rejects.toThrow();
  expect(spawnSync('pgrep', ['-f', home]).status).toBe(1);
}, 180_000);

test('a start that is stopped half-way leaves nothing running', async () => {
  const home = newHome();
  const port = await freePort();
  const half = start({ TEA_PENCIL_HOME: home, TEA_PENCIL_PORT: String(port) });
  await new Promise<void>((resolve) => {
    const look = setInterval(() => {
      if (spawnSync('pgrep', ['-f', home]).status !== 0) return;
      clearInterval(look); // its database has begun, its server has not
      resolve();
    }, 20);
  });
  half.child.kill('SIGINT');
  expect(await half.ended).toBe(0);
  expect(half.said()).not.toContain('Stop it with');
  expect(spawnSync('pgrep', ['-f', home]).status).toBe(1);
  await expect(fetch(`http://localhost:${port}/api/health`)).rejects.toThrow();
}, 120_000);

test('a folder in the place of the cluster that holds something else is left as it is, and named', async () => {
  const home = newHome();
  mkdirSync(path.join(home, 'postgres', 'base'), { recursive: true });
  writeFileSync(path.join(home, 'postgres', 'base', '16384'), 'what is left of a manuscript');
  const refused = start({ TEA_PENCIL_HOME: home, TEA_PENCIL_PORT: String(await freePort()) });
  expect(await refused.ended).toBe(1);
  expect(refused.said()).toMatch(/postgres holds something that is no whole PostgreSQL cluster. It was not touched/);
  expect(readFileSync(path.join(home, 'postgres', 'base', '16384'), 'utf8')).toBe('what is left of a manuscript');
});

test('a port in use by something else, and one that is none, are named', async () => {
  const port = await freePort();
  const other = createServer((socket) => {
    socket.on('error', () => undefined);
    socket.end('HTTP/1.1 404 Not Found\r\n\r\n');
  }).listen(port, '127.0.0.1');
  const home = newHome();
  const busy = start({ TEA_PENCIL_HOME: home, TEA_PENCIL_PORT: String(port) });
  expect(await busy.ended).toBe(1);
  expect(busy.said()).toMatch(new RegExp(`Port ${port} is in use by another program`));
  other.close();
  const none = start({ TEA_PENCIL_HOME: home, TEA_PENCIL_PORT: 'tea' });
  expect(await none.ended).toBe(1);
  expect(none.said()).toMatch(/must be a port number, not “tea”/);
});
