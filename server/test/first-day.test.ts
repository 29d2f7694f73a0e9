import { execFile } from 'node:child_process';
import path from 'node:path';
import { promisify } from 'node:util';
import { Client } from 'pg';
import type { House, Outbox, Self, SessionOf } from '@tea-pencil/wire';
import { Editor } from './support/editor';
import { ownDatabase, startServer, Visitor, type Running } from './support/server';

/** A house from its first account on: begun, opened to others, looked after, left. */

let server: Running;
let url: string;
beforeAll(async () => {
  url = await ownDatabase('first_day');
  server = await startServer(undefined, { TEA_PENCIL_DATABASE_URL: url, TEA_PENCIL_DEMO: '0' });
});
afterAll(() => server.stop());

const odile = { name: 'Odile Marsh', mail: 'Odile@harrow-press.example', password: 'spring tide 7' };
const visitor = () => new Visitor(server.address);
let first: Visitor;

/** What the link of the newest letter in somebody’s outbox holds, behind a word of its address. */
async function tokenIn(who: Visitor, place: string, recipient = ''): Promise<string> {
  for (let i = 0; ; i++) {
    const { mails } = (await who.ask<Outbox>('GET', '/api/outbox')).body;
    const mail = mails.find((one) => one.plain.includes(`/${place}/`) && one.recipient.includes(recipient));
    const found = mail && new RegExp(`/${place}/([\\w.-]+)`).exec(mail.plain)?.[1];
    if (found) return found;
    if (i > 50) throw new Error(`no letter leads to ${place}`);
    await new Promise((done) => setTimeout(done, 100));
  }
}

async function signedIn(login: string, password: string): Promise<Visitor> {
  const one = visitor();
  const { status, body } = await one.ask<Self>('POST', '/api/sign-in', { login, password });
  expect(status).toBe(200);
  one.id = body.id;
  return one;
}

/** Somebody whom a keeper of the house has invited, with an account. */
async function invited(keeper: Visitor, name: string, mail: string): Promise<Visitor> {
  expect((await keeper.ask('POST', '/api/house/invitations', { mail, message: '' })).status).toBe(204);
  const token = await tokenIn(keeper, 'invitation', mail);
  const one = visitor();
  const password = `${name}, high and low`;
  const { status, body } = await one.ask('POST', '/api/invitations/accepted', { token, name, password });
  expect([status, body]).toEqual([200, { manuscript: null }]);
  one.id = (await one.ask<{ me: Self }>('GET', '/api/me')).body.me.id;
  return one;
}

test('an empty house is begun by one person, who looks after it; of two who begin at once one does', async () => {
  expect((await visitor().ask('GET', '/api/door')).body).toEqual({ begun: false, bySelf: false, work: null });
  for (const [wrong, says] of [
    [{ ...odile, password: 'short' }, /at least 8 letters/],
    [{ ...odile, password: 'aaaaaaaaaa' }, /over and over/],
    [{ ...odile, password: odile.mail }, /name or address/],
    [{ ...odile, password: 'x'.repeat(10_000) }, /at most 200/],
    [{ ...odile, mail: 'nowhere' }, /no address/],
    [{ ...odile, name: '\u202e' }, /nobody can see|name/],
  ] as const) {
    const { status, body } = await visitor().ask('POST', '/api/begin', wrong);
    expect([status, body.message]).toEqual([400, expect.stringMatching(says)]);
  }
  const two = [visitor(), visitor()];
  const answers = await Promise.all(
    two.map((one, i) => one.ask('POST', '/api/begin', { ...odile, mail: `${i}${odile.mail}` })),
  );
  expect(answers.map(({ status }) => status).sort()).toEqual([201, 409]);
  first = two[answers.findIndex(({ status }) => status === 201)]!;
  const { me } = (await first.ask<{ me: Self }>('GET', '/api/me')).body;
  expect(me).toMatchObject({
    name: 'Odile Marsh',
    keepsHouse: true,
    mail: null,
    askedMail: expect.stringMatching(/^[01]Odile@/),
  });
  first.id = me.id;
  expect((await visitor().ask('GET', '/api/door')).body).toMatchObject({ begun: true });
  // The address counts as theirs once they have opened the letter that went there.
  expect((await first.ask('POST', '/api/me/mail', { token: 'no.thing' })).status).toBe(404);
  expect((await first.ask('POST', '/api/me/mail', { token: await tokenIn(first, 'confirm') })).status).toBe(204);
  expect((await first.ask<{ me: Self }>('GET', '/api/me')).body.me).toMatchObject({
    askedMail: null,
    mail: me.askedMail,
  });
});

test('nobody comes in uninvited; whoever is invited comes once, by their own address, in time', async () => {
  const mail = 'piet@sandner.example';
  expect((await first.ask('POST', '/api/house/invitations', { mail, message: 'Please read\nwith us.' })).status).toBe(
    204,
  );
  const token = await tokenIn(first, 'invitation', mail);
  expect((await visitor().ask('POST', '/api/invitations/told', { token })).body).toEqual({
    title: null,
    by: 'Odile Marsh',
    role: null,
    mail,
    known: false,
  });
  for (const bad of ['', 'no.thing', `${token}x`, token.slice(0, -1), `${token.split('.')[0]}.`]) {
    const { status } = await visitor().ask('POST', '/api/invitations/accepted', {
      token: bad,
      name: 'X Y',
      password: 'high water',
    });
    expect([bad, status >= 400 && status < 500]).toEqual([bad, true]);
  }
  const byAnother = await first.ask('POST', '/api/invitations/accepted', { token });
  expect([byAnother.status, byAnother.body.message]).toEqual([
    403,
    expect.stringMatching(/another address than yours/),
  ]);
  const taken = await visitor().ask('POST', '/api/invitations/accepted', {
    token,
    name: 'Odile  Marsh',
    password: 'high water',
  });
  expect([taken.status, taken.body.message]).toEqual([409, expect.stringMatching(/called so/)]);
  const two = [visitor(), visitor()];
  const answers = await Promise.all(
    two.map((one, i) =>
      one.ask('POST', '/api/invitations/accepted', { token, name: `Piet Sandner ${i}`, password: 'high water' }),
    ),
  );
  expect(answers.map(({ status }) => status).sort()).toEqual([200, 410]);
  expect(answers.find(({ status }) => status === 410)!.body.message).toMatch(/used already/);
  const again = await visitor().ask('POST', '/api/invitations/told', { token });
  expect([again.status, again.body.message]).toEqual([410, expect.stringMatching(/works once/)]);

  // Withdrawn, run out, and made anew: only the newest letter holds.
  await first.ask('POST', '/api/house/invitations', { mail: 'runa@selby.example', message: '' });
  const earlier = await tokenIn(first, 'invitation', 'runa@');
  await first.ask('POST', '/api/house/invitations', { mail: 'Runa@selby.example', message: '' });
  expect((await visitor().ask('POST', '/api/invitations/told', { token: earlier })).body.message).toMatch(/withdrawn/);
  const house = (await first.ask<House>('GET', '/api/house')).body;
  expect(house.invitations.map((one) => one.mail)).toEqual(['Runa@selby.example']);
  const newest = await tokenIn(first, 'invitation', 'Runa@');
  const database = new Client({ connectionString: url });
  await database.connect();
  await database.query(
    `UPDATE invitations SET ends_at = now() - interval '1 second' WHERE mail = 'Runa@selby.example'`,
  );
  const late = await visitor().ask('POST', '/api/invitations/accepted', {
    token: newest,
    name: 'Runa Selby',
    password: 'high water',
  });
  expect([late.status, late.body.message]).toEqual([410, expect.stringMatching(/run out.*Ask Odile Marsh/)]);
  await first.ask('POST', '/api/house/invitations', { mail: 'hob@carrow.example', message: '' });
  const { invitations } = (await first.ask<House>('GET', '/api/house')).body;
  expect((await first.ask('DELETE', `/api/house/invitations/${invitations[0]!.id}`)).status).toBe(204);
  const gone = await visitor().ask('POST', '/api/invitations/told', {
    token: await tokenIn(first, 'invitation', 'hob@'),
  });
  expect(gone.body.message).toMatch(/withdrawn/);
  // What is kept of a letter is no more than a hash, and of a password an argon2id.
  const { rows } = await database.query<{ all: string }>(
    `SELECT (SELECT string_agg(t::text, ' ') FROM invitations t) || (SELECT string_agg(t::text, ' ') FROM people t) AS all`,
  );
  expect(rows[0]!.all).not.toContain(newest.split('.')[1]);
  expect(rows[0]!.all).toMatch(/\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
  expect(rows[0]!.all).not.toMatch(/spring tide|high water/);
  await database.end();
});

test('signing in says the same whether there is such an account, and so does asking for a new password', async () => {
  const known = await visitor().ask('POST', '/api/sign-in', {
    login: '0odile@harrow-press.example',
    password: 'no idea',
  });
  const unknown = await visitor().ask('POST', '/api/sign-in', { login: 'nobody@nowhere.example', password: 'no idea' });
  expect([known.status, known.body]).toEqual([unknown.status, unknown.body]);
  const mail = (await first.ask<{ me: Self }>('GET', '/api/me')).body.me.mail!;
  const asked = await visitor().ask('POST', '/api/password/forgotten', { mail: mail.toUpperCase() });
  const other = await visitor().ask('POST', '/api/password/forgotten', { mail: 'nobody@nowhere.example' });
  expect([asked.status, asked.body]).toEqual([other.status, other.body]);
  const token = await tokenIn(first, 'password');
  const elsewhere = await signedIn(mail, odile.password);
  const weak = await visitor().ask('POST', '/api/password/reset', { token, password: 'odile marsh' });
  expect(weak.status).toBe(400);
  const one = visitor();
  expect((await one.ask('POST', '/api/password/reset', { token, password: 'neap tide 12' })).status).toBe(200);
  // It holds once, whoever was signed in is so no more, and the old password is none.
  expect((await visitor().ask('POST', '/api/password/reset', { token, password: 'neap tide 13' })).status).toBe(404);
  expect((await elsewhere.ask<{ me: Self | null }>('GET', '/api/me')).body.me).toBeNull();
  expect((await visitor().ask('POST', '/api/sign-in', { login: mail, password: odile.password })).status).toBe(401);
  first = await signedIn(mail, 'neap tide 12');
});

test('whoever is at the machine of the house lets somebody in who has forgotten their password', async () => {
  const mail = (await first.ask<{ me: Self }>('GET', '/api/me')).body.me.mail!;
  const script = path.resolve(__dirname, '../../scripts/let-in.mjs');
  const letIn = (who: string) =>
    promisify(execFile)(process.execPath, [script, who], { env: { ...process.env, TEA_PENCIL_DATABASE_URL: url } });
  await expect(letIn('nobody@nowhere.example')).rejects.toMatchObject({
    stderr: expect.stringMatching(/^Nobody in this house/),
  });
  const { stdout } = await letIn(mail.toUpperCase());
  const token = /\/password\/(\S+)/.exec(stdout)![1]!;
  const one = visitor();
  expect((await one.ask('POST', '/api/password/reset', { token, password: 'neap tide 12' })).status).toBe(200);
  first = await signedIn(mail, 'neap tide 12');
});

test('one’s own password, address and sessions', async () => {
  const mail = (await first.ask<{ me: Self }>('GET', '/api/me')).body.me.mail!;
  const other = await signedIn(mail, 'neap tide 12');
  const wrong = await first.ask('PUT', '/api/me/password', { old: 'spring tide 7', fresh: 'ebb tide 3' });
  expect([wrong.status, wrong.body.message]).toEqual([403, 'This is not your password. Nothing was changed.']);
  const sessions = (await first.ask<SessionOf[]>('GET', '/api/me/sessions')).body;
  expect(sessions.filter(({ here }) => here)).toHaveLength(1);
  expect(sessions.length).toBeGreaterThanOrEqual(2);
  expect(JSON.stringify(sessions)).not.toContain(other.cookie.slice(20, 40));
  const live = other.live();
  await new Promise((done) => live.once('connect', () => done(null)));
  const told = new Promise((done) => live.once('signed-out', () => done('told')));
  const theirs = (await other.ask<SessionOf[]>('GET', '/api/me/sessions')).body.find(({ here }) => here)!;
  expect((await first.ask('DELETE', `/api/me/sessions/${theirs.id}`)).status).toBe(204);
  expect(await told).toBe('told');
  expect((await other.ask('GET', '/api/manuscripts')).status).toBe(401);
  expect((await first.ask('DELETE', `/api/me/sessions/${theirs.id}`)).status).toBe(404);
  const third = await signedIn(mail, 'neap tide 12');
  expect((await first.ask('PUT', '/api/me/password', { old: 'neap tide 12', fresh: 'ebb tide 3' })).status).toBe(204);
  expect((await third.ask('GET', '/api/manuscripts')).status).toBe(401);
  expect((await first.ask('GET', '/api/manuscripts')).status).toBe(200);
  // One signs in with a new address once it is confirmed, and with the old one no more.
  await first.ask('PATCH', '/api/me', { mail: 'odile.marsh@harrow-press.example' });
  await signedIn(mail, 'ebb tide 3');
  await first.ask('POST', '/api/me/mail', { token: await tokenIn(first, 'confirm', 'odile.marsh@') });
  await signedIn('odile.marsh@harrow-press.example', 'ebb tide 3');
  expect((await visitor().ask('POST', '/api/sign-in', { login: mail, password: 'ebb tide 3' })).status).toBe(401);
  // Nobody takes another’s address.
  const isa = await invited(first, 'Isa Lund', 'isa@lund.example');
  await isa.ask('PATCH', '/api/me', { mail: 'Odile.Marsh@harrow-press.example' });
  const theft = await isa.ask('POST', '/api/me/mail', { token: await tokenIn(isa, 'confirm') });
  expect([theft.status, theft.body.message]).toEqual([409, 'Another account has this address already.']);
});

test('nobody can list the accounts of the house: one sees whom one has a manuscript with', async () => {
  const hob = await invited(first, 'Hob Carrow', 'hob@carrow.example');
  const names = async (who: Visitor) =>
    (await who.ask<{ name: string }[]>('GET', '/api/people')).body.map(({ name }) => name);
  expect(await names(hob)).toEqual(['Hob Carrow']);
  const { id } = (await hob.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Mine' })).body;
  const stranger = await hob.ask('PUT', `/api/manuscripts/${id}/members/${first.id}`, { role: 'reader' });
  const nobody = await hob.ask('PUT', `/api/manuscripts/${id}/members/nobody`, { role: 'reader' });
  expect([stranger.status, stranger.body]).toEqual([nobody.status, nobody.body]);
  expect(JSON.stringify((await hob.ask('GET', '/api/people')).body)).not.toMatch(/@|argon/);
  for (const route of ['GET /api/house', 'PATCH /api/house'] as const) {
    const [method, at] = route.split(' ') as [string, string];
    expect((await hob.ask(method, at, method === 'PATCH' ? { domains: ['x.example'] } : undefined)).status).toBe(403);
  }
  // An invitation by address says the same whether there is an account with it.
  const ask = (mail: string) =>
    hob.ask('POST', `/api/manuscripts/${id}/invitations`, {
      ...{ mail, role: 'remarker', takesAway: false, invites: false, message: 'See chapter 3.' },
    });
  const [there, away] = [await ask('odile.marsh@harrow-press.example'), await ask('nobody@nowhere.example')];
  expect([there.status, there.body]).toEqual([away.status, away.body]);
  const token = await tokenIn(first, 'invitation', 'odile.marsh@');
  const accepted = await first.ask('POST', '/api/invitations/accepted', { token });
  expect([accepted.status, accepted.body]).toEqual([200, { manuscript: id }]);
  expect(await names(hob)).toEqual(['Hob Carrow', 'Odile Marsh']);
  expect((await first.ask('GET', `/api/manuscripts/${id}/copies/fair.txt`)).status).toBe(403);
});

test('people of some mail domains come in by themselves, and nobody is told which these are', async () => {
  const ask = (mail: string) => visitor().ask('POST', '/api/come-in', { mail });
  expect((await first.ask('PATCH', '/api/house', { domains: ['no domain'] })).status).toBe(400);
  expect((await first.ask('PATCH', '/api/house', { domains: ['Harrow-Press.example'] })).status).toBe(204);
  expect((await visitor().ask('GET', '/api/door')).body).toMatchObject({ bySelf: true });
  const [may, mayNot] = [await ask('alba@harrow-press.example'), await ask('alba@nearly-harrow-press.example')];
  expect([may.status, may.body]).toEqual([mayNot.status, mayNot.body]);
  const token = await tokenIn(first, 'invitation', 'alba@');
  const alba = visitor();
  const { status } = await alba.ask('POST', '/api/invitations/accepted', {
    token,
    name: 'Alba Renwick',
    password: 'low water',
  });
  expect(status).toBe(200);
  expect((await alba.ask<{ me: Self }>('GET', '/api/me')).body.me).toMatchObject({
    mail: 'alba@harrow-press.example',
    keepsHouse: false,
  });
  const { mails } = (await first.ask<Outbox>('GET', '/api/outbox')).body;
  expect(mails.some(({ recipient }) => recipient.includes('nearly'))).toBe(false);
});

test('who looks after the house locks accounts, and somebody always does; an orphaned manuscript gets a keeper', async () => {
  const runa = await invited(first, 'Runa Selby', 'runa@selby.example');
  const maren = await invited(first, 'Maren Holt', 'maren@holt.example');
  expect((await first.ask('PATCH', `/api/house/people/${first.id}`, { keepsHouse: false })).body.message).toMatch(
    /needs somebody/,
  );
  expect((await first.ask('PATCH', `/api/house/people/${first.id}`, { locked: true })).body.message).toMatch(
    /Nobody locks themselves/,
  );
  const { id } = (await runa.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Left alone' })).body;
  expect((await first.ask<House>('GET', '/api/house')).body.unkept).toEqual([]);
  expect((await first.ask('PUT', `/api/house/unkept/${id}`, { person: maren.id })).status).toBe(409);
  expect((await first.ask('PATCH', `/api/house/people/${runa.id}`, { locked: true })).status).toBe(204);
  expect((await runa.ask('GET', '/api/manuscripts')).status).toBe(401);
  expect((await visitor().ask('POST', '/api/password/forgotten', { mail: 'runa@selby.example' })).status).toBe(204);
  const house = (await first.ask<House>('GET', '/api/house')).body;
  expect(house.unkept).toMatchObject([{ id, title: 'Left alone', members: [] }]);
  expect((await first.ask('PUT', `/api/house/unkept/${id}`, { person: maren.id })).status).toBe(204);
  expect((await maren.manuscripts()).map(({ title }) => title)).toEqual(['Left alone']);
  expect((await first.ask('PATCH', `/api/house/people/${runa.id}`, { locked: false })).status).toBe(204);
  await signedIn('runa@selby.example', 'Runa Selby, high and low');
});

test('who leaves is gone; what they wrote stays under their name, or nobody’s; nothing is left without a keeper', async () => {
  const [ann, ben] = [
    await invited(first, 'Ann Brock', 'ann@brock.example'),
    await invited(first, 'Ben Ostler', 'ben@ostler.example'),
  ];
  const written: string[] = [];
  for (const [who, other] of [
    [ann, ben],
    [ben, ann],
  ] as const) {
    const { id } = (await who.ask<{ id: string }>('POST', '/api/manuscripts', { title: `By ${who.id}` })).body;
    const invitation = { role: 'keeper', takesAway: true, invites: false, message: '' };
    const mail = who === ann ? 'ben@ostler.example' : 'ann@brock.example';
    await who.ask('POST', `/api/manuscripts/${id}/invitations`, { ...invitation, mail });
    await other.ask('POST', '/api/invitations/accepted', { token: await tokenIn(other, 'invitation') });
    written.push(id);
  }
  const { id: own } = (await ann.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Of Ann alone' })).body;
  const editor = await new Editor(ann, written[1]!).open();
  await editor.edit((state) => state.tr.insertText('Proposed by Ann. ', 1));
  editor.close();
  const leave = (who: Visitor, password: string, named: boolean) =>
    who.ask('POST', '/api/me/leave', { password, named });
  expect((await leave(ann, 'wrong', true)).status).toBe(403);
  const refused = await leave(ann, 'Ann Brock, high and low', true);
  expect([refused.status, refused.body.message]).toEqual([409, expect.stringMatching(/You alone keep “Of Ann alone”/)]);
  expect((await ann.ask('DELETE', `/api/manuscripts/${own}`)).status).toBe(204);
  expect((await leave(ann, 'Ann Brock, high and low', false)).status).toBe(204);
  expect((await ann.ask('GET', '/api/manuscripts')).status).toBe(401);
  expect(
    (await visitor().ask('POST', '/api/sign-in', { login: 'ann@brock.example', password: 'Ann Brock, high and low' }))
      .status,
  ).toBe(401);
  type Info = { people: { id: string; name: string; role: string | null; standing: string }[] };
  const { people } = (await ben.ask<Info>('GET', `/api/manuscripts/${written[1]!}`)).body;
  expect(people.find(({ id }) => id === ann.id)).toMatchObject({
    name: 'Someone who left',
    role: null,
    standing: 'left',
  });
  const reading = await new Editor(ben, written[1]!).open();
  expect(reading.state.doc.textContent).toBe('Proposed by Ann. ');
  reading.close();
  // Two keepers who leave at once: one of them stays, for somebody must.
  const cem = await invited(first, 'Cem Aydin', 'cem@aydin.example');
  const { id: both } = (await cem.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Of two' })).body;
  const dora = await invited(first, 'Dora Pike', 'dora@pike.example');
  await cem.ask('POST', `/api/manuscripts/${both}/invitations`, {
    ...{ mail: 'dora@pike.example', role: 'keeper', takesAway: true, invites: false, message: '' },
  });
  await dora.ask('POST', '/api/invitations/accepted', { token: await tokenIn(dora, 'invitation') });
  const two = await Promise.all([
    leave(cem, 'Cem Aydin, high and low', true),
    leave(dora, 'Dora Pike, high and low', true),
  ]);
  expect(two.map(({ status }) => status).sort()).toEqual([204, 409]);
  // The last keeper of the house does not leave it while anybody else is in it.
  expect((await leave(first, 'ebb tide 3', true)).body.message).toMatch(/name another keeper of the house first/);
});
