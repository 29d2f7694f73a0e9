import { listChanges, remarkOf } from '@tea-pencil/core';
import type { Role, Sharing } from '@tea-pencil/wire';
import { bundles, roles, talkActs, type Act, type Relation, type TalkAct } from '../src/policy/acts';
import { messages, routes, type Access } from '../src/policy/table';
import { Editor } from './support/editor';
import { demoPerson, guestOf, Visitor } from './support/server';
import {
  answers,
  ask,
  everyone,
  file,
  houseKeeper,
  id,
  isGuest,
  notForGuests,
  notThere,
  only,
  people,
  pixel,
  roleOf,
  server,
  type Who,
} from './support/whole-table';

/**
 * The whole table of who may do what, walked by one person of every role, a guest of every role, one who is no member, and
 * one not signed in; and once more where a link has ended, an account is locked, a manuscript is sealed or deleted.
 */

let n = 0;

test('every route the server has stands in the table, and no other', async () => {
  type Paths = { paths: Record<string, Record<string, unknown>> };
  const { body } = await people.nobody.ask<Paths>('GET', '/api/docs-json');
  const there = Object.entries(body.paths).flatMap(([path, methods]) =>
    Object.keys(methods).map((method) => `${method.toUpperCase()} ${path.replace(/\{(\w+)\}/g, ':$1')}`),
  );
  expect([...there].sort()).toEqual(Object.keys(routes).sort());
});

// Signing in and out changes who one is, and deleting and sealing what there is; those have tests of their own.
const walked = Object.entries(routes).filter(
  ([route]) => !/sign-in(\/demo)?$|sign-out|\/seal|^DELETE \/api\/manuscripts\/:id$/.test(route),
);

function mayUse(who: Who, route: string, access: Access): boolean {
  if (access === 'anyone') return true;
  if (who === 'nobody') return false;
  if (access === 'known') return true;
  if (access === 'account') return !isGuest(who);
  if (access === 'house keeper') return who === houseKeeper;
  if (only[route]) return only[route].includes(who);
  return bundles[roleOf(who)!].has(access.act) && !(isGuest(who) && notForGuests.includes(access.act));
}

test.each(walked)('%s is for: %j', async (route, access) => {
  const wrong: string[] = [];
  for (const who of everyone.filter((each) => each !== 'outsider')) {
    const { status } = await ask(people[who], route);
    const may = mayUse(who, route, access);
    const good = answers[route] ? status === answers[route] : status >= 200 && status < 300;
    const refused = who === 'nobody' ? status === 401 : status === 403;
    if (may ? !good : !refused) wrong.push(`${who}: ${status}`);
    // Whom the walk has taken off comes back for the next route.
    if (route.startsWith('DELETE') && may)
      await people.keeper.ask('PUT', `/api/manuscripts/${id}/members/${people.reader.id}`, { role: 'reader' });
  }
  expect(wrong).toEqual([]);
});

/** All that can be asked about a manuscript, with what is answered; what it would change is not kept from changing. */
async function answersAbout(who: Visitor, manuscript: string): Promise<[string, number, unknown][]> {
  const found: [string, number, unknown][] = [];
  for (const [route] of Object.entries(routes).filter(([path]) => path.includes(':id'))) {
    const { status, body } = await ask(who, route, manuscript);
    found.push([route, status, body]);
  }
  return found;
}

test('a guest whose link has ended, and whoever is locked out, finds nothing, on no route and over no live message', async () => {
  const { keeper } = people;
  const guest = await guestOf(keeper, id, { role: 'proposer', name: 'Jo at the harbour' });
  const { body: sharing } = await keeper.ask<Sharing>('GET', `/api/manuscripts/${id}/sharing`);
  const { id: link } = sharing.links.find(({ guests }) => guests.some(({ name }) => name === 'Jo at the harbour'))!;
  const open = await new Editor(guest, id).open();
  const closed = new Promise<{ refused: string }>((done) => open.socket.once('removed', done));
  expect((await keeper.ask('DELETE', `/api/manuscripts/${id}/links/${link}`)).status).toBe(204);
  expect((await closed).refused).toMatch(/^The link by which you came has ended/);
  expect(await answersAbout(guest, id)).toEqual(
    (await answersAbout(people.outsider, 'nowhere')).map((one) => [one[0], 404, one[2]]),
  );
  const join = await open.ask('join', {});
  const edit = await open.edit((state) => state.tr.insertText('x', 1));
  expect([join.refused, edit.refused]).toEqual([notThere, notThere]);
  open.close();
  // Somebody of the house, locked out by Tobias: each of their sessions is over.
  const { maren } = { maren: await demoPerson(server.address, 'maren') };
  const live = await new Editor(maren, id).open();
  const told = new Promise((done) => live.socket.once('signed-out', () => done('told')));
  const lock = (locked: boolean) => people.decider.ask('PATCH', `/api/house/people/${maren.id}`, { locked });
  expect((await lock(true)).status).toBe(204);
  expect(await told).toBe('told');
  expect((await answersAbout(maren, id)).map(([route, status]) => [route, status])).toEqual(
    (await answersAbout(people.nobody, id)).map(([route]) => [route, 401]),
  );
  expect((await maren.ask('POST', '/api/sign-in', { login: 'maren', password: 'low water' })).status).toBe(401);
  expect((await maren.ask('POST', '/api/sign-in/demo', { person: maren.id })).status).toBe(404);
  expect((await lock(false)).status).toBe(204);
  people.proposer = await demoPerson(server.address, 'maren');
});

test('a seal closes ink and decisions to everyone, keepers included, and where it says so withdrawing too', async () => {
  const { keeper } = people;
  const at = `/api/manuscripts/${id}`;
  const passphrase = 'slack water';
  for (const mayWithdraw of [true, false]) {
    const writing = await new Editor(people.proposer, id).open();
    await writing.edit((state) => state.tr.insertText('Sealed words. ', 1));
    const own = listChanges(writing.state.doc).find(({ author }) => author === people.proposer.id)!;
    const before = await new Editor(keeper, id).open();
    await before.edit((state) => state.tr.insertText('Decided words. ', 1));
    const [mine] = listChanges(before.state.doc).filter(({ author }) => author === keeper.id);
    const { decision } = await before.ask('decide', { changes: [mine!.id], verdict: 'accept', client: before.client });
    for (const role of roles) {
      const status = (await people[role].ask('PUT', `${at}/seal`, { passphrase, mayWithdraw })).status;
      expect([role, status]).toEqual([role, role === 'keeper' ? 204 : 403]);
    }
    expect((await keeper.ask('PUT', `${at}/seal`, { passphrase, mayWithdraw })).body.message).toMatch(/sealed already/);
    expect((await keeper.ask('DELETE', at)).body.message).toMatch(/Lift the seal/);
    for (const role of roles) {
      const editor = await new Editor(people[role], id).open();
      const { client } = editor;
      const ink = await editor.edit((state) => state.tr.insertText('i', 1), 'ink');
      const accept = await editor.ask('decide', { changes: [own.id], verdict: 'accept', client });
      const back = await editor.ask('takeBack', { decision, client });
      expect([role, ink.refused, accept.refused, back.refused]).toEqual([
        role,
        expect.stringMatching(/sealed|^You may not change/),
        expect.stringMatching(/sealed/),
        expect.stringMatching(/sealed|You may not|In this manuscript you may not/),
      ]);
      const pencil = await editor.edit((state) => state.tr.insertText('p', 1));
      expect([role, !pencil.refused]).toEqual([role, bundles[role].has('write in pencil')]);
      editor.close();
    }
    const withdrawn = await writing.ask('decide', { changes: [own.id], verdict: 'reject', client: writing.client });
    expect([mayWithdraw, !withdrawn.refused]).toEqual([mayWithdraw, mayWithdraw]);
    if (mayWithdraw) {
      const again = await writing.ask('takeBack', { decision: withdrawn.decision, client: writing.client });
      expect(again.refused).toBeUndefined();
    }
    for (const role of roles) {
      const wrong = await people[role].ask('POST', `${at}/seal/lifted`, { passphrase: 'high water' });
      expect([role, wrong.status]).toEqual([role, 403]);
    }
    const right = await people.decider.ask('POST', `${at}/seal/lifted`, { passphrase });
    expect(right.status).toBe(403); // knows it, and is no keeper
    expect((await keeper.ask('POST', `${at}/seal/lifted`, { passphrase })).status).toBe(204);
    expect((await keeper.ask('POST', `${at}/seal/lifted`, { passphrase })).body.message).toMatch(/is not sealed/);
    const taken = await before.ask('takeBack', { decision, client: before.client });
    expect(taken.refused).toBeUndefined();
    writing.close();
    before.close();
  }
});

test('deleting is for keepers; what is deleted is nowhere to everyone, and comes back by a keeper alone', async () => {
  for (const role of roles.slice(0, -1))
    expect([role, (await people[role].ask('DELETE', `/api/manuscripts/${id}`)).status]).toEqual([role, 403]);
  const open = await new Editor(people.proposer, id).open();
  const closed = new Promise<{ refused: string }>((done) => open.socket.once('removed', done));
  expect((await people.keeper.ask('DELETE', `/api/manuscripts/${id}`)).status).toBe(204);
  expect((await closed).refused).toMatch(/^Ines Vega has deleted this manuscript/);
  for (const who of everyone.filter((one) => one !== 'nobody')) {
    const { status } = await people[who].ask('GET', `/api/manuscripts/${id}`);
    expect([who, status]).toEqual([who, 404]);
  }
  expect((await open.ask('join', {})).refused).toBe(notThere);
  open.close();
  for (const role of roles) {
    const { status } = await people[role].ask('POST', `/api/deleted/${id}/back`);
    expect([role, status]).toEqual([role, role === 'keeper' ? 204 : 404]);
  }
  expect((await people.reader.ask('GET', `/api/manuscripts/${id}`)).status).toBe(200);
});

test('what is no member’s answers like what is nowhere, on every route about a manuscript', async () => {
  const { body } = await people.keeper.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Closed' });
  for (const [route] of Object.entries(routes).filter(([path]) => path.includes(':id'))) {
    const closed = await ask(people.outsider, route, body.id);
    const nowhere = await ask(people.outsider, route, 'nowhere');
    expect([route, closed.status, closed.body]).toEqual([route, 404, nowhere.body]);
  }
  const picture = await people.keeper.ask<{ asset: string }>(
    'POST',
    `/api/manuscripts/${body.id}/pictures`,
    file('p.png', pixel),
  );
  const closed = await people.outsider.ask('GET', `/api/assets/${picture.body.asset}`);
  expect([closed.status, closed.body]).toEqual([404, (await people.outsider.ask('GET', '/api/assets/nowhere')).body]);
});

test('what may be done to talk that is there goes by whose it is, as the table says', async () => {
  const { keeper, decider, proposer, remarker } = people;
  const path = `/api/manuscripts/${id}/threads`;
  const made = async (author: Visitor, more: object = {}) => {
    const own = { id: `act${++n}`, comment: { id: `act-c${n}`, body: remarkOf('x'), query: { to: remarker.id } } };
    const whole = 'at' in more ? {} : { whole: true };
    expect((await author.ask('POST', path, { ...own, ...whole, ...more })).status).toBe(204);
    return { at: `${path}/${own.id}`, comment: `${path}/${own.id}/comments/${own.comment.id}` };
  };
  const writer = await new Editor(keeper, id).open();
  await writer.edit((state) => state.tr.insertText('Words to talk about. ', 1), 'ink');
  const words = () => ({ version: writer.version, from: 1, to: 6 });
  const acts: Record<TalkAct, (author: Visitor, who: Visitor) => Promise<number>> = {
    'see a note to oneself': async (author, who) => {
      const { at } = await made(author, { toSelf: true, comment: { id: `n${++n}`, body: remarkOf('mine') } });
      return (await who.ask('PATCH', at, { resolved: true })).status;
    },
    'change a comment': async (author, who) =>
      (await who.ask('PATCH', (await made(author)).comment, { body: remarkOf('y') })).status,
    'delete a comment': async (author, who) =>
      (await who.ask('PATCH', (await made(author)).comment, { deleted: true })).status,
    'settle a query': async (author, who) =>
      (await who.ask('PATCH', `${(await made(author)).comment}/query`, { settled: true })).status,
    'move a thread from its words': async (author, who) =>
      (await who.ask('PUT', `${(await made(author, { at: words() })).at}/place`, words())).status,
    'change a tint': async (author, who) =>
      (await who.ask('PATCH', (await made(author, { tint: 'sky' })).at, { tint: 'clay' })).status,
  };
  const asking: [Visitor, Role, Relation[]][] = [
    [keeper, 'keeper', []],
    [decider, 'decider', []],
    [proposer, 'proposer', ['author']],
    [remarker, 'remarker', ['asked']],
  ];
  for (const [act, { by, or }] of Object.entries(talkActs) as [TalkAct, { by: Relation[]; or: Act | null }][]) {
    for (const [who, role, is] of asking) {
      const may = is.some((one) => by.includes(one)) || (or !== null && bundles[role].has(or));
      const refused = act === 'see a note to oneself' ? 404 : 403;
      expect([act, role, await acts[act](proposer, who)]).toEqual([act, role, may ? 204 : refused]);
    }
  }
  writer.close();
});

test('every live message is for those whom the table names', async () => {
  const { keeper } = people;
  const open = async (who: Visitor) => new Editor(who, id).open();
  const writer = await open(keeper);
  const own = await open(people.proposer);
  await writer.edit((state) => state.tr.insertText('Words.', 1), 'ink');
  const refused = async (who: Who, act: string): Promise<boolean> => {
    const editor = await open(people[who]);
    const { client } = editor;
    const lastOf = async (author: Visitor) => {
      const typing = author === keeper ? writer : own;
      await typing.edit((state) => state.tr.insertText('word ', 1));
      const changes = listChanges(typing.state.doc);
      return changes.filter((change) => change.author === author.id).at(-1)!.id;
    };
    const attempt = async () => {
      switch (act) {
        case 'read':
          return (await editor.ask('join', {})).refused ? editor.ask('join', {}) : editor.ask('leave', {});
        case 'write in pencil':
          return editor.edit((state) => state.tr.insertText('p', 1));
        case 'write in ink':
          return editor.edit((state) => state.tr.insertText('i', 1), 'ink');
        case 'decide':
          return editor.ask('decide', { changes: [await lastOf(keeper)], verdict: 'accept', client });
        case 'withdraw own changes':
          return editor.ask('decide', { changes: [await lastOf(people[who])], verdict: 'reject', client });
        case 'take back decisions': {
          const { decision } = await writer.ask('decide', {
            changes: [await lastOf(keeper)],
            verdict: 'accept',
            client: writer.client,
          });
          return editor.ask('takeBack', { decision, client });
        }
        default: {
          const { decision } = await editor.ask('decide', {
            changes: [await lastOf(people[who])],
            verdict: 'reject',
            client,
          });
          return editor.ask('takeBack', { decision, client });
        }
      }
    };
    const answer = await attempt();
    editor.close();
    return !!answer.refused;
  };
  // Those who may not write have nothing of their own to withdraw or to take back.
  for (const act of new Set<Act>(Object.values(messages).flat())) {
    const asking = act.includes('own') ? (['proposer'] as const) : roles;
    for (const who of asking) expect([act, who, await refused(who, act)]).toEqual([act, who, !bundles[who].has(act)]);
  }
  writer.close();
  own.close();
});
