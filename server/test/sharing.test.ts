import type { Group, House, ManuscriptInfo, Sharing } from '@tea-pencil/wire';
import { remarkOf } from '@tea-pencil/core';
import { Editor } from './support/editor';
import { demoPerson, guestOf, linkTo, sharedServer, Visitor } from './support/server';

/** Sharing: members and groups with what they may do, and guests who come by a link. */

let server: Awaited<ReturnType<typeof sharedServer>>;
let ines: Visitor;
let tobias: Visitor;
let maren: Visitor;
let harbour: Visitor;
beforeAll(async () => {
  server = await sharedServer();
  [ines, tobias, maren, harbour] = (await Promise.all(
    ['ines', 'tobias', 'maren', 'harbour'].map((login) => demoPerson(server.address, login)),
  )) as [Visitor, Visitor, Visitor, Visitor];
});
afterAll(() => server.stop());

const begun = async (who: Visitor, title: string) =>
  (await who.ask<{ id: string }>('POST', '/api/manuscripts', { title })).body.id;
const at = (id: string, more: string) => `/api/manuscripts/${id}${more}`;
const give = (by: Visitor, id: string, to: Visitor, rights: object) =>
  by.ask('PUT', at(id, `/members/${to.id}`), rights);
const sharing = async (who: Visitor, id: string) => (await who.ask<Sharing>('GET', at(id, '/sharing'))).body;
const info = async (who: Visitor, id: string) => (await who.ask<ManuscriptInfo>('GET', at(id, ''))).body;
const visitor = () => new Visitor(server.address);

const enter = (token: string, name: string, passphrase: string | null = null) =>
  visitor().ask('POST', '/api/links/entered', { token, name, passphrase });

test('what somebody may do besides their role: take files away, invite others, and no more than they have themselves', async () => {
  const id = await begun(ines, 'Rights');
  expect((await give(ines, id, maren, { role: 'proposer', takesAway: false, invites: true })).status).toBe(204);
  expect(await info(maren, id)).toMatchObject({ role: 'proposer', takesAway: false, invites: true });
  const away = await maren.ask('GET', at(id, '/copies/fair.txt'));
  expect([away.status, away.body.message]).toEqual([403, 'In this manuscript you may not take anything away.']);
  expect((await maren.ask('POST', at(id, '/copy'))).status).toBe(403);
  // Maren invites, but nobody to more than she has, and changes nothing of who is here.
  const more = 'You can invite others to what you may do yourself, and no more.';
  for (const rights of [
    { role: 'decider' },
    { role: 'remarker', takesAway: true },
    { role: 'reader', takesAway: false, invites: true },
  ])
    expect((await give(maren, id, harbour, rights)).body.message).toBe(more);
  expect((await give(maren, id, harbour, { role: 'remarker', takesAway: false })).status).toBe(204);
  expect((await give(maren, id, ines, { role: 'reader', takesAway: false })).body.message).toMatch(
    /Only a keeper changes/,
  );
  expect((await give(maren, id, harbour, { role: 'proposer', takesAway: false })).status).toBe(403);
  expect((await give(harbour, id, tobias, { role: 'reader' })).status).toBe(403);
  expect((await maren.ask('DELETE', at(id, `/members/${harbour.id}`))).status).toBe(403);
  // Addresses she has written to she sees; those of others only keepers do.
  const invite = (who: Visitor, mail: string) =>
    who.ask('POST', at(id, '/invitations'), { mail, role: 'reader', takesAway: false, invites: false, message: '' });
  await invite(maren, 'a@rights.example');
  await invite(ines, 'b@rights.example');
  const seen = async (who: Visitor) => (await sharing(who, id)).invitations.map(({ mail }) => mail);
  expect([await seen(ines), await seen(maren), await seen(harbour)]).toEqual([
    ['a@rights.example', 'b@rights.example'],
    ['a@rights.example'],
    [],
  ]);
  const [hers, other] = (await sharing(ines, id)).invitations;
  expect((await maren.ask('DELETE', at(id, `/invitations/${other!.id}`))).status).toBe(404);
  expect((await maren.ask('DELETE', at(id, `/invitations/${hers!.id}`))).status).toBe(204);
  // Anybody can go by themselves, but not the last keeper.
  expect((await harbour.ask('DELETE', at(id, `/members/${harbour.id}`))).status).toBe(200);
  expect((await harbour.ask('GET', at(id, ''))).status).toBe(404);
  expect((await ines.ask('DELETE', at(id, `/members/${ines.id}`))).body.message).toMatch(/needs a keeper/);
});

test('two keepers who take each other off: one is gone, the other keeps it', async () => {
  for (let i = 0; i < 5; i++) {
    const id = await begun(ines, `Two keepers ${i}`);
    await give(ines, id, tobias, { role: 'keeper' });
    await give(ines, id, maren, { role: 'keeper' }); // a third, so that somebody would always be left
    const answers = await Promise.all([
      ines.ask('DELETE', at(id, `/members/${tobias.id}`)),
      tobias.ask('DELETE', at(id, `/members/${ines.id}`)),
    ]);
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 404]);
    const left = await sharing(maren, id);
    expect(left.members.filter(({ role }) => role === 'keeper')).toHaveLength(2);
  }
});

test('what one may do changes on open screens at once, and what one has open closes', async () => {
  const id = await begun(ines, 'At once');
  await give(ines, id, maren, { role: 'decider' });
  const editor = await new Editor(maren, id).open();
  const told = new Promise((done) => editor.socket.once('changed', done));
  await give(ines, id, maren, { role: 'reader' });
  expect(await told).toEqual({ manuscript: id, what: 'people' });
  expect((await editor.edit((state) => state.tr.insertText('x', 1))).refused).toBe(
    'You may not change this manuscript.',
  );
  const removed = new Promise((done) => editor.socket.once('removed', done));
  await ines.ask('DELETE', at(id, `/members/${maren.id}`));
  expect(await removed).toMatchObject({ manuscript: id });
  const steps: unknown[] = [];
  editor.socket.on('steps', (message: unknown) => steps.push(message));
  const writer = await new Editor(ines, id).open();
  await writer.edit((state) => state.tr.insertText('Not for Maren. ', 1), 'ink');
  expect((await editor.ask('join', {})).refused).toMatch(/no such manuscript/);
  expect(steps).toEqual([]);
  writer.close();
  editor.close();
});

test('two who change a part of what somebody may do at the same moment both have their way; who takes off hears what that was', async () => {
  const id = await begun(ines, 'Part by part');
  await give(ines, id, tobias, { role: 'keeper' });
  await give(ines, id, maren, { role: 'remarker', takesAway: true, invites: false });
  const both = await Promise.all([
    give(ines, id, maren, { role: 'proposer' }),
    give(tobias, id, maren, { takesAway: false }),
  ]);
  expect(both.map(({ status }) => status)).toEqual([204, 204]);
  const has = { role: 'proposer', takesAway: false, invites: false };
  expect(await info(maren, id)).toMatchObject(has);
  const off = await ines.ask('DELETE', at(id, `/members/${maren.id}`));
  expect([off.status, off.body]).toEqual([200, { had: has }]);
  // A part alone brings nobody back who was taken off meanwhile.
  const late = await give(tobias, id, maren, { takesAway: true });
  expect([late.status, late.body.message]).toEqual([400, expect.stringMatching(/not here any more/)]);
  expect((await maren.ask('GET', at(id, ''))).status).toBe(404);
  const group = await ines.ask<{ id: string }>('POST', '/api/groups', { name: 'Part by part', people: [maren.id] });
  const path = at(id, `/groups/${group.body.id}`);
  expect((await ines.ask('PUT', path, { takesAway: false })).status).toBe(400);
  expect((await ines.ask('PUT', path, { role: 'proposer', takesAway: false })).status).toBe(204);
  await Promise.all([ines.ask('PUT', path, { role: 'reader' }), tobias.ask('PUT', path, { invites: true })]);
  expect((await tobias.ask('DELETE', path)).body).toEqual({ had: { role: 'reader', takesAway: false, invites: true } });
});

test('a group has what it is given in every manuscript, for whoever is in it just then; nobody keeps one by a group', async () => {
  const id = await begun(tobias, 'For the readers');
  const make = (who: Visitor, people: Visitor[], name = 'The readers of the series') =>
    who.ask<{ id: string }>('POST', '/api/groups', { name, people: people.map((one) => one.id) });
  const group = (await make(tobias, [maren, harbour])).body.id;
  const rights = { role: 'remarker', takesAway: false, invites: false };
  expect((await tobias.ask('PUT', at(id, `/groups/${group}`), { ...rights, role: 'keeper' })).body.message).toMatch(
    /cannot keep/,
  );
  expect((await tobias.ask('PUT', at(id, `/groups/${group}`), rights)).status).toBe(204);
  expect(await info(maren, id)).toMatchObject({ role: 'remarker', takesAway: false });
  expect((await sharing(maren, id)).groups).toMatchObject([
    { group, name: 'The readers of the series', role: 'remarker' },
  ]);
  // Somebody with more of their own has it; with less they have what the group has.
  await give(tobias, id, harbour, { role: 'proposer', takesAway: true });
  expect(await info(harbour, id)).toMatchObject({ role: 'proposer', takesAway: true });
  expect((await tobias.ask('DELETE', at(id, `/members/${harbour.id}`))).body.message).toMatch(/here with the group/);
  // Out of the group: out of the manuscript, on open screens too.
  const editor = await new Editor(maren, id).open();
  const removed = new Promise((done) => editor.socket.once('removed', done));
  await tobias.ask('PUT', `/api/groups/${group}`, { name: 'The readers', people: [harbour.id] });
  expect(await removed).toMatchObject({ manuscript: id });
  editor.close();
  expect((await maren.ask('GET', at(id, ''))).status).toBe(404);
  expect((await info(tobias, id)).people.find((one) => one.id === maren.id)).toMatchObject({ role: null });
  // A group is its maker’s, who puts in it only people they know; keepers of the house look after all.
  const alba = await demoPerson(server.address, 'alba');
  const ofMaren = (await make(maren, [harbour], 'Of Maren')).body.id;
  expect((await alba.ask('PUT', `/api/groups/${ofMaren}`, { name: 'x', people: [] })).status).toBe(404);
  expect((await alba.ask('DELETE', `/api/groups/${ofMaren}`)).status).toBe(404);
  const hers = (await alba.ask<Group[]>('GET', '/api/groups')).body.map(({ id }) => id);
  expect(hers).not.toEqual(expect.arrayContaining([group]));
  expect(hers).not.toEqual(expect.arrayContaining([ofMaren]));
  expect((await tobias.ask<Group[]>('GET', '/api/groups')).body.map(({ name }) => name)).toEqual(
    expect.arrayContaining(['Of Maren', 'The readers']),
  );
  const stranger = await maren.ask('POST', '/api/groups', { name: 'Strangers', people: ['nobody'] });
  expect([stranger.status, stranger.body.message]).toEqual([400, expect.stringMatching(/not known to you/)]);
  const another = await begun(ines, 'Of Ines');
  expect((await ines.ask('PUT', at(another, `/groups/${ofMaren}`), rights)).status).toBe(404);
  expect((await tobias.ask('DELETE', `/api/groups/${group}`)).status).toBe(204);
  expect(await info(harbour, id)).toMatchObject({ role: 'proposer' });
  expect((await sharing(tobias, id)).groups).toEqual([]);
});

test('a guest link: a name nobody has, a passphrase, so many uses, a time; each with its sentence', async () => {
  const id = await begun(ines, 'For the harbour');
  const told = (token: string) => visitor().ask('POST', '/api/links/told', { token });
  const open = await linkTo(ines, id, { role: 'remarker' });
  expect((await told(open)).body).toEqual({
    title: 'For the harbour',
    by: 'Ines Vega',
    role: 'remarker',
    passphrase: false,
  });
  for (const token of ['', 'no.thing', `${open}x`, open.slice(0, -1), `${open.split('.')[0]}.x`])
    expect([token, (await told(token)).status >= 400]).toEqual([token, true]);
  expect((await enter(open, 'lnes Vega')).body.message).toMatch(/called so already/); // with a small L
  expect((await enter(open, '\u200b')).status).toBe(400);
  expect((await enter(open, 'Jo at the harbour')).status).toBe(200);
  expect((await enter(open, 'JO at the harbour')).status).toBe(409);
  // Only who is in this manuscript has a name taken: nobody learns by trying who else is in the house.
  expect((await enter(open, 'Maren Holt')).status).toBe(200);
  const locked = await linkTo(ines, id, { role: 'reader', passphrase: 'slack water' });
  expect((await told(locked)).body).toEqual({ title: null, by: '', role: 'reader', passphrase: true });
  expect((await enter(locked, 'Piet', 'high water')).body.message).toBe('This is not the passphrase of the link.');
  expect((await enter(locked, 'Piet', 'slack water')).status).toBe(200);
  for (let i = 0; i < 9; i++) await enter(locked, `Try ${i}`, 'high water');
  const tooOften = await enter(locked, 'Runa', 'slack water');
  expect([tooOften.status, tooOften.body.message]).toEqual([429, expect.stringMatching(/quarter of an hour/)]);
  const once = await linkTo(ines, id, { role: 'reader', mostUses: 1 });
  const two = await Promise.all([enter(once, 'First'), enter(once, 'Second')]);
  expect(two.map(({ status }) => status).sort()).toEqual([200, 410]);
  expect((await told(once)).body.message).toMatch(/as often as it may be/);
  const over = await linkTo(ines, id, { role: 'reader', endsAt: new Date(Date.now() + 1500).toISOString() });
  await new Promise((done) => setTimeout(done, 1600));
  expect((await enter(over, 'Late')).body.message).toMatch(/time of this link is over/);
  const past = { name: 'Past', role: 'reader', passphrase: null, endsAt: '2026-01-01T00:00:00.000Z', mostUses: null };
  expect((await ines.ask('POST', at(id, '/links'), past)).body.message).toMatch(/must lie ahead/);
  const roles = await ines.ask('POST', at(id, '/links'), {
    ...{ name: 'Too much', role: 'decider', passphrase: null, endsAt: null, mostUses: null },
  });
  expect(roles.status).toBe(400);
  const { links } = await sharing(ines, id);
  expect(links.map(({ guests, ended }) => [guests.map(({ name }) => name), ended])).toEqual([
    [['Jo at the harbour', 'Maren Holt'], null],
    [['Piet'], null],
    [[expect.stringMatching(/First|Second/)], 'used up'],
    [[], 'over'],
  ]);
});

test('a guest remarks under their name, sees one manuscript and nothing else; the end of its time closes it', async () => {
  const id = await begun(ines, 'One manuscript');
  const other = await begun(ines, 'Another');
  const writer = await new Editor(ines, id).open();
  await writer.edit((state) => state.tr.insertText('Slack water at noon. ', 1), 'ink');
  const endsAt = new Date(Date.now() + 3000).toISOString();
  const guest = await guestOf(ines, id, { role: 'proposer', name: 'Jo', endsAt });
  const { me } = (await guest.ask<{ me: { guest: object; name: string } }>('GET', '/api/me')).body;
  expect(me).toMatchObject({ name: 'Jo', standing: 'guest', guest: { manuscript: id, until: endsAt, ended: null } });
  const editor = await new Editor(guest, id).open();
  expect((await editor.edit((state) => state.tr.insertText('Neap. ', 1))).taken).toBe(true);
  expect((await editor.edit((state) => state.tr.insertText('Ink. ', 1), 'ink')).refused).toMatch(/may not use ink/);
  const thread = { id: 'of-jo', whole: true, comment: { id: 'of-jo-c', body: remarkOf('Which groyne?') } };
  expect((await guest.ask('POST', at(id, '/threads'), thread)).status).toBe(204);
  const seen = await info(ines, id);
  expect(seen.people.find((one) => one.name === 'Jo')).toMatchObject({
    standing: 'guest',
    role: 'proposer',
    note: 'guest',
  });
  for (const [method, path] of [
    ['GET', '/api/manuscripts'],
    ['POST', '/api/manuscripts'],
    ['GET', '/api/people'],
    ['GET', '/api/post'],
    ['GET', '/api/groups'],
    ['GET', '/api/house'],
    ['GET', '/api/outbox'],
    ['GET', '/api/manuscripts/found'],
    ['GET', '/api/manuscripts/here'],
  ] as const)
    expect([path, (await guest.ask(method, path, method === 'POST' ? { title: 'x' } : undefined)).status]).toEqual([
      path,
      403,
    ]);
  expect((await guest.ask('GET', at(other, ''))).status).toBe(404);
  expect((await guest.ask('GET', `/api/people/${tobias.id}/portrait`)).body).toEqual(
    (await guest.ask('GET', '/api/people/nobody/portrait')).body,
  );
  const known = JSON.stringify((await guest.ask('GET', at(id, ''))).body);
  for (const name of ['Tobias', 'Maren', 'Alba', '@']) expect(known).not.toContain(name);
  const tooMuch = await guest.ask('PATCH', '/api/me', { mail: 'jo@harbour.example' });
  expect([tooMuch.status, tooMuch.body.message]).toEqual([403, 'A guest has a name here, and nothing else.']);
  expect((await guest.ask('PATCH', '/api/me', { name: 'Ines Vega' })).status).toBe(409);
  expect((await guest.ask('PATCH', '/api/me', { name: 'Jo of the harbour' })).status).toBe(204);
  expect((await ines.ask('PUT', at(id, `/members/${guest.id}`), { role: 'keeper' })).body.message).toMatch(
    /goes by their link/,
  );
  // Nobody ends it: its time is over.
  const removed = new Promise<{ refused: string }>((done) => editor.socket.once('removed', done));
  expect((await removed).refused).toMatch(/link by which you came has ended/);
  expect(Date.now()).toBeGreaterThanOrEqual(Date.parse(endsAt));
  expect((await editor.edit((state) => state.tr.insertText('Late. ', 1))).refused).toMatch(/no such manuscript/);
  expect((await guest.ask<{ me: { guest: { ended: string } } }>('GET', '/api/me')).body.me.guest.ended).toMatch(
    /has ended/,
  );
  const after = await info(ines, id);
  expect(after.people.find((one) => one.name === 'Jo of the harbour')).toMatchObject({ role: null, standing: 'guest' });
  writer.close();
  editor.close();
});

test('a guest who is taken off is gone though the link holds; keepers of the house end any link', async () => {
  const id = await begun(ines, 'Taken off');
  const guest = await guestOf(ines, id, { role: 'reader', name: 'Jo' });
  expect((await guest.ask('GET', at(id, ''))).status).toBe(200);
  expect((await ines.ask('DELETE', at(id, `/members/${guest.id}`))).status).toBe(200);
  expect((await guest.ask('GET', at(id, ''))).status).toBe(404);
  const { links } = (await tobias.ask<House>('GET', '/api/house')).body;
  const link = links.find(({ title }) => title === 'Taken off')!;
  expect(link).toMatchObject({ byName: 'Ines Vega', role: 'reader', guests: 0 });
  expect((await ines.ask('DELETE', `/api/house/links/${link.id}`)).status).toBe(403);
  expect((await tobias.ask('DELETE', `/api/house/links/${link.id}`)).status).toBe(204);
  expect((await sharing(ines, id)).links[0]).toMatchObject({ ended: 'ended' });
});

test('what one who may give no more has given holds nothing: an invitation that waits, and a link with its guests', async () => {
  const { id } = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Given and lost' })).body;
  await ines.ask('PUT', at(id, `/members/${tobias.id}`), { role: 'keeper' });
  const link = await linkTo(tobias, id, { role: 'proposer' });
  const guest = await guestOf(tobias, id, { role: 'proposer', name: 'Nim' });
  expect((await guest.ask('GET', at(id, ''))).status).toBe(200);
  await ines.ask('PUT', at(id, `/members/${tobias.id}`), { role: 'reader' });
  expect((await guest.ask('GET', at(id, ''))).status).toBe(404);
  expect((await enter(link, 'Runa')).status).toBe(410);
  await ines.ask('PUT', at(id, `/members/${tobias.id}`), { role: 'keeper' });
  expect((await enter(link, 'Runa')).status).toBe(410);
});

test('right passphrases are not counted: a class of forty behind one address comes in', async () => {
  const { id } = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'A class' })).body;
  const link = await linkTo(ines, id, { role: 'proposer', passphrase: 'slack water' });
  const names = Array.from({ length: 40 }, (_, i) => `Pupil ${'abcdefghijklmnopqrstuvwxyz'[i % 26]}${i}`);
  const answers = await Promise.all(names.map((name) => enter(link, name, 'slack water')));
  expect(answers.map(({ status }) => status)).toEqual(names.map(() => 200));
});

test('a title holds no sign that turns the direction of what stands around it', async () => {
  const { status, body } = await ines.ask('POST', '/api/manuscripts', { title: 'The \u202eebb\u202c tide' });
  expect([status, body.message]).toEqual([400, expect.stringMatching(/turn the direction/)]);
});
