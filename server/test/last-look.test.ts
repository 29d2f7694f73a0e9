import type { Rule } from '@tea-pencil/core';
import type { DecidedAt, LastLookState, RulesRead, StyleLine, StyleVersion, StyleWhole } from '@tea-pencil/wire';
import { Editor } from './support/editor';
import { demoPerson, guestOf, ownDatabase, startServer, type Running, type Visitor } from './support/server';

/** The last look and house styles: who may leave, keep, choose and change what, and what stays. */

let server: Running;
let ines: Visitor;
let maren: Visitor;
let alba: Visitor;
beforeAll(async () => {
  server = await startServer(undefined, { TEA_PENCIL_DATABASE_URL: await ownDatabase('last_look', 'the demo') });
  ines = await demoPerson(server.address, 'ines');
  maren = await demoPerson(server.address, 'maren');
  alba = await demoPerson(server.address, 'alba');
});
afterAll(() => server.stop());

const at = (id: string, more: string) => `/api/manuscripts/${id}${more}`;
async function begun(...lines: string[]): Promise<string> {
  const form = new FormData();
  form.append('file', new File([lines.join('\n')], 'W.txt'));
  const { body } = await ines.ask<{ id: string }>('POST', '/api/manuscripts/import', form);
  return body.id;
}
const share = (id: string, who: Visitor, role: string) => ines.ask('PUT', at(id, `/members/${who.id}`), { role });
const state = async (who: Visitor, id: string) => (await who.ask<LastLookState>('GET', at(id, '/last-look'))).body;
const rule = (kind: Rule['kind'], write: string, not: string[] = []): Rule => ({
  ...{ kind, write, not, example: '', note: '', source: '' },
});

test('a finding is left by who may propose, under their name, once, and can be taken up again; open screens are told', async () => {
  const id = await begun('The tide  comes in.');
  await share(id, maren, 'proposer');
  await share(id, alba, 'remarker');
  const finding = { key: 'spaces|doubled|The tide|comes', all: false, kind: 'spaces', words: '  ' };
  expect((await alba.ask('POST', at(id, '/left'), finding)).status).toBe(403);
  const editor = await new Editor(ines, id).open();
  const told = new Promise((done) => editor.socket.once('changed', done));
  expect((await maren.ask('POST', at(id, '/left'), finding)).status).toBe(204);
  expect(await told).toEqual({ manuscript: id, what: 'last look' });
  await maren.ask('POST', at(id, '/left'), finding);
  await ines.ask('POST', at(id, '/left'), { ...finding, key: 'spaces|doubled', all: true });
  const { left } = await state(alba, id);
  expect(left.map(({ all, by }) => ({ all, by }))).toEqual([
    { all: true, by: ines.id },
    { all: false, by: maren.id },
  ]);
  expect((await alba.ask('DELETE', at(id, `/left/${left[1]!.id}`))).status).toBe(403);
  expect((await ines.ask('DELETE', at(id, `/left/${left[1]!.id}`))).status).toBe(204);
  expect((await ines.ask('DELETE', at(id, `/left/${left[1]!.id}`))).status).toBe(404);
  const other = await begun('Another.');
  expect((await ines.ask('DELETE', at(other, `/left/${left[0]!.id}`))).status).toBe(404);
  for (const wrong of [
    { kind: 'smell' },
    { key: '' },
    { key: 'x'.repeat(1001) },
    { words: 'a\u0000b' },
    { all: 'yes' },
  ])
    expect((await ines.ask('POST', at(id, '/left'), { ...finding, ...wrong })).status).toBe(400);
  expect((await state(ines, id)).left).toHaveLength(1);
  editor.close();
});

test('words are right for one person, for a manuscript, for the house; nobody sees another’s own', async () => {
  const id = await begun('Quoxels.');
  await share(id, maren, 'remarker');
  const keep = (who: Visitor, scope: string, word: string, language = 'en') =>
    who.ask('POST', at(id, '/words'), { scope, language, word });
  expect((await keep(maren, 'person', 'zibbet')).status).toBe(204);
  expect((await keep(maren, 'person', 'zibbet')).status).toBe(204);
  expect((await keep(maren, 'manuscript', 'zibbet')).status).toBe(403);
  expect((await keep(maren, 'house', 'zibbet')).status).toBe(403);
  expect((await keep(ines, 'manuscript', 'quoxel')).status).toBe(204);
  expect((await keep(ines, 'house', 'vantrel')).status).toBe(204);
  // Besides those that the house has from its demo.
  const own = new Set(['zibbet', 'quoxel', 'vantrel', 'groyne']);
  const wordsOf = async (who: Visitor, where: string) =>
    (await state(who, where)).words.filter(({ word }) => own.has(word));
  const seen = async (who: Visitor) => (await wordsOf(who, id)).map(({ scope, word }) => `${scope} ${word}`);
  expect(await seen(maren)).toEqual(['manuscript quoxel', 'house vantrel', 'person zibbet']);
  expect(await seen(ines)).toEqual(['manuscript quoxel', 'house vantrel']);
  for (const word of ['two words', '', 'x'.repeat(61), '<b>', 'a\ud800'])
    expect((await keep(ines, 'house', word)).status).toBe(400);
  expect((await keep(ines, 'house', 'x', 'en-GB')).status).toBe(400);
  // A guest has words of their own, and none of the house.
  const guest = await guestOf(ines, id, { role: 'proposer', name: 'Jo' });
  expect((await keep(guest, 'house', 'groyne')).status).toBe(403);
  expect((await keep(guest, 'person', 'groyne')).status).toBe(204);
  // Words of others cannot be let go of: not one's own ones, not those of the house by anybody.
  const its = (await state(maren, id)).words;
  const idOf = (word: string) => its.find((one) => one.word === word)!.id;
  expect((await ines.ask('DELETE', at(id, `/words/${idOf('zibbet')}`))).status).toBe(404);
  expect((await maren.ask('DELETE', at(id, `/words/${idOf('vantrel')}`))).status).toBe(403);
  expect((await maren.ask('DELETE', at(id, `/words/${idOf('quoxel')}`))).status).toBe(403);
  expect((await maren.ask('DELETE', at(id, `/words/${idOf('zibbet')}`))).status).toBe(204);
  expect((await ines.ask('DELETE', at(id, `/words/${idOf('vantrel')}`))).status).toBe(204);
  // In another manuscript there are no words of this one.
  const other = await begun('Another.');
  expect(await wordsOf(ines, other)).toEqual([]);
  expect((await ines.ask('DELETE', at(other, `/words/${idOf('quoxel')}`))).status).toBe(404);
});

test('that a text has been looked over is kept with what it was', async () => {
  const id = await begun('One.', 'Two.');
  await share(id, maren, 'remarker');
  expect((await state(ines, id)).last).toBeNull();
  expect((await maren.ask('POST', at(id, '/last-look'))).status).toBe(403);
  expect((await ines.ask('POST', at(id, '/last-look'))).status).toBe(204);
  const first = (await state(maren, id)).last!;
  expect([first.by, first.version, first.prints.length]).toEqual([ines.id, 0, 2]);
  const editor = await new Editor(ines, id).open();
  await editor.edit((now) => now.tr.insertText('So ', 1));
  await ines.ask('POST', at(id, '/last-look'));
  const second = (await state(ines, id)).last!;
  expect(second.prints[0]).not.toBe(first.prints[0]);
  expect(second.prints[1]).toBe(first.prints[1]);
  editor.close();
});

test('which decision has made a place what it is, whatever has been written since', async () => {
  const id = await begun('The weed is quite dry and old.', 'Another paragraph.');
  await share(id, maren, 'proposer');
  const editor = await new Editor(maren, id).open();
  await editor.edit((now) => now.tr.delete(13, 18));
  const [number] = (await ines.ask<{ numbers: [string, number][] }>('GET', at(id, '/ledger'))).body.numbers;
  const change = number![0];
  const decider = await new Editor(ines, id).open();
  await decider.ask('decide', { changes: [change], verdict: 'accept', client: 'here' });
  decider.close();
  const mine = await new Editor(ines, id).open();
  await mine.edit((now) => now.tr.insertText('So: ', 1), 'ink');
  const { version } = mine;
  const found = async (from: number, to: number, asked = version) => {
    const what = { version: asked, places: [{ from, to }] };
    return (await ines.ask<(DecidedAt | null)[]>('POST', at(id, '/decided-at'), what)).body[0];
  };
  const where = mine.state.doc.textContent.indexOf('  ') + 1;
  expect(where).toBeGreaterThan(4);
  expect(await found(where, where + 2)).toMatchObject({
    change,
    author: maren.id,
    verdict: 'accept',
    decidedBy: ines.id,
  });
  expect(await found(40, 42)).toBeNull();
  expect((await ines.ask('POST', at(id, '/decided-at'), { version: version + 5, places: [] })).status).toBe(404);
  expect((await alba.ask('POST', at(id, '/decided-at'), { version, places: [] })).status).toBe(404);
  const many = Array.from({ length: 201 }, () => ({ from: 1, to: 1 }));
  expect((await ines.ask('POST', at(id, '/decided-at'), { version, places: many })).status).toBe(400);
  editor.close();
  mine.close();
});

test('a style is made, followed, changed in versions, by who made it or who keeps the house', async () => {
  const id = await begun('Gray seals.');
  await share(id, maren, 'decider');
  const style = { name: 'Of the shore', language: 'en-GB', rules: [rule('words', 'grey', ['gray'])] };
  const made = (await ines.ask<{ id: string }>('POST', '/api/styles', style)).body.id;
  const mine = (await ines.ask<StyleLine[]>('GET', '/api/styles')).body.find((one) => one.id === made);
  expect(mine).toMatchObject({ name: 'Of the shore', rules: 1, version: 1, mayChange: true, manuscripts: 0 });
  expect((await maren.ask<StyleWhole>('GET', `/api/styles/${made}`)).body).toMatchObject({
    ...style,
    mayChange: false,
  });
  expect((await maren.ask('PUT', at(id, '/style'), { style: made })).status).toBe(403);
  expect((await ines.ask('PUT', at(id, '/style'), { style: 'nowhere' })).status).toBe(404);
  expect((await ines.ask('PUT', at(id, '/style'), { style: made })).status).toBe(204);
  expect((await state(maren, id)).style).toMatchObject({ id: made, version: 1, rules: style.rules });
  const next = { ...style, rules: [...style.rules, rule('dash', ' – ')], since: 1 };
  expect((await maren.ask('PUT', `/api/styles/${made}`, next)).status).toBe(403);
  const editor = await new Editor(maren, id).open();
  const told = new Promise((done) => editor.socket.once('changed', done));
  expect((await ines.ask('PUT', `/api/styles/${made}`, next)).body).toEqual({ version: 2 });
  expect(await told).toEqual({ manuscript: id, what: 'last look' });
  editor.close();
  // Twice at once: one is kept, the other is told.
  const both = await Promise.all([1, 2].map(() => ines.ask('PUT', `/api/styles/${made}`, { ...next, since: 2 })));
  expect(both.map(({ status }) => status).sort()).toEqual([200, 409]);
  expect(
    (await maren.ask<StyleVersion[]>('GET', `/api/styles/${made}/versions`)).body.map(({ version, by }) => [
      version,
      by,
    ]),
  ).toEqual([
    [3, ines.id],
    [2, ines.id],
    [1, ines.id],
  ]);
  expect((await maren.ask<StyleWhole>('GET', `/api/styles/${made}/versions/1`)).body.rules).toHaveLength(1);
  expect((await maren.ask('GET', `/api/styles/${made}/versions/9`)).status).toBe(404);
  expect((await maren.ask('DELETE', `/api/styles/${made}`)).status).toBe(403);
  expect((await ines.ask('DELETE', `/api/styles/${made}`)).status).toBe(204);
  expect((await state(maren, id)).style).toBeNull();
  expect((await ines.ask('GET', `/api/styles/${made}`)).status).toBe(404);
  const guest = await guestOf(ines, id, { role: 'proposer', name: 'Jo' });
  expect((await guest.ask('GET', '/api/styles')).status).toBe(403);
});

test('rules that cannot be, contradict each other, or look ahead are not kept, and it is said which', async () => {
  const make = (...rules: Rule[]) =>
    ines.ask<{ message: string; id: string }>('POST', '/api/styles', { name: 'X', language: 'en-GB', rules });
  const against = await make(rule('words', 'grey', ['gray']), rule('words', 'gray', ['grey']));
  expect([against.status, against.body.message]).toEqual([
    400,
    expect.stringMatching(/another says not to.*wrong: 1\. Nothing was kept/),
  ]);
  expect((await make(rule('expression', 'x', ['.*']))).body.message).toMatch(/matches everything/);
  const endless = await make(rule('expression', 'x', ['(?:(?:[A-Za-z ]+)+)+!$']), rule('words', 'a'.repeat(60), ['b']));
  // What would take an engine that tries again for ever is looked at in time with the length of the text.
  expect(endless.status).toBe(201);
  expect((await ines.ask('DELETE', `/api/styles/${endless.body.id}`)).status).toBe(204);
  expect((await make(rule('expression', 'x', ['a(?=b)']))).body.message).toMatch(/may not look ahead/);
  expect((await make({ ...rule('dash', '—'), kind: 'smell' as Rule['kind'] })).status).toBe(400);
  expect((await ines.ask('POST', '/api/styles', { name: 'X', language: 'quite wrong', rules: [] })).status).toBe(400);
  expect((await ines.ask<StyleLine[]>('GET', '/api/styles')).body.filter(({ name }) => name === 'X')).toEqual([]);
});

test('the rules in a JSON and in a CSV file are read; what is neither is said', async () => {
  const read = (text: string) =>
    ines.ask<RulesRead & { message: string }>('POST', '/api/styles/read', { text: text.replaceAll('\r\n', '\n') });
  const rules = [rule('words', 'grey', ['gray', 'grai']), rule('dash', '—')];
  expect((await read(JSON.stringify({ name: 'N', language: 'en-GB', rules }))).body).toEqual({
    name: 'N',
    language: 'en-GB',
    rules,
  });
  const csv = await read('kind,write,not\r\nwords,grey,gray | grai\r\ndash,—,\r\n');
  expect(csv.body.rules).toEqual(rules);
  expect((await read('kind,write\r\nsmell,x')).body.message).toMatch(/Row 2: “smell” is no kind of rule/);
  expect((await read('a,b\r\n"')).status).toBe(400);
  expect((await read('{')).body.message).toMatch(/no JSON/);
});
