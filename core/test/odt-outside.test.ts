import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import { unzipSync } from 'fflate';
import {
  beforeReading,
  fairReading,
  listChanges,
  plainText,
  readDocx,
  readFodt,
  readOdt,
  remarkText,
  schema,
  squareTables,
  writeDocx,
  writeFodt,
  writeOdt,
  type Asset,
  type Manuscript,
  type Person,
} from '../src/index.js';
import { Transform } from 'prosemirror-transform';
import { anew } from './support/anew.js';
import { authors, documentOf, recorded, someDocument, someEdit } from './support/editing.js';
import { handout } from './support/handout.js';
import { odtHandout } from './support/odt-handout.js';
import { partOf, pixel } from './support/package.js';
import { linesOf } from './support/pandoc.js';

const people: Person[] = authors.map((id) => ({ id, name: `${id} Author`, initials: id[0]!.toUpperCase() }));
const assets: Asset[] = ['one', 'two'].map((id) => ({ id, type: 'image/png', bytes: pixel }));

// ---- the schema of the standard: RELAX NG of OpenDocument 1.3, as Debian’s emacs-common ships it, by Debian’s jing

const emacs = '/usr/share/emacs';
const schemaFile = readdirSync(emacs)
  .map((version) => path.join(emacs, version, 'etc/schema/OpenDocument-schema-v1.3.rnc'))
  .find((file) => existsSync(file))!;

/** A part without what is in namespaces of others: foreign attributes are allowed besides the schema (part 3, 22.3.2). */
const ownOnly = (xml: string) =>
  xml.replace(/<tp:pictures>.*<\/tp:pictures>/s, '').replace(/ (xmlns:tp|tp:\w+)="[^"]*"/g, '');

/** What the schema says against pieces of XML; nothing where they are valid. */
function complaints(pieces: readonly string[]): string {
  const folder = mkdtempSync(path.join(tmpdir(), 'schema-'));
  try {
    const files = pieces.map((xml, i) => {
      const file = path.join(folder, `${i}.xml`);
      writeFileSync(file, ownOnly(xml));
      return file;
    });
    execFileSync('jing', ['-i', '-c', schemaFile, ...files], { stdio: ['ignore', 'pipe', 'ignore'] });
    return '';
  } catch (problem) {
    return String((problem as { stdout?: Buffer }).stdout);
  } finally {
    rmSync(folder, { recursive: true });
  }
}

const partsOf = (file: Uint8Array) => ['content.xml', 'styles.xml'].map((name) => partOf(file, name));

test('what we write keeps to the schema of the standard: random manuscripts, and the handouts written anew', async () => {
  const pieces: string[] = [];
  const add = async (manuscript: Manuscript) => {
    pieces.push(...partsOf(await writeOdt(manuscript)));
    const { origin: _, ...rest } = manuscript;
    pieces.push(new TextDecoder().decode(await writeFodt(rest)));
  };
  const script = fc.array(someEdit(3), { maxLength: 8 });
  for (const [doc, edits] of fc.sample(fc.tuple(someDocument, script), { numRuns: 40, seed: 1303 })) {
    const tr = new Transform(recorded(doc, edits));
    squareTables(tr);
    await add({ doc: tr.doc, people, threads: [], assets });
  }
  await add(anew((await readOdt(odtHandout)).manuscript));
  const { origin: _, ...fromDocx } = (await readDocx(handout)).manuscript;
  await add(fromDocx);
  expect(complaints(pieces)).toBe('');
  // It can fail.
  expect(complaints([pieces[0]!.replace('<text:p ', '<text:q ').replace('</text:p>', '</text:q>')])).toMatch(/text:q/);
});

// ---- pandoc (Debian)

const pandoc = (from: string, to: string, input: Uint8Array | string, ...more: string[]) =>
  execFileSync('pandoc', ['-f', from, '-t', to, ...more], { input, stdio: ['pipe', 'pipe', 'ignore'] });

/** The paragraphs of what pandoc reads; it takes all changes for accepted. */
function paragraphs(file: Uint8Array): string[] {
  const text = pandoc('odt', 'plain', file, '--wrap=none').toString();
  return linesOf(text);
}

test('pandoc reads the fair text in our files', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.constant(documentOf('the tide x y', 'ab the tide, ab', 'x y ab')),
      fc.array(someEdit(3, ['type', 'delete', 'backspace', 'split', 'join', 'whole', 'toggle', 'restyle']), {
        minLength: 1,
        maxLength: 6,
      }),
      async (doc, script) => {
        const marked = recorded(doc, script);
        const file = await writeOdt({ doc: marked, people, threads: [], assets: [] });
        expect(paragraphs(file)).toEqual(linesOf(plainText(fairReading(marked))));
        const before = await writeOdt({ doc: beforeReading(marked), people, threads: [], assets: [] });
        expect(paragraphs(before)).toEqual(linesOf(plainText(beforeReading(marked))));
      },
    ),
    { numRuns: 20 },
  );
});

const rich = `# The Wrack Line

Turn the *wrack* over with a **stick**^2^; H~2~O, ~~weed~~ and the [map](https://harrow.example/).[^1]

> Mind the tide.

- boots
- a bucket
    1. with a lid
    2. of tin

| Day | High  |
|-----|-------|
| Mon | 06:12 |

[^1]: Third edition.
`;

test('what pandoc writes is read as pandoc itself reads it, and written anew is the same to pandoc', async () => {
  const file = new Uint8Array(pandoc('markdown', 'odt', rich, '-o', '-'));
  const { manuscript, losses } = await readOdt(file);
  expect(losses).toEqual([]);
  const { doc } = manuscript;
  expect(plainText(doc).split('\n')).toEqual([
    'The Wrack Line',
    'Turn the wrack over with a stick2; H2O, weed and the map.',
    'Mind the tide.',
    'boots',
    'a bucket',
    'with a lid',
    'of tin',
    'Day',
    'High',
    'Mon',
    '06:12',
    '',
  ]);
  const looks: string[] = [];
  doc.descendants((node) => {
    const names = node.marks
      .map(({ type, attrs }) => `${type.name}${attrs.href ?? attrs.value ?? ''}`)
      .filter((name) => !name.startsWith('carried'));
    if (node.isText && names.length) looks.push(`${node.text}: ${names.join(' ')}`);
    if (node.type.name === 'footnote') looks.push(`note: ${node.textContent}`);
    if (node.attrs.list) looks.push(`${node.textContent}: ${node.attrs.list.kind} ${node.attrs.list.level}`);
    if (node.type.name === 'table_cell') looks.push(`${node.textContent}: ${node.attrs.header ? 'head' : 'cell'}`);
  });
  expect(looks).toEqual([
    'wrack: italic',
    'stick: bold',
    '2: scriptsuper',
    '2: scriptsub',
    'weed: strike',
    'map: linkhttps://harrow.example/',
    'note: Third edition.',
    'boots: bullet 0',
    'a bucket: bullet 0',
    'with a lid: number 1',
    'of tin: number 1',
    'Day: head',
    'High: head',
    'Mon: cell',
    '06:12: cell',
  ]);
  expect(doc.child(2).attrs.style).toBe('quotation');
  const json = (bytes: Uint8Array) => JSON.parse(pandoc('odt', 'json', bytes).toString()) as { blocks: unknown[] };
  expect(await writeOdt(manuscript)).toEqual(file);
  // A manuscript never ends with a table; written anew, the paragraph behind it is there.
  const again = json(await writeOdt(anew(manuscript)));
  expect(again.blocks.pop()).toEqual({ t: 'Para', c: [] });
  expect(again).toEqual(json(file));
  // With an edit elsewhere it is not.
  const edited = new Transform(doc).insert(1, schema.text('(new) ')).doc;
  expect(json(await writeOdt({ ...manuscript, doc: edited })).blocks.length).toBe(json(file).blocks.length);
});

// ---- odfpy (Debian’s python3-odf)

const python = (script: string, input: Uint8Array | string): Buffer =>
  execFileSync('/usr/bin/python3', ['-c', script], { input });

test('odfpy reads our packages: styles, lists, tables, pictures, changes, annotations', async () => {
  const { doc: docType, table, table_row: row, table_cell: cell, paragraph, image } = schema.nodes;
  const by = (change: string) => ({ change, author: 'ann', date: '2026-11-20T08:00:00Z' });
  const words = (text: string, ...marks: Parameters<typeof schema.text>[1] & object) => schema.text(text, marks);
  const doc = docType.create(null, [
    paragraph.create({ style: 'heading1' }, words('The Wrack Line')),
    paragraph.create({ list: { kind: 'bullet', level: 1 } }, words('whelks')),
    table.create(null, [
      row.create(null, [cell.create({ colspan: 2 }, paragraph.create(null, words('Tides')))]),
      row.create(null, [
        cell.create(null, paragraph.create(null, words('Mon'))),
        cell.create(null, paragraph.create()),
      ]),
    ]),
    paragraph.create(null, [
      words('Turn '),
      words('weed', schema.marks.deletion.create(by('c1'))),
      words('wrack', schema.marks.insertion.create(by('c1')), schema.marks.anchor.create({ thread: 't1' })),
      image.create({ asset: 'one', alt: 'a crab', width: 96, height: 48 }),
    ]),
  ]);
  const body = {
    type: 'doc' as const,
    content: [{ type: 'line' as const, attrs: { list: null }, content: [{ type: 'text' as const, text: 'Why?' }] }],
  };
  const comment = { id: 'k1', author: 'ben', date: '2026-11-20T09:00:00Z', body };
  const threads = [
    { id: 't1', author: 'ben', date: comment.date, quote: 'wrack', resolved: false, comments: [comment] },
  ];
  const file = await writeOdt({ doc, people, threads, assets });
  const script = `
import sys, io, json
from odf import opendocument, text, table, draw, office, dc, teletype
d = opendocument.load(io.BytesIO(sys.stdin.buffer.read()))
def words(e): return teletype.extractText(e)
print(json.dumps({
  'headings': [[words(h), h.getAttribute('outlinelevel')] for h in d.getElementsByType(text.H)],
  'lists': [words(l) for l in d.getElementsByType(text.List)],
  'spans': [c.getAttribute('numbercolumnsspanned') for c in d.getElementsByType(table.TableCell)],
  'deleted': [words(p) for x in d.getElementsByType(text.Deletion) for p in x.getElementsByType(text.P)],
  'who': sorted(set(str(c) for c in d.getElementsByType(dc.Creator))),
  'notes': [[words(p) for p in a.getElementsByType(text.P)] for a in d.getElementsByType(office.Annotation)],
  'pictures': sorted(n for n in d.Pictures),
  'type': d.mimetype,
}))`;
  expect(JSON.parse(python(script, file).toString())).toEqual({
    headings: [['The Wrack Line', '1']],
    lists: ['whelks', 'whelks'],
    spans: ['2', null, null],
    deleted: ['weed'],
    who: ['ann Author', 'ben Author'],
    notes: [['Why?']],
    pictures: ['Pictures/one.png'],
    type: 'application/vnd.oasis.opendocument.text',
  });
});

test('what odfpy writes comes in and goes out whole', async () => {
  const script = `
import sys, io
from odf.opendocument import OpenDocumentText
from odf import text, office, dc, style, table
from odf.namespaces import XMLNS, TEXTNS
d = OpenDocumentText()
bold = style.Style(name='Bold', family='text'); bold.addElement(style.TextProperties(fontweight='bold')); d.automaticstyles.addElement(bold)
tc = text.TrackedChanges()
def region(id, kind, *content):
  r = text.ChangedRegion(qattributes={(XMLNS,'id'): id, (TEXTNS,'id'): id}); k = kind(); i = office.ChangeInfo()
  i.addElement(dc.Creator(text='Maren Holt')); i.addElement(dc.Date(text='2026-11-04T12:30:00')); k.addElement(i)
  for c in content: k.addElement(c)
  r.addElement(k); tc.addElement(r)
region('r1', text.Insertion); region('r2', text.Deletion, text.P(text='mermaids'))
d.text.addElement(tc)
d.text.addElement(text.H(outlinelevel=2, text='At low water'))
p = text.P(text='Look for '); p.addElement(text.Change(changeid='r2')); p.addElement(text.ChangeStart(changeid='r1'))
p.addText('mermaid’s'); p.addElement(text.ChangeEnd(changeid='r1')); p.addElement(text.Span(stylename=bold, text=' purses')); d.text.addElement(p)
out = io.BytesIO(); d.save(out); sys.stdout.buffer.write(out.getvalue())`;
  const file = new Uint8Array(python(script, ''));
  const { manuscript, losses } = await readOdt(file);
  expect(losses).toEqual([]);
  expect(plainText(fairReading(manuscript.doc))).toBe('At low water\nLook for mermaid’s purses');
  expect(plainText(beforeReading(manuscript.doc))).toBe('At low water\nLook for mermaids purses');
  expect(listChanges(manuscript.doc).map((c) => [c.kind, c.date, c.before, c.after])).toEqual([
    ['replacement', '2026-11-04T12:30:00Z', 'mermaids', 'mermaid’s'],
  ]);
  expect(manuscript.people.map(({ name }) => name)).toEqual(['Maren Holt']);
  expect(unzipSync(await writeOdt(manuscript))).toEqual(unzipSync(file));
});

// ---- from one standard to the other and back

test('DOCX to ODT and back keeps the text, what is pending, the threads and the looks', async () => {
  const { origin: _, ...first } = (await readDocx(handout)).manuscript;
  const { origin: __, ...second } = (await readOdt(await writeOdt(first))).manuscript;
  const { manuscript: third } = await readDocx(await writeDocx(second));
  const toldOf = ({ doc, threads, people: all }: Manuscript) => {
    const name = (id: string) => all.find((person) => person.id === id)?.name;
    return {
      // What only the first file carries stands in the others by its words.
      fair: plainText(fairReading(doc)).replace(/\[[^\]]*\]/g, ''),
      before: plainText(beforeReading(doc)).replace(/\[[^\]]*\]/g, ''),
      changes: listChanges(doc).map((c) => [c.kind, name(c.author), c.date, c.before, c.after]),
      threads: threads.map((t) => [
        t.quote,
        t.resolved,
        t.comments.map((c) => [name(c.author), c.date, remarkText(c.body, String)]),
      ]),
    };
  };
  expect(toldOf(second)).toEqual(toldOf(first));
  expect(toldOf(third)).toEqual(toldOf(first));
});

test('a text in one piece is the same manuscript, and goes back as it came', async () => {
  const { origin: _, ...rest } = (await readOdt(odtHandout)).manuscript;
  const flat = await writeFodt(rest);
  const { manuscript: again } = await readFodt(flat);
  const bare = (text: string) =>
    text
      .replace(/\[[^\]]*\]/g, '')
      .replace(/ +/g, ' ')
      .replace(/ $/gm, '');
  expect(bare(plainText(again.doc))).toBe(bare(plainText(rest.doc)));
  expect(again.assets.map(({ bytes }) => bytes)).toEqual(rest.assets.map(({ bytes }) => bytes));
  expect(await writeFodt(again)).toEqual(flat);
  const edited = new Transform(again.doc).insert(1, schema.text('(new) ')).doc;
  // Places without words move with the text, as the server moves them.
  const threads = again.threads.map((one) =>
    one.place ? { ...one, place: { ...one.place, from: one.place.from + 6, to: one.place.to + 6 } } : one,
  );
  const back = new TextDecoder().decode(await writeFodt({ ...again, threads, doc: edited }));
  const before = new TextDecoder().decode(flat);
  expect(back).toContain('(new) The Wrack Line');
  expect(back.slice(back.indexOf('Look under'))).toBe(before.slice(before.indexOf('Look under')));
});
