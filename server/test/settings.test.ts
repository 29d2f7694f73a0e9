import { TextSelection } from 'prosemirror-state';
import { Document, DeletedTextRun, InsertedTextRun, Packer, Paragraph, TextRun } from 'docx';
import { listChanges } from '@tea-pencil/core';
import { Editor } from './support/editor';
import { demoPerson, sharedServer, type Visitor } from './support/server';

/** What a keeper sets for a manuscript, and what people set for themselves, at once and for everyone connected. */

interface Person {
  id: string;
  name: string;
  initials: string;
  role: string | null;
  hue: number;
  matchedTo: string | null;
  asked: boolean;
}
interface Info {
  everyoneInPencil: boolean;
  people: Person[];
}

let server: Awaited<ReturnType<typeof sharedServer>>;
let ines: Visitor;
let maren: Visitor;
beforeAll(async () => {
  server = await sharedServer();
  [ines, maren] = (await Promise.all(['ines', 'maren'].map((login) => demoPerson(server.address, login)))) as [
    Visitor,
    Visitor,
  ];
});
afterAll(() => server.stop());

const info = async (who: Visitor, id: string) => (await who.ask<Info>('GET', `/api/manuscripts/${id}`)).body;
const manuscript = async (title: string) =>
  (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title })).body.id;
const share = (id: string, role: string) => ines.ask('PUT', `/api/manuscripts/${id}/members/${maren.id}`, { role });

test('where everyone writes in pencil nobody uses ink, the keeper neither; deciding goes on', async () => {
  const id = await manuscript('In pencil');
  const i = await new Editor(ines, id).open();
  expect(await i.edit((state) => state.tr.insertText('Low water.', 1), 'ink')).toMatchObject({ taken: true });
  expect((await ines.ask('PATCH', `/api/manuscripts/${id}`, { everyoneInPencil: true })).status).toBe(204);
  expect((await info(ines, id)).everyoneInPencil).toBe(true);
  const inked = await i.edit((state) => state.tr.insertText('High', 1), 'ink');
  expect(inked.refused).toMatch(/everyone writes in pencil/);
  expect(await i.edit((state) => state.tr.insertText('High', 1))).toMatchObject({ taken: true });
  const [change] = listChanges(i.state.doc);
  expect(await i.ask('decide', { changes: [change!.id], verdict: 'accept', client: 'c' })).toMatchObject({
    taken: true,
  });
  await ines.ask('PATCH', `/api/manuscripts/${id}`, { everyoneInPencil: false });
  expect(await i.edit((state) => state.tr.insertText('!', 1), 'ink')).toMatchObject({ taken: true });
  i.close();
});

test('a change of role takes effect at once for one who is connected, and taking off closes the manuscript', async () => {
  const id = await manuscript('Roles');
  await share(id, 'proposer');
  const m = await new Editor(maren, id).open();
  const heard: string[] = [];
  m.socket.onAny((name: string) => heard.push(name));
  expect(await m.type('May I?')).toMatchObject({ taken: true });
  await share(id, 'reader');
  expect((await m.type('And now?')).refused).toMatch(/may not change/);
  expect(heard).toContain('changed');
  expect((await ines.ask('DELETE', `/api/manuscripts/${id}/members/${maren.id}`)).status).toBe(200);
  expect((await m.type('And now?')).refused).toMatch(/no such manuscript/);
  expect(heard).toContain('removed');
  // What is written after that does not reach her.
  const i = await new Editor(ines, id).open();
  const version = m.version;
  await i.type('Between ourselves.');
  await new Promise((resolve) => setTimeout(resolve, 200));
  expect(m.version).toBe(version);
  expect((await maren.ask('GET', `/api/manuscripts/${id}`)).status).toBe(404);
  // What she wrote stays hers.
  expect((await info(ines, id)).people.find((one) => one.id === maren.id)).toMatchObject({
    role: null,
    name: 'Maren Holt',
  });
  expect(listChanges(i.state.doc).some(({ author }) => author === maren.id)).toBe(true);
  const last = await ines.ask('DELETE', `/api/manuscripts/${id}/members/${ines.id}`);
  expect([last.status, last.body.message]).toEqual([400, expect.stringMatching(/needs a keeper/)]);
  m.close();
  i.close();
});

test('from the moment at which the answer is there, nobody who was taken off hears anything, who was just coming in neither', async () => {
  const id = await manuscript('Off at once');
  const i = await new Editor(ines, id).open();
  const heard: number[] = [];
  const m = new Editor(maren, id);
  m.socket.on('steps', ({ version }: { version: number }) => heard.push(version));
  await new Promise((resolve) => m.socket.once('connect', () => resolve(null)));
  const refused: unknown[] = [];
  for (let round = 0; round < 6; round++) {
    await share(id, 'reader');
    // Every other time she comes in at the very moment, a little later each time.
    const coming = m.ask('join', {});
    if (round % 2) await coming;
    else await new Promise((resolve) => setTimeout(resolve, round / 8));
    const off = ines.ask('DELETE', `/api/manuscripts/${id}/members/${maren.id}`);
    // Somebody keeps the server busy telling its other processes.
    const at = { version: i.version, anchor: 1, head: 1, top: 1 };
    for (let k = 0; k < 110; k++) i.socket.emit('presence', { manuscript: id, client: i.client, at, asks: false });
    await off;
    const before = heard.length;
    expect(await i.type('Between ourselves. ')).toMatchObject({ taken: true });
    refused.push((await coming).refused);
    expect((await m.ask('join', {})).refused).toMatch(/no such manuscript/);
    expect(heard.slice(before)).toEqual([]);
    await new Promise((resolve) => setTimeout(resolve, 1250)); // so fast one may
  }
  // She was in already, at least every other time.
  expect(refused.filter((sentence) => !sentence).length).toBeGreaterThanOrEqual(3);
  i.close();
  m.close();
}, 60_000);

test('of two keepers who take each other off at the same moment, one stays', async () => {
  const id = await manuscript('Keepers');
  await share(id, 'keeper');
  const answers = await Promise.all([
    ines.ask('DELETE', `/api/manuscripts/${id}/members/${maren.id}`),
    maren.ask('DELETE', `/api/manuscripts/${id}/members/${ines.id}`),
  ]);
  const left = await Promise.all([ines, maren].map((who) => who.ask('GET', `/api/manuscripts/${id}`)));
  expect(answers.filter(({ status }) => status === 200)).toHaveLength(1);
  expect(left.filter(({ status }) => status === 200)).toHaveLength(1);
});

test('a new name shows on what was written before, and the hue one chooses is seen by all', async () => {
  const id = await manuscript('Names');
  await share(id, 'proposer');
  const m = await new Editor(maren, id).open();
  await m.type('Kelp.');
  await maren.ask('PATCH', '/api/me', { name: 'Maren Holt-Vik' });
  const { people } = await info(ines, id);
  expect(people.find((one) => one.id === maren.id)).toMatchObject({ name: 'Maren Holt-Vik', initials: 'MH' });
  await maren.ask('PATCH', '/api/me', { name: 'Maren Holt', initials: 'MH' });
  expect((await maren.ask('PUT', `/api/manuscripts/${id}/hue`, { hue: 5 })).status).toBe(204);
  expect((await info(ines, id)).people.find((one) => one.id === maren.id)!.hue).toBe(5);
  expect((await maren.ask('PATCH', '/api/me', { name: ' ' })).status).toBe(400);
  m.close();
});

test('people a file names are matched to members or stay outside; it can be changed back', async () => {
  const date = '2026-10-01T09:00:00Z';
  const runs = [
    new TextRun('The tide '),
    new InsertedTextRun({ text: 'always ', id: 1, author: 'M. Holt', date }),
    new DeletedTextRun({ text: 'never ', id: 2, author: ' ', date }),
    new TextRun('turns.'),
  ];
  const bytes = await Packer.toBuffer(new Document({ sections: [{ children: [new Paragraph({ children: runs })] }] }));
  const form = new FormData();
  form.append('file', new File([new Uint8Array(bytes)], 'Turned.docx'));
  const { id } = (await ines.ask<{ id: string }>('POST', '/api/manuscripts/import', form)).body;
  await share(id, 'proposer');
  const named = async (name: string) => (await info(ines, id)).people.find((one) => one.name === name);
  const holt = (await named('M. Holt'))!;
  const unnamed = (await named('Unnamed'))!;
  expect([holt.asked, holt.matchedTo, unnamed.asked]).toEqual([false, null, false]);
  const set = (person: Person, body: object) => ines.ask('PATCH', `/api/manuscripts/${id}/outside/${person.id}`, body);

  // Before, the change is an outsider's; she may not withdraw it.
  const m = await new Editor(maren, id).open();
  const [change] = listChanges(m.state.doc).filter(({ author }) => author === holt.id);
  const withdraw = () => m.ask('decide', { changes: [change!.id], verdict: 'reject', client: 'c' });
  expect((await withdraw()).refused).toMatch(/withdraw your own/);
  expect((await set(holt, { matchedTo: maren.id })).status).toBe(204);
  expect(await named('M. Holt')).toMatchObject({ matchedTo: maren.id, asked: true });
  expect((await set(holt, { asked: true })).status).toBe(204); // says nothing of who it is
  expect(await named('M. Holt')).toMatchObject({ matchedTo: maren.id });
  await set(holt, { matchedTo: null });
  expect((await withdraw()).refused).toMatch(/withdraw your own/);
  await set(holt, { matchedTo: maren.id });
  expect(await withdraw()).toMatchObject({ taken: true });

  // One the file does not name gets a name; nobody else can be renamed or matched this way.
  expect((await set(unnamed, { name: 'Piet Sandner' })).status).toBe(204);
  expect(await named('Piet Sandner')).toMatchObject({ asked: true, initials: 'PS' });
  const tobias = await demoPerson(server.address, 'tobias');
  expect((await set(unnamed, { matchedTo: tobias.id })).body.message).toMatch(/one of the manuscript’s people/);
  const member = (await info(ines, id)).people.find((one) => one.id === maren.id)!;
  expect((await set(member, { name: 'Renamed' })).status).toBe(404);
  m.close();
});

test('who has come, and where they are, is told to the others and to those only', async () => {
  const id = await manuscript('Here');
  await share(id, 'reader');
  const i = await new Editor(ines, id).open();
  const m = await new Editor(maren, id).open();
  await m.ask('join', { client: m.client });
  const heard: { person: string; client: string; at: object }[] = [];
  const gone: { client: string }[] = [];
  i.socket.on('presence', (message: (typeof heard)[number]) => heard.push(message));
  i.socket.on('gone', (message: { client: string }) => gone.push(message));
  const at = { version: m.version, anchor: 1, head: 1, top: 0 };
  m.socket.emit('presence', { manuscript: id, client: m.client, at, asks: true });
  await new Promise((resolve) => setTimeout(resolve, 150));
  expect(heard).toEqual([{ manuscript: id, person: maren.id, client: `${maren.id}.${m.client}`, at, asks: true }]);
  expect(TextSelection.near(i.state.doc.resolve(1)).head).toBe(at.head);
  m.close();
  await new Promise((resolve) => setTimeout(resolve, 150));
  expect(gone).toEqual([{ manuscript: id, client: `${maren.id}.${m.client}` }]);
  i.close();
});

test('signing out ends the live connections of that session', async () => {
  const visitor = await demoPerson(server.address, 'tobias');
  const id = (await visitor.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Out' })).body.id;
  const editor = await new Editor(visitor, id).open();
  const ended = new Promise((resolve) => editor.socket.once('disconnect', resolve));
  await visitor.ask('POST', '/api/sign-out');
  expect(await ended).toBe('io server disconnect');
});
