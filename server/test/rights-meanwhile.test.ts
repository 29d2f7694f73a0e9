import { Client } from 'pg';
import { listChanges } from '@tea-pencil/core';
import type { Role } from '@tea-pencil/wire';
import { routes } from '../src/policy/table';
import { Editor } from './support/editor';
import { giveRole, meanwhile as inTurn } from './support/meanwhile';
import { answers, ask, bodies, id, people, server, type Who } from './support/whole-table';

/**
 * The second dimension of the table of who may do what: rights that change while something waits for its turn. Whatever
 * is ordered after the change is refused, on every route that writes for others and on every live message.
 */

const database = new Client({ connectionString: process.env.TEA_PENCIL_TEST_DATABASE });
beforeAll(() => database.connect());
afterAll(() => database.end());

const meanwhile = <T>(act: () => Promise<T>, change: (holder: Client) => Promise<unknown>) => inTurn(id, act, change);
const demote = (who: Who, role: Role) => (client: Client) => giveRole(id, people[who].id, role)(client);
const restore = (who: Who, role: Role) => demote(who, role)(database);

/** What is only one's own: how one looks at a manuscript, one's own words, one's own leaving, one's place on the desk. */
const own = /\/(view|hue|desk|words|words\/:word|members\/:person|decided-at)$/;
/** What makes something new from what one may read, or only asks. */
const elsewhere = /\/(copy|pictures\/copy)$/;
const writing = Object.entries(routes).filter(
  ([route, access]) =>
    typeof access === 'object' &&
    !route.startsWith('GET') &&
    route.includes('/manuscripts/:id') &&
    !own.test(route) &&
    !elsewhere.test(route) &&
    !(route in answers) &&
    !/seal|^DELETE \/api\/manuscripts\/:id$/.test(route),
);

test('there are such routes, and each is tried', () => {
  expect(writing.length).toBeGreaterThan(15);
  for (const [route] of writing)
    if (!route.startsWith('DELETE')) expect([route, route in bodies || /last-look/.test(route)]).toEqual([route, true]);
});

test.each(writing.map(([route]) => [route]))(
  '%s is refused to a keeper who is made a reader while it waits',
  async (route) => {
    const { status, body } = await meanwhile(() => ask(people.keeper, route), demote('keeper', 'reader'));
    await restore('keeper', 'keeper');
    // What takes long says that it could not be done, and why; all else is closed.
    expect([status === 409 ? 403 : status, typeof body.message]).toEqual([403, 'string']);
  },
);

test.each([
  ['sealing', () => people.keeper.ask('PUT', `/api/manuscripts/${id}/seal`, { passphrase: 'low', mayWithdraw: true })],
  ['deleting', () => people.keeper.ask('DELETE', `/api/manuscripts/${id}`)],
])('%s is refused to a keeper who is made a reader while it waits', async (_, act) => {
  const { status } = await meanwhile<{ status: number }>(act, demote('keeper', 'reader'));
  await restore('keeper', 'keeper');
  expect(status).toBe(403);
});

describe('live messages', () => {
  const seal = (mayWithdraw: boolean) => (holder: Client) =>
    holder.query(
      `INSERT INTO seals (manuscript_id, id, sealed_by, may_withdraw, hash) VALUES ($1, 'meanwhile', $2, $3, 'x')`,
      [id, people.keeper.id, mayWithdraw],
    );
  const lift = () => database.query('DELETE FROM seals WHERE manuscript_id = $1', [id]);
  const pencilOnly = (holder: Client) =>
    holder.query('UPDATE manuscripts SET everyone_in_pencil = true WHERE id = $1', [id]);
  const lock = (holder: Client) =>
    holder.query('UPDATE people SET locked_at = now() WHERE id = $1', [people.decider.id]);
  const states: [string, (holder: Client) => Promise<unknown>, () => Promise<unknown>][] = [
    ['made a reader', demote('decider', 'reader'), () => restore('decider', 'decider')],
    ['a manuscript is sealed', seal(true), lift],
    ['a manuscript is sealed to withdrawing too', seal(false), lift],
    [
      'everyone is put in pencil',
      pencilOnly,
      () => database.query('UPDATE manuscripts SET everyone_in_pencil = false WHERE id = $1', [id]),
    ],
    ['their account is locked', lock, () => database.query('UPDATE people SET locked_at = NULL')],
    [
      'the manuscript is deleted',
      (holder) => holder.query('UPDATE manuscripts SET deleted_at = now() WHERE id = $1', [id]),
      () => database.query('UPDATE manuscripts SET deleted_at = NULL WHERE id = $1', [id]),
    ],
  ];
  /** Which of the messages each state leaves open. */
  const open: Record<string, string[]> = {
    'a manuscript is sealed': ['pencil'],
    'a manuscript is sealed to withdrawing too': ['pencil'],
    'everyone is put in pencil': ['pencil', 'decide', 'takeBack'],
  };

  test.each(states)('none is taken that is not allowed any more: %s', async (name, change, back) => {
    const editor = await new Editor(people.decider, id).open();
    const write = (intent: 'pencil' | 'ink') => () => editor.edit((state) => state.tr.insertText('tide ', 1), intent);
    const { client } = editor;
    const acts = {
      pencil: write('pencil'),
      ink: write('ink'),
      decide: async () => {
        const [change] = listChanges(editor.state.doc);
        return editor.ask('decide', { changes: [change!.id], verdict: 'accept', client });
      },
      takeBack: async () => editor.ask('takeBack', { decision, client }),
    };
    await write('pencil')();
    const [first] = listChanges(editor.state.doc);
    const { decision } = await editor.ask('decide', { changes: [first!.id], verdict: 'accept', client });
    for (const [act, doIt] of Object.entries(acts)) {
      await write('pencil')();
      const { version } = await editor.ask('join', {});
      const outcome = await meanwhile<{ refused?: string; taken?: true }>(doIt, change);
      await back();
      const after = await editor.ask('join', {});
      const allowed = open[name]?.includes(act) ?? false;
      expect([act, !!outcome.taken, !!outcome.refused]).toEqual([act, allowed, !allowed]);
      // What is refused is not in the text.
      expect([act, after.version! > version!]).toEqual([act, allowed]);
    }
    editor.close();
  });
});

test('a decider’s restoring in ink, which takes long, is not ordered after the seal', async () => {
  const editor = await new Editor(people.decider, id).open();
  await editor.edit((state) => state.tr.insertText('Something to go. ', 1), 'ink');
  editor.close();
  const { version } = (await people.decider.ask<{ version: number }>('GET', `/api/manuscripts/${id}/drafts`)).body;
  const restoring = () => people.decider.ask('POST', `/api/manuscripts/${id}/back`, { version: 0, how: 'ink' });
  const { status } = await meanwhile(restoring, demote('decider', 'proposer'));
  await restore('decider', 'decider');
  expect(status).toBe(409);
  const now = (await people.decider.ask<{ version: number }>('GET', `/api/manuscripts/${id}/drafts`)).body;
  expect(now.version).toBe(version);
  expect(server.address).toBeTruthy();
});
