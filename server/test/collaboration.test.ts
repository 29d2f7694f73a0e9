import { Transform } from 'prosemirror-transform';
import { TextSelection } from 'prosemirror-state';
import { canonical, decide, listChanges, plainText, schema } from '@tea-pencil/core';
import { Editor, type Steps } from './support/editor';
import { demoPerson, sharedServer, startServer, type Visitor } from './support/server';

let server: Awaited<ReturnType<typeof sharedServer>>;
let ines: Visitor; // may decide in the first chapters, keeper of others
let maren: Visitor; // may propose
let harbour: Visitor; // may remark
beforeAll(async () => {
  server = await sharedServer();
  [ines, maren, harbour] = (await Promise.all(
    ['ines', 'maren', 'harbour'].map((login) => demoPerson(server.address, login)),
  )) as [Visitor, Visitor, Visitor];
});
afterAll(() => server.stop());

const settled = () => new Promise((resolve) => setTimeout(resolve, 200));
const open = (who: Visitor, manuscript: string) => new Editor(who, manuscript).open();

test('what one types in pencil the other sees, and a decision reaches both', async () => {
  const wrack = await ines.manuscript(/Wrack/);
  const [a, b] = await Promise.all([open(ines, wrack), open(maren, wrack)]);
  await b.edit((state) => state.tr.setSelection(TextSelection.create(state.doc, 3)).insertText('live '));
  await settled();
  const change = listChanges(a.state.doc).find(({ after }) => after === 'live ')!;
  expect(change).toMatchObject({ kind: 'insertion', author: maren.id });
  expect(await a.ask('decide', { changes: [change.id], verdict: 'accept', client: a.client })).toMatchObject({
    taken: true,
  });
  await settled();
  expect(canonical(a.state.doc)).toEqual(canonical(b.state.doc));
  expect(listChanges(b.state.doc).some(({ id }) => id === change.id)).toBe(false);
  expect(plainText(b.state.doc)).toContain('live ');
  a.close();
  b.close();
});

test('two who write at the same moment end with the same text, both their words in it', async () => {
  const wrack = await ines.manuscript(/Wrack/);
  const [a, b] = await Promise.all([open(ines, wrack), open(maren, wrack)]);
  const write = async (editor: Editor, letter: string) => {
    for (let i = 0; i < 15; i++) expect(await editor.type(letter)).toMatchObject({ taken: true });
  };
  await Promise.all([write(a, 'I'), write(b, 'M')]);
  await settled();
  expect(canonical(a.state.doc)).toEqual(canonical(b.state.doc));
  const end = plainText(a.state.doc).slice(-30);
  expect([...end].filter((c) => c === 'I').length).toBe(15);
  expect([...end].filter((c) => c === 'M').length).toBe(15);
  a.close();
  b.close();
});

describe('the rules are the server’s', () => {
  const mark = (author: string, date = new Date().toISOString().replace(/\.\d+/, '')) =>
    schema.marks.insertion!.create({ change: 'forged', author, date });

  test('nobody writes under another person’s id, or unrecorded, or in ink they may not use', async () => {
    const m = await open(maren, await ines.manuscript(/Wrack/));
    const before = m.version;
    const { tr } = m.state;
    const forged = await m.send(m.state.tr.insert(3, schema.text('x', [mark(ines.id)])), 'pencil');
    expect(forged.refused).toMatch(/somebody else/);
    expect((await m.send(tr.insertText('x', 3), 'pencil')).refused).toMatch(/without being recorded/);
    expect((await m.send(m.state.tr.insertText('x', 3), 'ink')).refused).toMatch(/not use ink/);
    expect(
      (await m.send(m.state.tr.insert(3, schema.text('x', [mark(maren.id, '2031-01-01T00:00:00Z')])), 'pencil'))
        .refused,
    ).toMatch(/future/);
    const again = await open(maren, m.manuscript);
    expect(again.version).toBe(before);
    m.close();
    again.close();
  });

  test('one who may propose withdraws their own changes and decides no others', async () => {
    const m = await open(maren, await ines.manuscript(/Wrack/));
    const of = (author: string) => listChanges(m.state.doc).find((change) => change.author === author)!.id;
    const decideAs = (id: string, verdict: string) => m.ask('decide', { changes: [id], verdict, client: m.client });
    expect((await decideAs(of(ines.id), 'reject')).refused).toMatch(/withdraw your own/);
    expect((await decideAs(of(maren.id), 'accept')).refused).toMatch(/withdraw your own/);
    expect(await decideAs(of(maren.id), 'reject')).toMatchObject({ taken: true });
    m.close();
  });

  test('one who may remark changes nothing in the text', async () => {
    const h = await open(harbour, await ines.manuscript(/Wrack/));
    const anchor = schema.marks.anchor!.create({ thread: 'a-thread' });
    expect((await h.type('x')).refused).toMatch(/may not change/);
    expect((await h.send(h.state.tr.addMark(3, 8, anchor), 'pencil')).refused).toMatch(/may not change/);
    expect((await h.send(h.state.tr.addMark(3, 8, anchor), 'anchor')).refused).toMatch(/understood/);
    h.close();
  });

  test('a manuscript one is no member of is closed, and malformed messages change nothing', async () => {
    const foreword = await ines.manuscript(/Foreword/);
    await expect(open(maren, foreword)).rejects.toThrow(/no such manuscript/);
    const wrack = await ines.manuscript(/Wrack/);
    const m = await open(maren, wrack);
    const before = m.state.doc;
    for (const message of [
      {},
      { steps: 'x' },
      { version: -1, steps: [{}], intent: 'pencil', client: 'c' },
      { version: 0, steps: [], intent: 'pencil', client: 'c' },
    ]) {
      expect((await m.ask('submit', message)).refused).toMatch(/cannot be understood/);
    }
    const bad = await m.ask('submit', {
      version: m.version,
      steps: [{ stepType: 'replace', from: 1, to: 1e9 }],
      intent: 'pencil',
      client: 'c',
    });
    expect(bad.refused).toMatch(/does not fit/);
    expect(
      (await m.ask('submit', { version: m.version + 5, steps: [{ stepType: 'x' }], intent: 'pencil', client: 'c' }))
        .behind,
    ).toBe(true);
    // Neither here nor on the server has a letter changed, nor a version been taken.
    const another = await open(ines, wrack);
    expect(canonical(another.state.doc)).toEqual(canonical(before));
    expect(another.version).toBe(m.version);
    another.close();
    expect(await m.type('still here')).toMatchObject({ taken: true });
    m.close();
  });

  test('without a session there is no live connection', async () => {
    const stranger = new (await import('./support/server')).Visitor(server.address);
    const socket = stranger.live();
    const heard: string[] = [];
    socket.onAny((name: string) => heard.push(name));
    await new Promise((resolve) => socket.once('disconnect', () => resolve(null)));
    expect(heard).toEqual(['signed-out']);
  });
});

test('a decision by the server is the decision of the core', async () => {
  const wrack = await ines.manuscript(/Wrack/);
  const a = await open(ines, wrack);
  const ids = listChanges(a.state.doc)
    .slice(0, 12)
    .map(({ id }) => id);
  const expected = decide(new Transform(a.state.doc), ids, 'reject').doc;
  await a.ask('decide', { changes: ids, verdict: 'reject', client: a.client });
  await settled();
  expect(canonical(a.state.doc)).toEqual(canonical(expected));
  a.close();
});

test('a decision is taken back whole, whatever was written since, and only once', async () => {
  const own = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Taken back' })).body.id;
  const a = await open(ines, own);
  await a.edit((state) => state.tr.insertText('Low water was at ten and high water at four', 1), 'ink');
  for (const [from, to, word] of [
    [26, 30, 'HIGH'],
    [1, 4, 'LOW'],
  ] as const) {
    await a.edit((state) => state.tr.insertText(word, from, to));
  }
  await settled();
  const pending = canonical(a.state.doc);
  const ids = listChanges(a.state.doc).map(({ id }) => id);
  expect(ids).toHaveLength(2);
  const { decision } = await a.ask('decide', { changes: ids, verdict: 'accept', client: a.client });
  await settled();
  expect(plainText(a.state.doc)).toBe('LOW water was at ten and HIGH water at four');
  await a.edit((state) => state.tr.insertText('yester', 18, 21), 'ink');
  await settled();
  expect(await a.ask('takeBack', { decision, client: a.client })).toMatchObject({ taken: true });
  await settled();
  const back = a.state.doc;
  expect(listChanges(back).map(({ id, before, after }) => [id, before, after])).toEqual([
    [ids[0], 'Low', 'LOW'],
    [ids[1], 'high', 'HIGH'],
  ]);
  expect(plainText(back)).toContain('was at yester and');
  expect(canonical(back)).not.toEqual(pending);
  const again = await a.ask('takeBack', { decision, client: a.client });
  expect(again.refused).toMatch(/taken back already/);
  // A second server process reads the same from the log.
  const other = await startServer();
  const b = await open(await demoPerson(other.address, 'ines'), own);
  expect(canonical(b.state.doc)).toEqual(canonical(back));
  b.close();
  a.close();
  await other.stop();
});

test('what was acknowledged survives kill -9 in mid-typing, and is there once', async () => {
  let running = await startServer();
  const port = Number(new URL(running.address).port);
  const own = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Killed' })).body.id;
  const writer = await open(await demoPerson(running.address, 'ines'), own);
  for (let round = 0; round < 3; round++) {
    const typing = (async () => {
      for (let i = 0; i < 400; i++) if (!(await writer.type(`${i % 10}`).catch(() => null))?.taken) return;
    })();
    await new Promise((resolve) => setTimeout(resolve, 150 + round * 90));
    await running.stop('SIGKILL');
    await typing;
    running = await startServer(port);
    const fresh = await open(await demoPerson(running.address, 'ines'), own);
    const there = plainText(fresh.state.doc);
    expect(writer.acknowledged.length).toBeGreaterThan(0);
    // One letter may have been kept whose acknowledgement died with the server.
    expect(there.startsWith(writer.acknowledged)).toBe(true);
    expect(there.length).toBeLessThanOrEqual(writer.acknowledged.length + 1);
    Object.assign(writer, {
      socket: fresh.socket,
      state: fresh.state,
      version: fresh.version,
      acknowledged: there,
      follow: fresh.follow,
    });
    fresh.socket.off('steps').on('steps', (message: Steps) => writer.follow(message));
  }
  writer.close();
  await running.stop();
}, 120_000);
