import { Client } from 'pg';
import type { Piece } from '@tea-pencil/core';
import { describeChange, listChanges, remarkOf } from '@tea-pencil/core';
import { Editor, type Answer } from './support/editor';
import { demoPerson, sharedServer, type Visitor } from './support/server';

/** What was decided stays readable, whatever is written after; and how one looks at a text is one's own business. */

interface Row {
  id: string;
  number: number;
  verdict: string | null;
  decidedBy: string;
  before: string;
  after: string;
  sentence: { before: Piece[]; after: Piece[] };
  whereabouts: { paragraph: number };
}
interface Ledger {
  numbers: [string, number][];
  decided: Row[];
}

let server: Awaited<ReturnType<typeof sharedServer>>;
let ines: Visitor;
let maren: Visitor;
let id: string;
let editor: Editor;
let hers: Editor;

const ledger = async (who = ines) => (await who.ask<Ledger>('GET', `/api/manuscripts/${id}/ledger`)).body;
const place = (change: string) => ines.ask<{ at: number }>('GET', `/api/manuscripts/${id}/ledger/${change}/place`);
/** The answer, once its steps are here too. */
async function followed(answer: Answer & Record<string, unknown>) {
  while (editor.version < (answer.version ?? 0)) await new Promise((resolve) => setTimeout(resolve, 5));
  return answer;
}
const client = 'of-the-decider';
const decide = async (changes: string[], verdict: string) =>
  followed(await editor.ask('decide', { changes, verdict, client }));
const idsOf = () => listChanges(editor.state.doc).map((change) => change.id);
const words = (pieces: Piece[]) => pieces.map(({ text }) => text).join('');

beforeAll(async () => {
  server = await sharedServer();
  [ines, maren] = (await Promise.all(['ines', 'maren'].map((login) => demoPerson(server.address, login)))) as [
    Visitor,
    Visitor,
  ];
  id = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'The ledger' })).body.id;
  await ines.ask('PUT', `/api/manuscripts/${id}/members/${maren.id}`, { role: 'proposer' });
  editor = await new Editor(ines, id).open();
  await editor.edit((state) => state.tr.insertText('Turn the weed over with a stick. Never with a spade.', 1), 'ink');
  hers = await new Editor(maren, id).open();
  await followed(await hers.edit((state) => state.tr.insertText('dry ', 10)));
  await editor.edit((state) => state.tr.delete(6, 19));
  await editor.edit((state) => state.tr.insertText(' twice', state.doc.content.size - 2));
});
afterAll(async () => {
  editor.close();
  hers.close();
  await server.stop();
});

test('changes are numbered in the order in which they were recorded', async () => {
  const { numbers, decided } = await ledger();
  expect(numbers.map(([, n]) => n)).toEqual([1, 2, 3]);
  expect(new Set(numbers.map(([change]) => change))).toEqual(new Set(idsOf()));
  expect(decided).toEqual([]);
});

test('a decided change keeps what it was; one that went with it is there too, undecided', async () => {
  const all = listChanges(editor.state.doc);
  const deletion = all.find(({ before }) => before !== '')!;
  const inside = all.find(({ after }) => after === 'dry ')!;
  const { decision } = await decide([deletion.id], 'accept');
  const { numbers, decided } = await ledger(maren);
  expect(numbers).toHaveLength(1);
  const row = decided.find((one) => one.id === deletion.id)!;
  expect(row).toMatchObject({ verdict: 'accept', decidedBy: ines.id, number: 2, whereabouts: { paragraph: 1 } });
  expect(words(row.sentence.before)).toBe('Turn the dry weed over with a stick.');
  expect(words(row.sentence.after)).toBe('Turn over with a stick.');
  expect(decided.find((one) => one.id === inside.id)).toMatchObject({ verdict: null, number: 1, after: 'dry ' });

  expect(await followed(await editor.ask('takeBack', { decision, client }))).toMatchObject({ taken: true });
  expect((await ledger()).decided).toEqual([]);
  expect((await ledger()).numbers.map(([, n]) => n)).toEqual([1, 2, 3]);
});

test('a later decision about a change that is none any more leaves what was decided', async () => {
  const twice = listChanges(editor.state.doc).at(-1)!;
  await decide([twice.id], 'reject');
  await decide([twice.id], 'accept');
  await decide(idsOf(), 'accept');
  const { decided } = await ledger();
  expect(decided.find((one) => one.id === twice.id)).toMatchObject({ verdict: 'reject' });
  // Facts are kept; the wording is made of them when it is read.
  expect(decided.map((row) => describeChange(row as unknown as Parameters<typeof describeChange>[0]))).toContain(
    'inserted one word',
  );
});

test('what was decided before entries were kept is read from the text as it was then, and kept', async () => {
  const before = await ledger();
  expect(before.decided).not.toEqual([]);
  const database = new Client({ connectionString: process.env.TEA_PENCIL_TEST_DATABASE });
  await database.connect();
  const all = 'WHERE manuscript_id = $1 AND decision_id IS NOT NULL';
  try {
    await database.query(`UPDATE changes SET entry = NULL ${all}`, [id]);
    expect(await ledger()).toEqual(before);
    const { rows } = await database.query(`SELECT change_id FROM changes ${all} AND entry IS NULL`, [id]);
    expect(rows).toEqual([]);
  } finally {
    await database.end();
  }
});

test('the words of a decided change are found again, wherever they have gone', async () => {
  const { decided } = await ledger();
  const rejected = decided.find(({ verdict }) => verdict === 'reject')!;
  const before = (await place(rejected.id)).body.at;
  await editor.edit((state) => state.tr.insertText('First of all: ', 1), 'ink');
  const { status, body } = await place(rejected.id);
  expect([status, body.at]).toEqual([200, before + 'First of all: '.length]);
  expect(editor.state.doc.textBetween(body.at - 5, body.at)).toBe('spade');
  expect((await place('nothing')).status).toBe(404);
});

test('what one keeps of how one looks at a text is not the others’', async () => {
  const at = `/api/manuscripts/${id}/view`;
  const lenses = [{ name: 'Maren’s moves', query: `by=${maren.id}&kind=move` }];
  const look = { reading: 'fair', flow: 'both', folded: ['formatting'], notes: 'caret', talk: 'signs', outline: true };
  expect((await maren.ask('PATCH', at, { lenses })).status).toBe(204);
  expect((await maren.ask('PATCH', at, { look })).status).toBe(204);
  expect((await maren.ask('GET', at)).body).toEqual({ lenses, look });
  expect((await ines.ask('GET', at)).body).toEqual({});
  for (const wrong of [
    {},
    { look: { ...look, reading: 'sideways' } },
    { lenses: [{ name: '', query: '' }] },
    { of: 1 },
  ])
    expect((await maren.ask('PATCH', at, wrong)).status).toBe(400);
  expect((await maren.ask('GET', at)).body).toEqual({ lenses, look });
});

test('a thread may be about a change of this manuscript, and of no other', async () => {
  const { decided } = await ledger();
  const begin = (n: number, change: string) =>
    maren.ask('POST', `/api/manuscripts/${id}/threads`, {
      id: `about-${n}`,
      change,
      comment: { id: `about-${n}-1`, body: remarkOf('Why not?') },
    });
  expect((await begin(1, decided[0]!.id)).status).toBe(204);
  expect((await begin(2, 'nothing')).status).toBe(404);
  const { body } = await ines.ask<object[]>('GET', `/api/manuscripts/${id}/threads`);
  expect(body).toMatchObject([{ id: 'about-1', change: decided[0]!.id }]);
});

test('one change of many decided together is taken back alone, whatever was written since; the others stay decided', async () => {
  const { id: other } = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Taken back in part' }))
    .body;
  const own = await new Editor(ines, other).open();
  const until = async (answer: Answer & { decision?: string }) => {
    while (own.version < (answer.version ?? 0)) await new Promise((resolve) => setTimeout(resolve, 5));
    return answer;
  };
  const text = () => own.state.doc.textContent;
  const rows = async () =>
    (await ines.ask<{ decided: (Row & { decision: string })[] }>('GET', `/api/manuscripts/${other}/ledger`)).body
      .decided;
  await own.edit((state) => state.tr.insertText('Low water. High water. Spring tide. Neap tide.', 1), 'ink');
  const at = (words: string) => text().indexOf(words) + 1;
  for (const words of ['Low', 'High', 'Spring', 'Neap']) {
    await own.edit((state) => state.tr.insertText('Very ', at(words)));
    await own.edit((state) => state.tr.delete(at(words), at(words) + words.length));
  }
  const [first, second, ...others] = listChanges(own.state.doc).map((change) => change.id);
  const which = [first!, second!, ...others];
  expect(which.length).toBeGreaterThanOrEqual(4);
  const { decision } = await until(await own.ask('decide', { changes: which, verdict: 'accept', client }));
  const accepted = text();
  await own.edit((state) => state.tr.insertText('At the harbour: ', 1), 'ink');

  const refused = async (changes: string[]) => (await own.ask('takeBack', { decision, changes, client })).refused;
  expect(await refused([second!, 'of-no-decision'])).toMatch(/was not decided then/);
  expect(await refused([second!, second!])).toMatch(/was not decided then/);
  expect(await until(await own.ask('takeBack', { decision, changes: [second!], client }))).toMatchObject({
    taken: true,
  });
  expect(listChanges(own.state.doc).map((change) => change.id)).toEqual([second]);
  const decided = await rows();
  expect(new Set(decided.map((row) => row.id))).toEqual(new Set([first, ...others]));
  expect(decided.every((row) => row.verdict === 'accept' && row.decidedBy === ines.id)).toBe(true);

  // What is left of the act is one act still: it can be taken back whole, and nothing of the first can be twice.
  expect((await own.ask('takeBack', { decision, client })).refused).toMatch(/taken back already/);
  const [left] = new Set(decided.map((row) => row.decision));
  await until(await own.ask('decide', { changes: [second!], verdict: 'accept', client }));
  expect(text()).toBe(`At the harbour: ${accepted}`);
  await until(await own.ask('takeBack', { decision: left, client }));
  expect(new Set(listChanges(own.state.doc).map((change) => change.id))).toEqual(new Set([first, ...others]));
  expect((await rows()).map((row) => row.id)).toEqual([second]);
  own.close();
});

test('one’s own last decision is told, whose changes it was about, and whether anything was written since', async () => {
  const last = async (who: Visitor) =>
    (await who.ask<{ last: Record<string, unknown> | null }>('GET', `/api/manuscripts/${id}/ledger/last`)).body.last;
  await hers.edit((state) => state.tr.insertText('!', 2));
  const [change] = listChanges(editor.state.doc).filter(({ author }) => author === maren.id);
  const { decision } = (await decide([change!.id], 'accept')) as { decision: string };
  const told = { decision, verdict: 'accept', many: 1, authors: [maren.id] };
  expect(await last(ines)).toEqual({ ...told, isLast: true });
  expect(await last(maren)).toBeNull();
  // What others write is none of it; what one writes oneself is.
  await hers.edit((state) => state.tr.insertText('?', 2));
  expect(await last(ines)).toEqual({ ...told, isLast: true });
  await editor.edit((state) => state.tr.insertText('.', 2));
  expect(await last(ines)).toEqual({ ...told, isLast: false });
  await followed(await editor.ask('takeBack', { decision, client }));
  expect((await last(ines))?.decision).not.toBe(decision);
});
