import { createServer, type Server, type Socket } from 'node:net';
import { Client } from 'pg';
import { remarkOf } from '@tea-pencil/core';
import { demoPerson, ownDatabase, startServer, type Running, type Visitor } from './support/server';

/** Mail over SMTP (RFC 5321), to a server of the test’s own that refuses one recipient. */

interface Letter {
  to: string;
  data: string;
}
const received: Letter[] = [];
const refused = 'maren@harrow-press.example';

/** Whoever takes mail in takes their time with one about this, until it is over. */
let slow = Promise.resolve();
// Lines are broken softly in what is sent (RFC 2045, 6.7), wherever they get too long.
const isSlow = (data: string) => data.replace(/=\n/g, '').includes('A slow post');

/** As much of SMTP as a client needs to hand over a mail. */
function answer(socket: Socket): void {
  let to = '';
  let data: string | null = null;
  const say = (line: string) => socket.write(`${line}\r\n`);
  say('220 post.example');
  const line = (text: string) => {
    if (data !== null) {
      if (text !== '.') return void (data += `${text}\n`);
      received.push({ to, data });
      const waits = isSlow(data);
      data = null;
      return void (waits ? slow : Promise.resolve()).then(() => say('250 kept'));
    }
    if (/^RCPT TO:/i.test(text)) {
      to = /<([^>]*)>/.exec(text)![1]!;
      return say(to === refused ? '550 no such box' : '250 fine');
    }
    if (/^DATA/i.test(text)) {
      data = '';
      return say('354 go on');
    }
    if (/^QUIT/i.test(text)) return socket.end('221 bye\r\n');
    say('250 fine');
  };
  let rest = '';
  socket.on('data', (bytes) => {
    const lines = (rest + bytes.toString()).split('\r\n');
    rest = lines.pop()!;
    lines.forEach(line);
  });
  socket.on('error', () => undefined);
}

let post: Server;
let url: string;
let server: Running;
let tobias: Visitor;
beforeAll(async () => {
  post = createServer(answer);
  await new Promise<void>((done) => post.listen(0, '127.0.0.1', done));
  const { port } = post.address() as { port: number };
  server = await startServer(undefined, {
    TEA_PENCIL_DATABASE_URL: (url = await ownDatabase('mail', 'the demo')),
    TEA_PENCIL_MAIL_PAUSE: '1',
    TEA_PENCIL_SMTP_URL: `smtp://127.0.0.1:${port}`,
    TEA_PENCIL_MAIL_FROM: 'The press <post@harrow-press.example>',
    TEA_PENCIL_URL: 'http://pencil.example',
  });
  tobias = await demoPerson(server.address, 'tobias');
});
afterAll(async () => {
  await server.stop();
  post.close();
});

test('mail goes out over the server that is set; one that is refused holds up nobody else’s', async () => {
  const { id } = (await tobias.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'By mail' })).body;
  const all = Object.fromEntries(['mention', 'query', 'reply', 'decision', 'invitation'].map((kind) => [kind, 'mail']));
  for (const login of ['maren', 'ines']) {
    const person = await demoPerson(server.address, login);
    await person.ask('PATCH', '/api/post/kinds', all);
    await person.ask('PATCH', '/api/post', { read: true }); // what other tests have left
    await tobias.ask('PUT', `/api/manuscripts/${id}/members/${person.id}`, { role: 'remarker' });
    const comment = { id: `mail-${login}`, body: remarkOf('Which “kiln”?'), query: { to: person.id } };
    await tobias.ask('POST', `/api/manuscripts/${id}/threads`, { id: `mail-thread-${login}`, whole: true, comment });
  }
  const mine = () => received.find(({ to, data }) => to === 'ines@harrow-press.example' && data.includes('By mail'));
  for (let i = 0; !mine() && i < 80; i++) await new Promise((resolve) => setTimeout(resolve, 150));
  expect(mine()).toBeDefined();
  const { data } = mine()!;
  expect(data).toMatch(/^From: The press <post@harrow-press.example>$/m);
  expect(data).toMatch(/^To: Ines Vega <ines@harrow-press.example>$/m);
  expect(data).toMatch(/^Subject: By mail: 2 things for you$/m);
  expect(data).toMatch(/multipart\/alternative/);
  expect(data.replace(/=\n/g, '')).toContain('http://pencil.example/m/');
  expect(received.some(({ to }) => to === refused)).toBe(false);
  // Nothing stands in for what is really sent.
  const { body } = await tobias.ask<{ standsIn: boolean; mails: unknown[] }>('GET', '/api/outbox');
  expect(body).toEqual({ standsIn: false, mails: [] });
});

test('while a mail is on its way nothing is locked, and of what was read meanwhile nothing is lost', async () => {
  let arrived!: () => void;
  slow = new Promise((resolve) => (arrived = resolve));
  const ines = await demoPerson(server.address, 'ines');
  const { id } = (await tobias.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'A slow post' })).body;
  await tobias.ask('PUT', `/api/manuscripts/${id}/members/${ines.id}`, { role: 'remarker' });
  const about = () => received.filter(({ data }) => isSlow(data));
  for (let i = 0; !about().length && i < 200; i++) await new Promise((resolve) => setTimeout(resolve, 100));
  expect(about()).toHaveLength(1);
  const database = new Client({ connectionString: url });
  await database.connect();
  const facts = async (more = '') =>
    (
      await database.query<{ claimed: boolean; mailed: boolean }>(
        `SELECT claimed_at IS NOT NULL AS claimed, mailed_at IS NOT NULL AS mailed FROM notices WHERE manuscript_id = $1 ${more}`,
        [id],
      )
    ).rows;
  // It is claimed, not sent as far as anybody knows, and free for whoever has business with it.
  expect(await facts('FOR UPDATE NOWAIT')).toEqual([{ claimed: true, mailed: false }]);
  expect((await ines.ask('PATCH', '/api/post', { read: true })).status).toBeLessThan(300);
  arrived();
  for (let i = 0; !(await facts())[0]!.mailed && i < 80; i++) await new Promise((resolve) => setTimeout(resolve, 100));
  expect(await facts()).toEqual([{ claimed: false, mailed: true }]);
  expect(about()).toHaveLength(1);
  await database.end();
});

/** What the links hold in the letters that ask whether an address is its reader’s; so many at least. */
const tokensTo = async (address: string, least: number) => {
  const texts = () => received.filter(({ to }) => to === address).map(({ data }) => data.replace(/=\n/g, ''));
  const tokens = () => texts().flatMap((text) => /\/confirm\/([\w-]+\.[\w-]+)/.exec(text)?.[1] ?? []);
  for (let i = 0; tokens().length < least && i < 80; i++) await new Promise((resolve) => setTimeout(resolve, 50));
  return tokens();
};

test('mail goes to no address before its owner has opened the link that was sent there', async () => {
  const alba = await demoPerson(server.address, 'alba');
  const ines = await demoPerson(server.address, 'ines');
  const mine = async () =>
    (await alba.ask<{ me: { mail: string | null; askedMail: string | null } }>('GET', '/api/me')).body.me;
  const former = 'alba@harrow-press.example';
  const wanted = 'alba@shore.example';
  expect((await alba.ask('PATCH', '/api/me', { mail: wanted })).status).toBe(204);
  expect(await mine()).toMatchObject({ mail: former, askedMail: wanted });
  const [token = '', ...more] = await tokensTo(wanted, 1);
  expect(token).toMatch(/^[\w-]{12}\.[\w-]{43}$/);
  expect(more).toEqual([]);

  // Until then the former one holds; somebody else’s link, or half of one, confirms nothing.
  expect((await ines.ask('POST', '/api/me/mail', { token })).status).toBe(404);
  expect((await alba.ask('POST', '/api/me/mail', { token: token.slice(1) })).status).toBe(404);
  expect(await mine()).toMatchObject({ mail: former, askedMail: wanted });
  expect((await alba.ask('POST', '/api/me/mail', { token })).status).toBe(204);
  expect(await mine()).toMatchObject({ mail: wanted, askedMail: null });
  expect((await alba.ask('POST', '/api/me/mail', { token })).status).toBe(404); // it holds once

  // A link that is three days old holds no more; asked again, the newest holds and the one before does not.
  await alba.ask('PATCH', '/api/me', { mail: former });
  const [old] = await tokensTo(former, 1);
  const database = new Client({ connectionString: url });
  await database.connect();
  await database.query(`UPDATE asked_mail SET asked_at = now() - interval '73 hours'`);
  await database.end();
  expect((await alba.ask('POST', '/api/me/mail', { token: old })).status).toBe(404);
  await alba.ask('PATCH', '/api/me', { mail: former });
  const [, fresh] = await tokensTo(former, 2);
  expect((await alba.ask('POST', '/api/me/mail', { token: old })).status).toBe(404);
  expect((await alba.ask('POST', '/api/me/mail', { token: fresh })).status).toBe(204);

  // Nobody has an address written to again and again, and one that is taken away gets nothing.
  const answers: number[] = [];
  for (let i = 0; i < 6; i++)
    answers.push((await ines.ask('PATCH', '/api/me', { mail: 'stranger@shore.example' })).status);
  expect(answers).toEqual([204, 204, 204, 204, 204, 429]);
  expect((await alba.ask('PATCH', '/api/me', { mail: 'stranger@shore.example' })).status).toBe(429);
  expect((await ines.ask('PATCH', '/api/me', { mail: null })).status).toBe(204);
  expect((await ines.ask<{ me: object }>('GET', '/api/me')).body.me).toMatchObject({ mail: null, askedMail: null });
});
