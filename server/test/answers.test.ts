import { spawn } from 'node:child_process';
import { request } from 'node:http';
import path from 'node:path';
import fc from 'fast-check';
import { Client } from 'pg';
import { routes } from '../src/policy/table';
import { traceOf } from '../src/running/log';
import { demoPerson, freePort, ownDatabase, sharedServer, startServer, Visitor } from './support/server';

/** Whatever comes in, the answer is a sentence; what goes wrong is told to the log without what was in it. */

let server: Awaited<ReturnType<typeof sharedServer>>;
let keeper: Visitor;
let id: string;
beforeAll(async () => {
  server = await sharedServer();
  keeper = await demoPerson(server.address, 'ines');
  id = (await keeper.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Whatever comes' })).body.id;
});
afterAll(() => server.stop());

/** Sends bytes as they are, and gives the answer. */
function send(
  address: string,
  method: string,
  to: string,
  headers: Record<string, string> = {},
  body?: string | Buffer,
) {
  const { hostname, port } = new URL(address);
  return new Promise<{ status: number; headers: Record<string, unknown>; message: string }>((resolve, reject) => {
    const sent = request({ hostname, port, method, path: to, headers }, (answer) => {
      const pieces: Buffer[] = [];
      answer.on('data', (piece: Buffer) => pieces.push(piece));
      answer.on('end', () => {
        const text = Buffer.concat(pieces).toString();
        let message = '';
        try {
          message = String((JSON.parse(text) as { message?: unknown }).message);
        } catch {
          // an answer without a sentence
        }
        resolve({ status: answer.statusCode!, headers: answer.headers, message });
      });
    });
    sent.on('error', reject);
    sent.end(body);
  });
}

const odd = fc.oneof(
  fc.constantFrom(
    '%00',
    '..%2f..',
    '%E0%A4%A',
    'NaN',
    '-1',
    '99999999999999999999',
    'null',
    encodeURIComponent("'; DROP TABLE people; --"),
  ),
  fc.string({ minLength: 1, maxLength: 12 }).map(encodeURIComponent),
);
const value: fc.Arbitrary<unknown> = fc.oneof(
  fc.jsonValue({ maxDepth: 3 }),
  fc.constantFrom<unknown>(
    '\u0000',
    '\ud800',
    1e308,
    -1,
    2 ** 53,
    '9999999-99-99T99:99:99Z',
    '',
    [],
    {},
    { __proto__: null },
    'x'.repeat(5000),
  ),
);
const keys = fc.constantFrom(
  ...['title', 'note', 'id', 'role', 'at', 'comment', 'body', 'person', 'threads', 'resolved', 'version', 'from', 'to'],
  ...['login', 'password', 'read', 'name', 'hue', 'verdict', 'changes', 'settled', 'asset', 'lenses', 'until', 'kind'],
);

test('no request, however odd, is answered with 500', async () => {
  const all = Object.keys(routes).filter((route) => !/sign-out/.test(route));
  const bad: string[] = [];
  let sent = 0;
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom(...all),
      fc.array(fc.oneof(odd, fc.constant('')), { minLength: 3, maxLength: 3 }),
      fc.oneof(fc.dictionary(keys, value, { maxKeys: 5 }), value),
      fc.constantFrom('application/json', 'application/json', 'text/plain', 'multipart/form-data; boundary=x', ''),
      fc.dictionary(fc.constantFrom('after', 'before', 'q', 'limit', 'kind', 'format', 'version', 'from'), odd, {
        maxKeys: 3,
      }),
      async (route, parts, body, type, query) => {
        const [method, pattern] = route.split(' ') as [string, string];
        let k = 0;
        const to = pattern.replace(/:(\w+)/g, (_, name: string) =>
          name === 'id' && !parts[0] ? id : parts[k++ % 3] || 'x',
        );
        const search = Object.entries(query).map(([name, one]) => `${name}=${one}`);
        const headers = { cookie: keeper.cookie, ...(type && { 'content-type': type }) };
        const text = method === 'GET' ? undefined : (JSON.stringify(body) ?? '');
        const { status, message } = await send(server.address, method, `${to}?${search.join('&')}`, headers, text);
        sent++;
        if (status >= 500) bad.push(`${method} ${to}?${search.join('&')} ${text?.slice(0, 300)}: ${status} ${message}`);
      },
    ),
    { numRuns: Number(process.env.ODD_REQUESTS ?? 600) },
  );
  expect(bad).toEqual([]);
  expect(sent).toBeGreaterThan(500);
}, 120_000);

test('what cannot be read at all is answered with a sentence too', async () => {
  const json = { cookie: keeper.cookie, 'content-type': 'application/json' };
  const route = '/api/manuscripts';
  for (const [method, to, headers, body, status, message] of [
    ['POST', route, json, '{"title": ', 400, /what it brings is no JSON/],
    ['POST', route, json, `"${'x'.repeat(1_100_000)}"`, 413, /too large: a request may bring 1 MB/],
    ['POST', route, { ...json, 'content-encoding': 'tea' }, '{}', 415, /encoding is not known here/],
    ['GET', '/api/manuscripts/%E0%A4%A', json, undefined, 400, /address cannot be read/],
    ['GET', '/api/nowhere', json, undefined, 404, /There is nothing at this address/],
  ] as const) {
    const answer = await send(server.address, method, to, headers, body);
    expect([answer.status, answer.message]).toEqual([status, expect.stringMatching(message)]);
  }
});

test('it answers under its own names only, requests and live connections', async () => {
  const { port } = new URL(server.address);
  for (const [host, status] of [
    [`localhost:${port}`, 200],
    [`127.0.0.1:${port}`, 200],
    [`[::1]:${port}`, 200],
    [`tea.attacker.example:${port}`, 421],
    ['localhost.attacker.example', 421],
  ] as const)
    expect([host, (await send(server.address, 'GET', '/api/health', { host })).status]).toEqual([host, status]);
  const live = '/api/live/?EIO=4&transport=websocket';
  const upgrade = {
    connection: 'Upgrade',
    upgrade: 'websocket',
    'sec-websocket-version': '13',
    'sec-websocket-key': 'dGhlIHNhbXBsZSBub25jZQ==',
  };
  const { status } = await send(server.address, 'GET', live, {
    ...upgrade,
    host: 'tea.attacker.example',
    cookie: keeper.cookie,
  });
  expect(status).toBe(400);
});

test('behind TLS the cookie goes over nothing else, and browsers are told to stay there', async () => {
  const url = await ownDatabase('tls', 'the demo');
  const environment = { TEA_PENCIL_DATABASE_URL: url, TEA_PENCIL_URL: 'https://tea.example', TEA_PENCIL_PROXIES: '1' };
  const behind = await startServer(undefined, environment);
  const through = { host: 'tea.example', 'x-forwarded-proto': 'https', 'content-type': 'application/json' };
  const { body: people } = await new Visitor(behind.address).ask<{ id: string }[]>('GET', '/api/demo-people');
  const body = JSON.stringify({ person: people[0]!.id });
  const { headers } = await send(behind.address, 'POST', '/api/sign-in/demo', through, body);
  expect(String(headers['set-cookie'])).toMatch(/; Secure/);
  expect(headers['strict-transport-security']).toBe('max-age=15552000');
  const plain = await send(server.address, 'GET', '/api/health');
  expect(plain.headers['strict-transport-security']).toBeUndefined();
  await behind.stop();
}, 60_000);

/** Starts a server that is expected to end by itself, or is stopped, and gives all that it said. */
async function saying(
  environment: Record<string, string>,
  meanwhile?: (address: string) => Promise<void>,
): Promise<string> {
  const child = spawn(process.execPath, [path.resolve(__dirname, '../dist/main.js')], {
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { ...process.env, TEA_PENCIL_SECRET: 'for the tests only', TEA_PENCIL_DEMO: '0', ...environment },
  });
  let said = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (piece: Buffer) => (said += piece.toString()));
  const ended = new Promise((resolve) => child.once('exit', resolve));
  if (meanwhile) {
    const address = `http://127.0.0.1:${environment.TEA_PENCIL_PORT}`;
    for (let i = 0; i < 300; i++) {
      if (
        await fetch(`${address}/api/health`).then(
          (r) => r.ok,
          () => false,
        )
      )
        break;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    await meanwhile(address).finally(() => child.kill('SIGTERM'));
  }
  await ended;
  return said;
}

test('a database that a later version has used is not touched, and that is said', async () => {
  const url = await ownDatabase('later');
  const first = await startServer(undefined, { TEA_PENCIL_DATABASE_URL: url, TEA_PENCIL_DEMO: '0' });
  await first.stop();
  const client = new Client({ connectionString: url });
  await client.connect();
  await client.query(`INSERT INTO migrations (timestamp, name) VALUES (9999999999999, 'FromTheFuture9999999999999')`);
  const said = await saying({ TEA_PENCIL_DATABASE_URL: url, TEA_PENCIL_PORT: '0' });
  expect(said).toMatch(/This database was used by a later version of Tea Pencil\./);
  expect(said).not.toMatch(/^\s+at /m);
  const { rows } = await client.query<{ n: string }>('SELECT count(*) AS n FROM migrations');
  expect(Number(rows[0]!.n)).toBeGreaterThan(1);
  await client.end();
}, 60_000);

test('where the database cannot be had for good, that is said in a sentence', async () => {
  const own = new URL(await ownDatabase('nowhere'));
  const at = (change: (url: URL) => void) => {
    const url = new URL(own);
    change(url);
    return saying({ TEA_PENCIL_DATABASE_URL: url.href, TEA_PENCIL_PORT: '0' });
  };
  /** What is said in words; the log's own lines are for machines. */
  const words = (said: string) => said.split('\n').filter((line) => line && !line.startsWith('{'));
  const [password, name] = await Promise.all([
    at((url) => void (url.password = 'not this one')),
    at((url) => void (url.pathname += '_gone')),
  ]);
  expect(words(password)).toEqual(['PostgreSQL does not take the name and password in TEA_PENCIL_DATABASE_URL.']);
  expect(words(name)).toEqual(['PostgreSQL has no database of the name in TEA_PENCIL_DATABASE_URL.']);
}, 60_000);

test('the log says what failed and where, and nothing of what was written', async () => {
  const url = await ownDatabase('log', 'the demo');
  const secret = 'a sentence nobody else may read';
  const postgres = new Client({ connectionString: url });
  await postgres.connect();
  const log = async () => {
    const file = `SELECT pg_read_file(current_setting('data_directory') || '/log') AS log`;
    return (await postgres.query<{ log: string }>(file)).rows[0]!.log;
  };
  const before = await log();
  const client = new Client({ connectionString: url });
  const port = String(await freePort());
  const said = await saying(
    { TEA_PENCIL_DATABASE_URL: url, TEA_PENCIL_PORT: port, TEA_PENCIL_DEMO: '1' },
    async (address) => {
      const ines = await demoPerson(address, 'ines');
      const mine = await ines.manuscript(/Foreword/);
      await client.connect();
      // Something in the database that no act reckons with.
      await client.query(`ALTER TABLE manuscripts ADD CONSTRAINT no_secret CHECK (title NOT LIKE '%sentence%')`);
      await client.query('ALTER TABLE notices RENAME TO notices_away');
      const noted = await ines.ask('PATCH', `/api/manuscripts/${mine}`, { title: secret });
      expect([noted.status, noted.body.message]).toEqual([400, expect.stringMatching(/out of range/)]);
      const broken = await ines.ask('GET', `/api/post?about=${encodeURIComponent(secret)}`);
      expect([broken.status, broken.body.message]).toEqual([
        500,
        expect.stringMatching(/tell whoever runs this place: \S{36}$/),
      ]);
    },
  );
  await client.end();
  const lines = said
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as Record<string, unknown>);
  const told = lines.map(({ status, code }) => [status, code]);
  expect(told).toEqual(
    expect.arrayContaining([
      [400, '23514'],
      [500, '42P01'],
    ]),
  );
  expect(said).not.toContain('sentence');
  // Nor does PostgreSQL's own log, of which what came since is read; that it is written is seen by a line of its own.
  await postgres.query('SELECT pg_reload_conf()');
  let since = '';
  for (let i = 0; !since.includes('SIGHUP') && i < 50; i++, await new Promise((done) => setTimeout(done, 100)))
    since = (await log()).slice(before.length);
  await postgres.end();
  expect(since).toContain('SIGHUP');
  expect(since).not.toMatch(/sentence|no_secret/);
  for (const line of lines) expect(Object.keys(line)).toEqual(expect.arrayContaining(['level', 'time', 'part']));
}, 60_000);

test('what a failure says of itself is not told, though its lines look like places', () => {
  const told = JSON.stringify(traceOf(new RangeError('Invalid content:\n    at low water nobody else may read')));
  expect(told).toContain('RangeError');
  expect(told).toMatch(/answers\.test/);
  expect(told).not.toContain('low water');
});
