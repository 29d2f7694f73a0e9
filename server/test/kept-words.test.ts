import { listChanges, plainText, schema } from '@tea-pencil/core';
import { demoPerson, sharedServer, type Visitor } from './support/server';
import { Writer } from './support/writer';

/** Whatever happens to a writer, no word is lost in silence: it is in the text, or in the tray to be copied. */

let server: Awaited<ReturnType<typeof sharedServer>>;
let ines: Visitor;
let maren: Visitor;
beforeAll(async () => {
  server = await sharedServer();
  ines = await demoPerson(server.address, 'ines');
  maren = await demoPerson(server.address, 'maren');
});
afterAll(() => server.stop());

/** A manuscript in which Maren may propose, with her at it. */
async function shared(title: string) {
  const { id } = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title })).body;
  const role = (next: string) => ines.ask('PUT', `/api/manuscripts/${id}/members/${maren.id}`, { role: next });
  await role('proposer');
  const writer = await new Writer(maren, id).until();
  writer.type('kept. ');
  await writer.settled();
  return { id, role, writer };
}
const inText = async (id: string) => {
  const late = await new Writer(ines, id).until();
  const words = plainText(late.doc);
  late.close();
  return words;
};

test('one whose role is lowered while they write offline has their words in the tray, whatever they type meanwhile', async () => {
  const { id, role, writer } = await shared('Lowered');
  writer.socket.disconnect();
  writer.type('offline ');
  expect((await role('reader')).status).toBeLessThan(300);
  writer.socket.connect();
  // They type on until the tray comes, as people do.
  let typed = 'offline ';
  for (let i = 0; !writer.notTaken.length && i < 400; i++) {
    writer.type(`w${i} `);
    typed += `w${i} `;
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
  await writer.until(() => writer.notTaken.length > 0 && writer.text.snapshot().kept !== 'keeping');
  writer.close();
  const tray = writer.notTaken.map(({ words }) => words).join('');
  const text = await inText(id);
  expect(text).toContain('kept.');
  expect(text).not.toContain('offline');
  expect(tray).toBe(typed);
});

test('one who is no member any more has what is not kept to copy, though the manuscript closes', async () => {
  const { id, writer } = await shared('Put out');
  writer.socket.disconnect();
  writer.type('not kept');
  expect((await ines.ask('DELETE', `/api/manuscripts/${id}/members/${maren.id}`)).status).toBe(200);
  writer.socket.connect();
  await writer.until(() => writer.text.snapshot().kept === 'gone');
  expect(writer.notTaken.map(({ words }) => words)).toEqual(['not kept']);
  writer.close();
});

test('one who is signed out while words wait keeps them in the window, is told so, and has them kept after', async () => {
  const { id, writer } = await shared('Signed out');
  writer.socket.disconnect();
  writer.type('waiting');
  await maren.ask('POST', '/api/sign-out');
  writer.socket.connect();
  await writer.until(() => writer.said.length > 0);
  expect(writer.said[0]).toMatch(/Sign in again in another window; your words stay in this one/);
  expect([writer.notTaken, writer.text.hasUnkept(), writer.signedOut]).toEqual([[], true, false]);
  expect(await inText(id)).not.toContain('waiting');
  // Another window has the same cookies, and so has this one.
  expect((await maren.ask('POST', '/api/sign-in/demo', { person: maren.id })).status).toBe(200);
  writer.goWith(maren.cookie);
  await writer.settled();
  expect(await inText(id)).toContain('waiting');
  writer.close();
});

test('an edit that cannot be made is said, its words are to copy, and writing goes on', async () => {
  const { id, writer } = await shared('Cannot be made');
  const broken = writer.state.tr.insertText('words of a broken edit', 1);
  Object.assign(broken, { mapping: null });
  const log = jest.spyOn(console, 'error').mockImplementation(() => undefined);
  writer.text.dispatch(broken);
  expect(log).toHaveBeenCalledTimes(1);
  log.mockRestore();
  expect(writer.notTaken).toEqual([
    { reason: expect.stringMatching(/could not be made/), words: 'words of a broken edit' },
  ]);
  writer.type('goes on.');
  await writer.settled();
  writer.close();
  expect(await inText(id)).toBe('kept. goes on.');
});

test('a paste of 300,000 words in pencil is one change, and kept', async () => {
  const { id, writer } = await shared('A whole book');
  writer.type('tide '.repeat(300_000)); // more than a paragraph holds: said at once, and nothing is sent
  expect(writer.said).toEqual([expect.stringMatching(/^This is too much: a paragraph holds at most 50,000 letters/)]);
  const paragraph = schema.nodes.paragraph.create(null, schema.text('tide '.repeat(100)));
  const paragraphs = Array.from({ length: 3000 }, () => paragraph);
  writer.text.dispatch(writer.state.tr.insert(writer.doc.content.size, paragraphs));
  await writer.until(() => !writer.text.hasUnkept(), 100_000);
  expect(writer.notTaken).toEqual([]);
  expect(listChanges(writer.doc)).toHaveLength(2); // and what stood there before
  const words = await inText(id);
  expect(words.length).toBe('kept. '.length + 3000 + 5 * 300_000);
  writer.close();
});
