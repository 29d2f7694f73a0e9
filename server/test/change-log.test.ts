import { changeIds, listChanges, plainText } from '@tea-pencil/core';
import type { BroughtBack, ChangeEvent, Ledger } from '@tea-pencil/wire';
import { Editor } from './support/editor';
import { demoPerson, sharedServer, type Visitor } from './support/server';

/** Law 11: every change that ever existed has a row whose last event agrees with the text, whatever anybody does. */

let server: Awaited<ReturnType<typeof sharedServer>>;
let ines: Visitor;
let maren: Visitor;
beforeAll(async () => {
  server = await sharedServer();
  [ines, maren] = [await demoPerson(server.address, 'ines'), await demoPerson(server.address, 'maren')];
});
afterAll(() => server.stop());

const at = (id: string, path: string) => `/api/manuscripts/${id}${path}`;

/** A manuscript of Ines’s with a line in it, in which Maren may propose. */
async function begun(words: string) {
  const { id } = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'The change log' })).body;
  await ines.ask('PUT', at(id, `/members/${maren.id}`), { role: 'proposer' });
  const [decider, proposer] = [await new Editor(ines, id).open(), await new Editor(maren, id).open()];
  await decider.edit((state) => state.tr.insertText(words, 1), 'ink');
  await settled(proposer, decider);
  return { id, decider, proposer };
}
const settled = async (...editors: Editor[]) => {
  const newest = Math.max(...editors.map(({ version }) => version));
  while (editors.some(({ version }) => version < newest)) await new Promise((done) => setTimeout(done, 10));
};
const ledgerOf = async (id: string) => (await ines.ask<Ledger>('GET', at(id, '/ledger'))).body;
const eventsOf = async (id: string, change: string) =>
  (await ines.ask<ChangeEvent[]>('GET', at(id, `/ledger/${change}/events`))).body.map(({ kind }) => kind);

/** That rows, last events and text agree; by the rules of the log alone, not by how it is written. */
async function agrees(id: string): Promise<Record<string, number>> {
  const editor = await new Editor(ines, id).open();
  const pending = new Set(changeIds(editor.state.doc).keys());
  editor.close();
  const { numbers, decided } = await ledgerOf(id);
  const states = new Map<string, string>([
    ...numbers.map(([change]) => [change, 'pending'] as const),
    ...decided.map((row) => [row.id, row.state] as const),
  ]);
  expect(states.size).toBe(numbers.length + decided.length);
  for (const change of pending) expect([change, states.get(change)]).toEqual([change, 'pending']);
  const counts: Record<string, number> = {};
  for (const [change, state] of states) {
    counts[state] = (counts[state] ?? 0) + 1;
    const last = (await eventsOf(id, change)).at(-1)!;
    const says = ['proposed', 'arrived', 'undone'].includes(last) ? 'pending' : last;
    expect([change, says, pending.has(change)]).toEqual([change, state, state === 'pending']);
  }
  return counts;
}

test('accepted in one act, the words of one deleted in ink, the act taken back: one is pending, one was removed', async () => {
  const { id, decider, proposer } = await begun('The tide comes in.');
  await proposer.edit((state) => state.tr.insertText('slow ', 5));
  await proposer.edit((state) => state.tr.insertText(' again', state.doc.content.size - 2));
  await settled(decider, proposer);
  const both = listChanges(decider.state.doc).map((change) => change.id);
  expect(both).toHaveLength(2);
  const { client } = decider;
  const { decision } = await decider.ask('decide', { changes: both, verdict: 'accept', client });
  await settled(decider, proposer);
  await decider.edit((state) => state.tr.delete(5, 10), 'ink');
  expect((await decider.ask('takeBack', { decision, client })).refused).toBeUndefined();
  expect(await agrees(id)).toEqual({ pending: 1, removed: 1 });
  const [first, second] = both as [string, string];
  expect(await eventsOf(id, first)).toEqual(['proposed', 'accepted', 'removed']);
  expect(await eventsOf(id, second)).toEqual(['proposed', 'accepted', 'undone']);
  // What the record of a fair copy counts is the same.
  const chosen = [{ author: maren.id, kind: 'insertion', many: 1, fate: 'reject' }];
  const copy = await ines.ask<{ deciders: { accepted: number; rejected: number }[] }>('POST', at(id, '/fair-copies'), {
    ...{ chosen, format: 'docx', nameless: true, inert: true },
  });
  expect(copy.body.deciders.map(({ accepted, rejected }) => [accepted, rejected])).toEqual([[0, 1]]);
  expect(await agrees(id)).toEqual({ rejected: 1, removed: 1 });
  decider.close();
  proposer.close();
});

test('a change that its own author deletes keeps its row with its words; taken out in ink it is told whose doing that was', async () => {
  const { id, decider, proposer } = await begun('The weir holds.');
  await proposer.edit((state) => state.tr.insertText('old ', 5));
  await settled(decider, proposer);
  await proposer.edit((state) => state.tr.delete(5, 9));
  expect(await agrees(id)).toEqual({ withdrawn: 1 });
  const [row] = (await ledgerOf(id)).decided;
  expect(row).toMatchObject({
    state: 'withdrawn',
    verdict: null,
    decidedBy: maren.id,
    after: 'old ',
    kind: 'insertion',
  });
  await proposer.edit((state) => state.tr.insertText('new ', 5));
  await settled(decider, proposer);
  await decider.edit((state) => state.tr.delete(5, 9), 'ink');
  expect(await agrees(id)).toEqual({ withdrawn: 1, removed: 1 });
  expect((await ledgerOf(id)).decided.find(({ state }) => state === 'removed')).toMatchObject({ decidedBy: ines.id });
  decider.close();
  proposer.close();
});

test('taking back an act that was decided meanwhile leaves what was decided, says so, and loses no word', async () => {
  const { id, decider, proposer } = await begun('One. Two. Three.');
  const { version } = decider;
  await decider.edit((state) => state.tr.insertText(' Four. Five.', state.doc.content.size - 1), 'ink');
  await settled(decider, proposer);
  const { act } = (await maren.ask<BroughtBack>('POST', at(id, '/back'), { version, how: 'pencil' })).body;
  await settled(decider, proposer);
  const [only] = [...changeIds((await new Editor(ines, id).open()).state.doc).keys()];
  const { client } = decider;
  await decider.ask('decide', { changes: [only], verdict: 'accept', client });
  const before = plainText((await new Editor(ines, id).open()).state.doc);
  const refused = await maren.ask('POST', at(id, `/acts/${act}/back`));
  expect([refused.status, refused.body.message]).toEqual([409, expect.stringMatching(/have been decided since/)]);
  expect(plainText((await new Editor(ines, id).open()).state.doc)).toBe(before);
  expect(await agrees(id)).toEqual({ accepted: 1 });
  decider.close();
  proposer.close();
});

test('one who may decide no more takes ink back in pencil: nothing goes unrecorded', async () => {
  const { id, decider, proposer } = await begun('One. Two.');
  await ines.ask('PUT', at(id, `/members/${maren.id}`), { role: 'decider' });
  const { act } = (await maren.ask<BroughtBack>('POST', at(id, '/back'), { version: 0, how: 'ink' })).body;
  await ines.ask('PUT', at(id, `/members/${maren.id}`), { role: 'proposer' });
  const { status, body } = await maren.ask<{ how: string; changes: number }>('POST', at(id, `/acts/${act}/back`));
  expect([status, body.how, body.changes > 0]).toEqual([200, 'recorded', true]);
  const after = await new Editor(ines, id).open();
  expect(listChanges(after.state.doc).map(({ author, after: words }) => [author, words.trim()])).toEqual([
    [maren.id, 'One. Two.'],
  ]);
  expect(await agrees(id)).toEqual({ pending: 1 });
  for (const one of [after, decider, proposer]) one.close();
});

test('a change that comes later than its date says is told with the moment it came', async () => {
  const { id, decider, proposer } = await begun('The shore.');
  await ines.ask('POST', at(id, '/drafts'), { name: 'Sent out' });
  const form = new FormData();
  form.append('file', new File(['The long shore.'], 'back.txt'));
  const { version } = (await ines.ask<{ version: number }>('GET', at(id, '/drafts'))).body;
  expect((await ines.ask('POST', at(id, `/returned?version=${version}&sender=&anyway=yes`), form)).status).toBe(201);
  const [change] = (await ledgerOf(id)).numbers;
  expect(await eventsOf(id, change![0])).toEqual(['arrived']);
  expect(await agrees(id)).toEqual({ pending: 1 });
  decider.close();
  proposer.close();
});
