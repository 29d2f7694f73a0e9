import { Client } from 'pg';
import type { DeletedLine, DeskLine, FoundLine, HereNow } from '@tea-pencil/wire';
import { remarkOf } from '@tea-pencil/core';
import { Editor } from './support/editor';
import { demoPerson, guestOf, ownDatabase, startServer, type Running, type Visitor } from './support/server';

/** The desk: how one arranges it, finds on it, copies and deletes; on a database of its own. */

let server: Running;
let url: string;
let ines: Visitor;
let maren: Visitor;
beforeAll(async () => {
  url = await ownDatabase('desk', 'the demo');
  server = await startServer(undefined, { TEA_PENCIL_DATABASE_URL: url });
  ines = await demoPerson(server.address, 'ines');
  maren = await demoPerson(server.address, 'maren');
});
afterAll(() => server.stop());

const at = (id: string, more = '') => `/api/manuscripts/${id}${more}`;
const desk = async (who: Visitor) => (await who.ask<DeskLine[]>('GET', '/api/manuscripts')).body;
const line = async (who: Visitor, id: string) => (await desk(who)).find((one) => one.id === id);
const found = async (who: Visitor, words: string) =>
  (await who.ask<FoundLine[]>('GET', `/api/manuscripts/found?words=${encodeURIComponent(words)}`)).body;
const begun = async (title: string) => (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title })).body.id;
async function until<T>(look: () => Promise<T>, good: (value: T) => boolean): Promise<T> {
  for (let i = 0; ; i++) {
    const value = await look();
    if (good(value) || i > 150) return value;
    await new Promise((done) => setTimeout(done, 100));
  }
}
async function bringIn(name: string, text: string): Promise<string> {
  const form = new FormData();
  form.append('file', new File([text], name));
  return (await ines.ask<{ id: string }>('POST', '/api/manuscripts/import', form)).body.id;
}

test('archive and labels are one’s own', async () => {
  const id = await begun('Labelled');
  await ines.ask('PUT', at(id, `/members/${maren.id}`), { role: 'decider' });
  expect((await ines.ask('PUT', at(id, '/desk'), { labels: ['tides', 'to read', 'tides'] })).status).toBe(204);
  expect((await ines.ask('PUT', at(id, '/desk'), { archived: true })).status).toBe(204);
  expect(await line(ines, id)).toMatchObject({ archived: true, labels: ['tides', 'to read'] });
  expect(await line(maren, id)).toMatchObject({ archived: false, labels: [] });
  for (const wrong of [{}, { labels: ['x'.repeat(41)] }, { labels: Array.from({ length: 21 }, (_, i) => `l${i}`) }])
    expect((await ines.ask('PUT', at(id, '/desk'), wrong)).status).toBe(400);
});

test('words are found in titles and in texts as they read when all is accepted, a moment after they were written', async () => {
  const id = await bringIn(
    'Kilns.txt',
    'The brickworks stands above the shore.\nNobody has made bricks since the war.',
  );
  expect(await found(ines, 'brickwo SHO')).toEqual([
    { id, piece: ['The ', 'brickworks', ' stands above the shore. Nobody has made bricks since the wa…'] },
  ]);
  expect((await found(ines, 'KILNS')).map((one) => one.id)).toEqual([id]);
  expect(await found(ines, 'brickworks mermaid')).toEqual([]);
  expect(await found(ines, '  ¶ ')).toEqual([]);
  expect(await found(maren, 'brickworks')).toEqual([]);
  const editor = await new Editor(ines, id).open();
  await editor.edit((state) => state.tr.insertText('Übermut und Flut. ', 1), 'pencil');
  editor.close();
  expect(
    (
      await until(
        () => found(ines, 'übermut flut'),
        (all) => all.length > 0,
      )
    ).map((one) => one.id),
  ).toEqual([id]);
  // What would be a search of another kind elsewhere is words here; a text of one word without end is one.
  for (const odd of [`'`, `kiln' | 'x`, `!kiln`, `kiln & !war`, `\\`, `a:*`, '(', '%', 'x'.repeat(200)])
    expect(Array.isArray(await found(ines, odd))).toBe(true);
  const endless = await bringIn('Endless.txt', `${'a'.repeat(70_001)} ${'😀'.repeat(40_000)} selkie`);
  expect((await found(ines, 'selkie')).map((one) => one.id)).toEqual([endless]);
});

test('a copy has everything the manuscript has, under ids of its own, and is on one desk alone', async () => {
  const wrack = await ines.manuscript(/Wrack Line$/);
  const { status, body } = await ines.ask<{ id: string }>('POST', at(wrack, '/copy'));
  expect(status).toBe(201);
  const [original, copy] = [await line(ines, wrack), await line(ines, body.id)];
  expect(copy).toMatchObject({
    title: '3 · The Wrack Line (copy)',
    role: 'keeper',
    pending: original!.pending,
    kinds: original!.kinds,
  });
  expect(await line(maren, body.id)).toBeUndefined();
  const texts = [];
  for (const id of [wrack, body.id]) {
    const editor = await new Editor(ines, id).open();
    texts.push(editor.state.doc);
    editor.close();
  }
  expect(texts[0]!.textContent).toBe(texts[1]!.textContent);
  type Told = { id: string; quote: string; comments: { id: string; body: object }[] }[];
  const threads = async (id: string) => (await ines.ask<Told>('GET', at(id, '/threads'))).body;
  const [was, is] = [await threads(wrack), await threads(body.id)];
  const said = (all: Told) => new Set(all.map(({ quote, comments }) => [quote, ...comments.map((one) => one.body)]));
  expect(said(is)).toEqual(said(was));
  expect(is.map(({ id }) => id).filter((id) => was.some((one) => one.id === id))).toEqual([]);
});

test('what is deleted is gone from all desks but its keepers’, who bring it back; after thirty days it is gone with all it had', async () => {
  const id = await bringIn('To be deleted.txt', 'The selkie of the third groyne.');
  await ines.ask('PUT', at(id, `/members/${maren.id}`), { role: 'decider' });
  const thread = { id: 'gone-thread', whole: true, comment: { id: 'gone-comment', body: remarkOf('Gone?') } };
  await maren.ask('POST', at(id, '/threads'), thread);
  const guest = await guestOf(ines, id, { role: 'reader', name: 'Jo' });
  expect((await ines.ask('DELETE', at(id))).status).toBe(204);
  expect([await line(ines, id), await line(maren, id)]).toEqual([undefined, undefined]);
  expect(await found(ines, 'selkie groyne')).toEqual([]);
  const deleted = async (who: Visitor) =>
    (await who.ask<DeletedLine[]>('GET', '/api/deleted')).body.filter((one) => one.id === id);
  expect(await deleted(maren)).toEqual([]);
  const [gone] = await deleted(ines);
  expect(gone).toMatchObject({ title: 'To be deleted', byName: 'Ines Vega' });
  expect(Date.parse(gone!.goesAt) - Date.parse(gone!.at)).toBe(30 * 24 * 3600_000);
  expect((await ines.ask('POST', `/api/deleted/${id}/back`)).status).toBe(204);
  expect(await line(maren, id)).toMatchObject({ title: 'To be deleted', openThreads: 1 });
  expect((await guest.ask('GET', at(id))).status).toBe(200);
  await ines.ask('DELETE', at(id));
  const database = new Client({ connectionString: url });
  await database.connect();
  await database.query(`UPDATE manuscripts SET deleted_at = now() - interval '31 days' WHERE id = $1`, [id]);
  const again = await startServer(undefined, { TEA_PENCIL_DATABASE_URL: url }); // looks for what is due when it starts
  const left = async () => {
    const { rows } = await database.query<{ t: string; n: string }>(
      `SELECT 'manuscripts' AS t, count(*) AS n FROM manuscripts WHERE id = $1
       UNION ALL SELECT 'threads', count(*) FROM threads WHERE manuscript_id = $1
       UNION ALL SELECT 'steps', count(*) FROM steps WHERE manuscript_id = $1
       UNION ALL SELECT 'searchable', count(*) FROM searchable WHERE manuscript_id = $1
       UNION ALL SELECT 'grants', count(*) FROM grants WHERE manuscript_id = $1
       UNION ALL SELECT 'links', count(*) FROM links WHERE manuscript_id = $1
       UNION ALL SELECT 'guests', count(*) FROM people WHERE id = $2`,
      [id, guest.id],
    );
    return rows.filter(({ n }) => n !== '0');
  };
  expect(await until(left, (all) => !all.length)).toEqual([]);
  expect((await ines.ask('POST', `/api/deleted/${id}/back`)).status).toBe(404);
  expect((await guest.ask<{ me: unknown }>('GET', '/api/me')).body.me).toBeNull();
  await again.stop();
  await database.end();
});

test('who has a manuscript open is told on the desk, in whatever process they are; oneself is not', async () => {
  const other = await startServer(undefined, { TEA_PENCIL_DATABASE_URL: url });
  const wrack = await ines.manuscript(/Wrack Line$/);
  const here = async () =>
    (await ines.ask<HereNow>('GET', '/api/manuscripts/here')).body[wrack]?.map(({ name }) => name);
  expect(await here()).toBeUndefined();
  const elsewhere = await demoPerson(other.address, 'maren');
  const editor = await new Editor(elsewhere, wrack).open();
  const own = await new Editor(ines, wrack).open();
  expect(await until(here, (names) => !!names?.length)).toEqual(['Maren Holt']);
  editor.close();
  expect(await until(here, (names) => !names?.length)).toEqual([]);
  own.close();
  await other.stop();
});

test('a file’s own title, else its first heading, else its name', async () => {
  const title = async (id: string) => (await line(ines, id))!.title;
  expect(
    await title(await bringIn('page.html', '<!doctype html><title>Neap and spring</title><h2>Tides</h2><p>a')),
  ).toBe('Neap and spring');
  expect(await title(await bringIn('page.html', '<!doctype html><h2>Tides</h2><p>a'))).toBe('Tides');
  expect(await title(await bringIn('chapter.md', '---\ntitle: "Slack water"\n---\n\n# Tides\n'))).toBe('Slack water');
  expect(await title(await bringIn('notes.txt', 'a'))).toBe('notes');
});
