import { unzipSync, zipSync } from 'fflate';
import { Node } from 'prosemirror-model';
import { fairReading, formats, kinds, listChanges, plainText, readDocx, schema, writeOdt } from '@tea-pencil/core';
import { handout } from '../../core/test/support/handout';
import { odtHandout } from '../../core/test/support/odt-handout';
import { docxOf, p, partOf, r } from '../../core/test/support/package';
import { Editor } from './support/editor';
import { demoPerson, sharedServer, type Visitor } from './support/server';

/** A file comes in, and goes out again with what was done here and nothing else. */

let server: Awaited<ReturnType<typeof sharedServer>>;
let ines: Visitor;
beforeAll(async () => {
  server = await sharedServer();
  ines = await demoPerson(server.address, 'ines');
});
afterAll(() => server.stop());

const bringIn = async (name: string, bytes: Uint8Array) => {
  const form = new FormData();
  form.append('file', new File([bytes as Uint8Array<ArrayBuffer>], name));
  return ines.ask<{ id: string; losses: unknown[]; carried: { what: string; howMany: number }[] }>(
    'POST',
    '/api/manuscripts/import',
    form,
  );
};
const take = async (id: string, kind: string) => {
  const response = await fetch(`${server.address}/api/manuscripts/${id}/copies/${kind}`, {
    headers: { cookie: ines.cookie },
  });
  if (!response.ok) throw new Error(await response.text());
  return {
    status: response.status,
    name: /filename="([^"]*)"/.exec(response.headers.get('content-disposition') ?? '')?.[1],
    bytes: new Uint8Array(await response.arrayBuffer()),
  };
};
const textOf = async (id: string) => {
  const { body } = await ines.ask<{ doc: object }>('GET', `/api/manuscripts/${id}/versions/0`);
  return Node.fromJSON(schema, body.doc);
};

test('a file that was brought in and not touched goes out the same, byte for byte in every part', async () => {
  const { status, body } = await bringIn('Handout 7b.docx', handout);
  expect([status, body.losses]).toEqual([201, []]);
  expect(body.carried.map(({ what }) => what)).toEqual(
    expect.arrayContaining(['formula', 'text box', 'field', 'content control', 'header or footer']),
  );
  const { bytes } = await take(body.id, 'marked.docx');
  expect(unzipSync(bytes)).toEqual(unzipSync(handout));
});

test('its pictures are shown to its members', async () => {
  const { body } = await bringIn('Handout 7b.docx', handout);
  const assets: string[] = [];
  (await textOf(body.id)).descendants((node) => {
    if (node.type.name === 'image') assets.push(node.attrs.asset as string);
  });
  expect(assets).toHaveLength(1);
  const shown = await fetch(`${server.address}/api/assets/${assets[0]}`, { headers: { cookie: ines.cookie } });
  expect([shown.status, shown.headers.get('content-type')]).toEqual([200, 'image/png']);
  const stranger = await fetch(`${server.address}/api/assets/${assets[0]}`);
  expect(stranger.status).toBe(401);
});

test('with an edit and a decision, only their paragraphs are written anew; the copies are named after the manuscript', async () => {
  const { body } = await bringIn('Handout 7b.docx', handout);
  await ines.ask('PATCH', `/api/manuscripts/${body.id}`, { title: 'A walk: 7b' });
  const editor = await new Editor(ines, body.id).open();
  const change = listChanges(editor.state.doc).find(({ after }) => after === 'wrack')!;
  const answer = await editor.ask('decide', { changes: [change.id], verdict: 'accept', client: 'files-test' });
  expect(answer.refused).toBeUndefined();
  editor.socket.close();
  const { name, bytes } = await take(body.id, 'marked.docx');
  expect(name).toBe('A walk- 7b (marked).docx');
  const [before, after] = [partOf(handout, 'word/document.xml'), partOf(bytes, 'word/document.xml')];
  expect(after).not.toContain('kelp');
  const paragraphs = (xml: string) => xml.match(/<w:p[ >].*?<\/w:p>/gs)!;
  const changed = paragraphs(before).filter((one) => !after.includes(one));
  expect(changed).toEqual([expect.stringContaining('kelp')]);
  const others = (file: Uint8Array) => ({ ...unzipSync(file), 'word/document.xml': null });
  expect(others(bytes)).toEqual(others(handout));
});

test('the fair copy is read again before anyone gets it: no change, no comment, the words of the fair reading', async () => {
  const { body } = await bringIn('Handout 7b.docx', handout);
  const fair = await readDocx((await take(body.id, 'fair.docx')).bytes);
  expect([listChanges(fair.manuscript.doc), fair.manuscript.threads]).toEqual([[], []]);
  expect(plainText(fair.manuscript.doc)).toContain('under the wrack.');
  const commented = await readDocx((await take(body.id, 'commented.docx')).bytes);
  expect(listChanges(commented.manuscript.doc)).toEqual([]);
  expect(commented.manuscript.threads.map(({ quote, comments }) => [quote, comments.length])).toEqual([
    ['Take a stick', 2],
  ]);
});

test('a picture that is none stays a thing of its file, and goes out as it came', async () => {
  const parts = unzipSync(handout);
  // It begins like a PNG and is cut off (PNG, 2nd edition, 5.2).
  parts['word/media/hopper.png'] = parts['word/media/hopper.png']!.slice(0, 30);
  const lying = zipSync(parts);
  const { status, body } = await bringIn('Lying.docx', lying);
  expect(status).toBe(201);
  const found: unknown[] = [];
  (await textOf(body.id)).descendants((node) => {
    if (node.type.name === 'image' || node.attrs.what === 'picture') found.push([node.type.name, node.attrs.says]);
  });
  expect(found).toEqual([['carried_thing', 'a sand hopper']]);
  expect(unzipSync((await take(body.id, 'marked.docx')).bytes)).toEqual(unzipSync(lying));
});

test('whoever waits for a file to be read is told how far that is', async () => {
  const long = docxOf(p(r('At low water the slipway is dry. ').repeat(8)).repeat(9000));
  let done = false;
  const coming = bringIn('Long.docx', long).finally(() => (done = true));
  const seen: number[] = [];
  while (!done) {
    const { body } = await ines.ask<{ part: number | null }>('GET', '/api/manuscripts/import/waiting');
    if (body.part !== null) seen.push(body.part);
    await new Promise((go) => setTimeout(go, 20));
  }
  expect((await coming).status).toBe(201);
  expect(seen.length).toBeGreaterThan(0);
  expect(seen).toEqual([...seen].sort((a, b) => a - b));
  expect(seen[0]).toBeGreaterThan(0);
  expect(seen.at(-1)).toBeLessThanOrEqual(1);
});

const holding = Object.values(kinds).filter(({ holds }) => holds.changes);

test.each(holding.map(({ name }) => name))(
  'the chapter goes out as %s in every form, and the marked copy comes in again with the same words and changes',
  async (name) => {
    const id = await ines.manuscript(/The Wrack Line/); // the chapter of the demo, with all that is pending in it
    const marked = await take(id, `marked.${name}`);
    expect(marked.name).toMatch(new RegExp(`\\(marked\\)\\.${name}$`));
    // What is given out has been read again: no change, the comments it should have, the words of the fair reading.
    for (const form of ['fair', 'commented']) expect((await take(id, `${form}.${name}`)).status).toBe(200);
    const { status, body } = await bringIn(`Again.${name}`, marked.bytes);
    expect([status, body.losses]).toEqual([201, []]);
    const [first, second] = await Promise.all([
      formats.docx.read((await take(id, 'marked.docx')).bytes),
      textOf(body.id),
    ]);
    const { doc } = first.manuscript;
    expect(plainText(fairReading(second)).replace(/\n+/g, '\n')).toBe(
      plainText(fairReading(doc)).replace(/\n+/g, '\n'),
    );
    // Of looks and tables, Markdown knows no change.
    const held = (kind: string) => name !== 'md' || !['formatting', 'paragraph', 'table'].includes(kind);
    const told = (text: Node) =>
      listChanges(text)
        .filter(({ kind }) => held(kind))
        .map(({ kind, date, before, after }) => [kind, date, before, after].join('|'))
        .sort();
    expect(told(second)).toEqual(told(doc));
  },
);

test('an ODT that was brought in goes out as it came, and as a DOCX with what that can hold', async () => {
  const { status, body } = await bringIn('Handout 7b.odt', odtHandout);
  expect(status).toBe(201);
  expect((await ines.ask<{ cameAs: string }>('GET', `/api/manuscripts/${body.id}`)).body.cameAs).toBe('odt');
  expect((await take(body.id, 'marked.odt')).bytes).toEqual(odtHandout);
  const other = await readDocx((await take(body.id, 'marked.docx')).bytes);
  expect(listChanges(other.manuscript.doc).map(({ before, after }) => [before, after])).toEqual(
    listChanges(await textOf(body.id)).map(({ before, after }) => [before, after]),
  );
  for (const kind of ['fair.odt', 'fair.fodt', 'fair.html', 'fair.md', 'fair.txt'])
    expect((await take(body.id, kind)).status).toBe(200);
});

test('a text of Windows goes out with its line ends, its encoding was said', async () => {
  const { body } = await bringIn('tides.txt', Uint8Array.from(Buffer.from('Ebbe \x96 Flut\r\nzwei\r\n', 'latin1')));
  expect(body.losses).toEqual([
    { what: 'encoding: read as Windows-1252, copies are in UTF-8', where: 'file', howMany: 1 },
  ]);
  expect(new TextDecoder().decode((await take(body.id, 'fair.txt')).bytes)).toBe('Ebbe – Flut\r\nzwei\r\n');
});

test('whoever waits for a book is told how many of its changes have been read', async () => {
  const { doc: docType, paragraph } = schema.nodes;
  const insertion = (n: number) =>
    schema.marks.insertion.create({ change: `c${n}`, author: 'ann', date: '2026-11-01T09:00:00Z' });
  const blocks = Array.from({ length: 5000 }, (_, n) =>
    paragraph.create(null, [schema.text('The tide comes in over the flats, '), schema.text('slowly', [insertion(n)])]),
  );
  const people = [{ id: 'ann', name: 'Ann', initials: 'A' }];
  const book = await writeOdt({ doc: docType.create(null, blocks), people, threads: [], assets: [] });
  let done = false;
  const reading = bringIn('Book.odt', book).finally(() => (done = true));
  const seen: { done: number; of: number }[] = [];
  while (!done) {
    const { changes } = (
      await ines.ask<{ changes: { done: number; of: number } | null }>('GET', '/api/manuscripts/import/waiting')
    ).body;
    if (changes) seen.push(changes);
    await new Promise((next) => setTimeout(next, 20));
  }
  expect((await reading).status).toBe(201);
  expect(seen.length).toBeGreaterThan(0);
  expect(seen.every((one) => one.of === 5000 && one.done <= one.of)).toBe(true);
});
