import { fairReading, listChanges, plainText } from '@tea-pencil/core';
import type { BroughtBack } from '@tea-pencil/wire';
import { Editor } from './support/editor';
import { demoPerson, ownDatabase, startServer, type Running, type Visitor } from './support/server';

/** Drafts while others write, under a seal, twice at once. */

let server: Running;
let ines: Visitor;
let maren: Visitor;
beforeAll(async () => {
  server = await startServer(undefined, { TEA_PENCIL_DATABASE_URL: await ownDatabase('drafts_together', 'the demo') });
  ines = await demoPerson(server.address, 'ines');
  maren = await demoPerson(server.address, 'maren');
});
afterAll(() => server.stop());

const at = (id: string, more: string) => `/api/manuscripts/${id}${more}`;
async function begun(...lines: string[]) {
  const form = new FormData();
  form.append('file', new File([lines.join('\n')], 'W.txt'));
  const { body } = await ines.ask<{ id: string }>('POST', '/api/manuscripts/import', form);
  await ines.ask('PUT', at(body.id, `/members/${maren.id}`), { role: 'decider' });
  return { id: body.id, ines: await new Editor(ines, body.id).open(), maren: await new Editor(maren, body.id).open() };
}
const docOf = async (id: string) => {
  const editor = await new Editor(ines, id).open();
  editor.close();
  return editor.state.doc;
};

test('a draft comes back while somebody types: nothing of what they type is lost', async () => {
  const lines = Array.from({ length: 60 }, (_, i) => `Line ${i} of the tide table stands here.`);
  const text = await begun(...lines, 'The end');
  const { id } = text;
  await text.ines.edit((state) => state.tr.insertText('Now: ', 1), 'ink');
  let typing = true;
  const typed = (async () => {
    for (let i = 0; typing || i < 20; i++) await text.maren.type(String.fromCharCode(97 + (i % 26)));
  })();
  const back = await ines.ask<BroughtBack>('POST', at(id, '/back'), { version: 0, how: 'pencil' });
  typing = false;
  await typed;
  expect(back.status).toBe(201);
  const doc = await docOf(id);
  expect(plainText(fairReading(doc))).toMatch(/^Line 0 of/);
  expect(text.maren.acknowledged.length).toBeGreaterThanOrEqual(20);
  // What comes back stands among what is typed on; of that no letter is missing.
  expect(plainText(doc).replace(/end/g, '')).toContain(text.maren.acknowledged);
});

test('taken back twice at once it is taken back once', async () => {
  const text = await begun('Walk the top of the beach.');
  const { id } = text;
  await text.ines.edit((state) => state.tr.insertText('Now: ', 1), 'ink');
  const { body } = await ines.ask<BroughtBack>('POST', at(id, '/back'), { version: 0, how: 'ink' });
  const back = () => ines.ask('POST', at(id, `/acts/${body.act}/back`));
  const answers = (await Promise.all([back(), back()])).map(({ status }) => status).sort();
  expect(answers).toEqual([200, 409]);
  expect(plainText(await docOf(id))).toBe('Now: Walk the top of the beach.');
});

test('a seal closes what would go in unrecorded, and taking back what was done before it', async () => {
  const text = await begun('Walk the top of the beach.');
  const { id } = text;
  await text.ines.edit((state) => state.tr.insertText('Now: ', 1), 'ink');
  const before = await ines.ask<BroughtBack>('POST', at(id, '/back'), { version: 0, how: 'ink' });
  await ines.ask('PUT', at(id, '/seal'), { passphrase: 'slack water', mayWithdraw: true });
  expect((await ines.ask('POST', at(id, '/back'), { version: 0, how: 'ink' })).status).toBe(403);
  expect((await ines.ask('POST', at(id, `/acts/${before.body.act}/back`))).status).toBe(403);
  expect((await ines.ask('POST', at(id, '/ink/0/pencil'))).status).toBe(403);
  // In pencil one goes on, and withdraws what one has done since.
  const pencil = await ines.ask<BroughtBack>('POST', at(id, '/back'), { version: 1, how: 'pencil' });
  expect([pencil.status, listChanges(await docOf(id)).length > 0]).toEqual([201, true]);
  expect((await ines.ask('POST', at(id, `/acts/${pencil.body.act}/back`))).status).toBe(200);
  expect(listChanges(await docOf(id))).toEqual([]);
});
