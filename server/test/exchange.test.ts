import { zipSync, strToU8 } from 'fflate';
import { demoPerson, sharedServer, type Visitor } from './support/server';
import { Node } from 'prosemirror-model';
import { beforeReading, fairReading, plainText, readDocx, schema } from '@tea-pencil/core';
import { linesOf, marks, ours, paragraphs } from '../../core/test/support/pandoc';

let server: Awaited<ReturnType<typeof sharedServer>>;
let ines: Visitor;
beforeAll(async () => {
  server = await sharedServer();
  ines = await demoPerson(server.address, 'ines');
});
afterAll(() => server.stop());

const bringIn = async (name: string, bytes: Uint8Array<ArrayBuffer>) => {
  const form = new FormData();
  form.append('file', new File([bytes], name));
  return ines.ask<{ id?: string; message?: string }>('POST', '/api/manuscripts/import', form);
};
const download = async (id: string, kind: string) => {
  const response = await fetch(`${server.address}/api/manuscripts/${id}/copies/${kind}`, {
    headers: { cookie: ines.cookie },
  });
  return new Uint8Array(await response.arrayBuffer());
};

// Outside check: pandoc (Debian), on the whole demo chapter.
test('pandoc finds in the exported demo chapter the changes, authors, dates and texts that we find', async () => {
  const bytes = await download(await ines.manuscript(/Wrack/), 'marked.docx');
  const { manuscript, losses } = await readDocx(bytes);
  expect(losses).toEqual([]);
  const found = marks(bytes);
  expect(found.changes).toEqual(ours(manuscript.doc, manuscript.people));
  expect(found.changes.length).toBeGreaterThan(60);
  // A highlight is a comment that says nothing. What is about the whole stands at the title, which pandoc takes away.
  const placed = manuscript.threads.filter(({ whole }) => !whole);
  const said = placed.flatMap(({ tint, comments }) => (tint ? [tint, ...comments] : comments));
  expect(found.comments.length).toBe(said.length);
  expect(said.length).toBeGreaterThan(18);
  // pandoc takes the title out of the text, to its metadata.
  const body = (text: string) => linesOf(text).slice(1);
  expect(paragraphs(bytes, 'accept')).toEqual(body(plainText(fairReading(manuscript.doc))));
  expect(paragraphs(bytes, 'reject')).toEqual(body(plainText(beforeReading(manuscript.doc))));
});

test('a marked copy that is brought in again has the same changes, under outside people', async () => {
  const wrack = await ines.manuscript(/Wrack/);
  const before = (await ines.manuscripts()).find(({ id }) => id === wrack)!;
  const { status, body } = await bringIn(
    'Again.docx',
    (await download(wrack, 'marked.docx')) as Uint8Array<ArrayBuffer>,
  );
  expect(status).toBe(201);
  const after = (await ines.manuscripts()).find(({ id }) => id === body.id)!;
  // Its first heading, as that reads when all is accepted; other tests write in it.
  expect(after.title).toMatch(/^3 .*The Wrack Line/);
  expect(after.pending).toBe(before.pending);
  const { people } = (
    await ines.ask<{ people: { name: string; role: string | null }[] }>('GET', `/api/manuscripts/${body.id}`)
  ).body;
  // The file names Ines, but no file can speak for someone with an account.
  expect(
    people
      .filter(({ name }) => name === 'Ines Vega')
      .map(({ role }) => role)
      .sort(),
  ).toEqual(['keeper', null]);
  expect((await ines.ask<unknown[]>('GET', `/api/manuscripts/${body.id}/threads`)).body).toHaveLength(15);
});

describe('a file that cannot be brought in is named, with the reason and what is taken', () => {
  const cases: [string, Uint8Array<ArrayBuffer>, RegExp][] = [
    ['empty.docx', new Uint8Array(), /“empty\.docx” is empty\./],
    ['letter.docx', strToU8('Dear all') as Uint8Array<ArrayBuffer>, /“letter\.docx” is not what its name says/],
    ['sheet.docx', zipSync({ 'xl/workbook.xml': strToU8('<x/>') }) as Uint8Array<ArrayBuffer>, /no main text/],
    [
      'broken.docx',
      zipSync({ 'word/document.xml': strToU8('<w:document>') }) as Uint8Array<ArrayBuffer>,
      /XML inside is broken/,
    ],
    ['picture.png', new Uint8Array(20), /“picture\.png” is of a kind/],
    ['picture.txt', new Uint8Array([0x89, 0x50, 0x4e, 0x47, 0, 1]), /“picture\.txt” is no plain text/],
    [
      'sheet.odt',
      zipSync({ mimetype: strToU8('application/vnd.oasis.opendocument.spreadsheet') }) as Uint8Array<ArrayBuffer>,
      /but no text/,
    ],
    ['Überlänge.docx', new Uint8Array(60 << 20), /“Überlänge\.docx” is larger than 50 MB/],
  ];
  test.each(cases)('%s', async (name, bytes, sentence) => {
    const before = (await ines.manuscripts()).length;
    const { status, body } = await bringIn(name, bytes);
    expect([400, 413]).toContain(status);
    expect(body.message).toMatch(sentence);
    expect(body.message).toMatch(/DOCX files, ODT files, .*pages \(HTML\), Markdown \(MD\) and plain text/);
    expect((await ines.manuscripts()).length).toBe(before);
  });
});

test('no paragraph of the demo texts begins or ends with a space, however they are read', async () => {
  let lines = 0;
  for (const title of [/^3 .*The Wrack Line/, /^Foreword/, /^1 · Before You Set Out/, /^9 · Winter Tides/]) {
    const id = await ines.manuscript(title);
    const { body } = await ines.ask<{ doc: object }>('GET', `/api/manuscripts/${id}/versions/0`);
    const doc = Node.fromJSON(schema, body.doc);
    for (const text of [plainText(fairReading(doc)), plainText(beforeReading(doc))])
      for (const line of text.split('\n')) {
        expect(line).toBe(line.trim());
        lines++;
      }
  }
  expect(lines).toBeGreaterThan(50);
});
