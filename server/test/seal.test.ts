import { strFromU8, unzipSync } from 'fflate';
import { listChanges, readDocx, schema, writeDocx, type Protection } from '@tea-pencil/core';
import { createHash } from 'node:crypto';
import { isPassphrase, protectionOf, type Digest } from '@tea-pencil/core';
import type { ManuscriptInfo, Post } from '@tea-pencil/wire';
import { Editor } from './support/editor';
import { demoPerson, sharedServer, type Visitor } from './support/server';

/** Sealing a manuscript: who it is told to, how tries are limited, and how it travels in files. */

const digest: Digest = (algorithm, bytes) =>
  createHash(algorithm.toLowerCase().replace('-', '')).update(bytes).digest();

let server: Awaited<ReturnType<typeof sharedServer>>;
let ines: Visitor;
let tobias: Visitor;
beforeAll(async () => {
  server = await sharedServer();
  ines = await demoPerson(server.address, 'ines');
  tobias = await demoPerson(server.address, 'tobias');
});
afterAll(() => server.stop());

const at = (id: string, more = '') => `/api/manuscripts/${id}${more}`;
const seal = (who: Visitor, id: string, passphrase = 'slack water') =>
  who.ask('PUT', at(id, '/seal'), { passphrase, mayWithdraw: true });
const lift = (who: Visitor, id: string, passphrase = 'slack water') =>
  who.ask('POST', at(id, '/seal/lifted'), { passphrase });
async function begun(title: string): Promise<string> {
  const { id } = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title })).body;
  await ines.ask('PUT', at(id, `/members/${tobias.id}`), { role: 'keeper' });
  return id;
}
async function docx(who: Visitor, id: string, copy = 'marked.docx'): Promise<Uint8Array> {
  const response = await fetch(`${server.address}${at(id, `/copies/${copy}`)}`, { headers: { cookie: who.cookie } });
  expect(response.status).toBe(200);
  return new Uint8Array(await response.arrayBuffer());
}
async function bringIn(name: string, bytes: Uint8Array): Promise<string> {
  const form = new FormData();
  form.append('file', new File([new Uint8Array(bytes)], name));
  const { status, body } = await ines.ask<{ id: string }>('POST', '/api/manuscripts/import', form);
  expect(status).toBe(201);
  return body.id;
}

test('a seal is told to all: on open screens, in Post, with who and when; lifting it too', async () => {
  const id = await begun('The foreword, sealed');
  const editor = await new Editor(tobias, id).open();
  const told = () => new Promise((done) => editor.socket.once('changed', done));
  const putOn = told();
  expect((await seal(ines, id)).status).toBe(204);
  expect(await putOn).toMatchObject({ manuscript: id });
  const { body } = await tobias.ask<ManuscriptInfo>('GET', at(id));
  expect(body.seal).toEqual({ by: ines.id, byName: 'Ines Vega', at: expect.any(String), mayWithdraw: true });
  expect(JSON.stringify(body)).not.toMatch(/argon|hash/);
  const off = told();
  expect((await lift(tobias, id)).status).toBe(204);
  expect(await off).toMatchObject({ manuscript: id });
  const says = async (who: Visitor) =>
    (await who.ask<Post>('GET', '/api/post')).body.notices.flatMap((one) =>
      one.manuscript.id === id && one.kind === 'seal' ? [one.says] : [],
    );
  expect(await says(tobias)).toEqual([
    'Ines Vega has sealed this manuscript: everyone writes in pencil, and nothing is decided',
  ]);
  expect(await says(ines)).toEqual(['Tobias Oyelaran has lifted the seal of this manuscript']);
  editor.close();
});

test('two seals at once are one, two lifts too; tries are limited; a passphrase of 10,000 letters is refused', async () => {
  const id = await begun('At once');
  expect((await seal(ines, id, 'x'.repeat(10_000))).body.message).toMatch(/at most 200 letters/);
  const sealed = await Promise.all([seal(ines, id, 'one'), seal(tobias, id, 'two')]);
  expect(sealed.map(({ status }) => status).sort()).toEqual([204, 403]);
  const passphrase = sealed[0]!.status === 204 ? 'one' : 'two';
  const lifted = await Promise.all([lift(ines, id, passphrase), lift(tobias, id, passphrase)]);
  expect(
    lifted
      .map(({ status }) => status)
      .sort()
      .slice(0, 1),
  ).toEqual([204]);
  expect(lifted.filter(({ status }) => status === 204)).toHaveLength(1);
  await seal(ines, id);
  for (let i = 0; i < 10; i++) expect((await lift(tobias, id, `try ${i}`)).status).toBe(403);
  const tooOften = await lift(tobias, id);
  expect([tooOften.status, tooOften.body.message]).toEqual([429, expect.stringMatching(/The seal stays/)]);
  expect((await lift(ines, id)).status).toBe(204); // another keeper has tries of their own
});

test('a sealed DOCX says so, with the hash of the standard; brought in, it is sealed with its passphrase', async () => {
  const id = await begun('Sealed and taken away');
  const writer = await new Editor(ines, id).open();
  await writer.edit((state) => state.tr.insertText('Slack water at noon.', 1));
  writer.close();
  await seal(ines, id, 'slack water, 3 °C');
  const marked = await docx(tobias, id);
  const { protection } = await readDocx(marked);
  expect(protection).toMatchObject({ algorithm: 'SHA-512', spins: 100_000 });
  expect(isPassphrase('slack water, 3 °C', protection as Protection, digest)).toBe(true);
  expect((await readDocx(await docx(tobias, id, 'fair.docx'))).protection).toBeUndefined();
  const again = await bringIn('Again.docx', marked);
  const { body } = await ines.ask<ManuscriptInfo>('GET', at(again));
  expect(body.seal).toMatchObject({ by: null, byName: null, mayWithdraw: true });
  const editor = await new Editor(ines, again).open();
  const { client } = editor;
  const [change] = listChanges(editor.state.doc);
  expect((await editor.ask('decide', { changes: [change!.id], verdict: 'accept', client })).refused).toMatch(/sealed/);
  expect((await lift(ines, again, 'slack water')).status).toBe(403);
  expect((await lift(ines, again, 'slack water, 3 °C')).status).toBe(204);
  expect((await editor.ask('decide', { changes: [change!.id], verdict: 'accept', client })).taken).toBe(true);
  editor.close();
  // What is lifted is lifted in files too.
  expect((await readDocx(await docx(ines, again))).protection).toBeUndefined();
  expect(strFromU8(unzipSync(await docx(ines, again))['word/settings.xml']!)).not.toContain('documentProtection');
});

test('a file of others with such a hash comes in sealed, and goes out unedited byte for byte', async () => {
  const doc = schema.nodes.doc.create(null, schema.nodes.paragraph.create(null, schema.text('Tides.')));
  const protection = protectionOf('ebb', { algorithm: 'SHA-256', salt: 'c2FsdA==', spins: 5 }, digest);
  const file = await writeDocx({ doc, people: [], threads: [], assets: [] }, { protection });
  const id = await bringIn('Of others.docx', file);
  expect((await ines.ask<ManuscriptInfo>('GET', at(id))).body.seal).toMatchObject({ by: null });
  expect(Buffer.from(await docx(ines, id)).equals(Buffer.from(file))).toBe(true);
  // A copy in the house is as closed as what it is a copy of.
  const copy = (await ines.ask<{ id: string }>('POST', at(id, '/copy'))).body.id;
  expect((await ines.ask<ManuscriptInfo>('GET', at(copy))).body).toMatchObject({
    title: 'Of others (copy)',
    seal: { by: null },
  });
  expect((await lift(ines, copy, 'flood')).status).toBe(403);
  expect((await lift(ines, copy, 'ebb')).status).toBe(204);
  expect((await ines.ask<ManuscriptInfo>('GET', at(id))).body.seal).not.toBeNull();
});
