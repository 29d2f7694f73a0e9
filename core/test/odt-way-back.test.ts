import { execFileSync } from 'node:child_process';
import { unzipSync } from 'fflate';
import { Transform } from 'prosemirror-transform';
import {
  beforeReading,
  canonical,
  fairReading,
  listChanges,
  plainText,
  readOdt,
  remarkText,
  schema,
  writeOdt,
} from '../src/index.js';
import { anew } from './support/anew.js';
import { odtBlocks, odtHandout } from './support/odt-handout.js';
import { partOf } from './support/package.js';

/** The way back of an ODT file that other programs made: what nobody changed is as it was (law 6, the other way). */

/** What pandoc (Debian), a reader of the standard that is not ours, makes of a file; it takes all changes for accepted. */
const seenBy = (file: Uint8Array): unknown =>
  JSON.parse(
    execFileSync('pandoc', ['-f', 'odt', '-t', 'json'], { input: file, stdio: ['pipe', 'pipe', 'ignore'] }).toString(),
  );

test('what stands in it is read', async () => {
  const { manuscript, losses, carried } = await readOdt(odtHandout);
  const { doc } = manuscript;
  const name = (id: string) => manuscript.people.find((person) => person.id === id)?.name;
  expect(plainText(fairReading(doc)).split('\n')).toEqual([
    'The Wrack Line',
    'Look under the wrack for Talitrus, the sand hopper.',
    'Turn it over with a stick; it hops.',
    'Bold throughout, but here, and set apart within.',
    'Not to be forgotten:',
    'boots',
    'a bucket',
    'with its lid',
    'a hand lens',
    'a friend',
    'Here it began.',
    'And went on as before.',
    'This is for the tide.',
    'Station',
    'High water',
    'Harrow Point',
    '06:12',
    '5.1 m',
    '18:40',
    '4.9 m neap',
    ' and  and ',
    'See page 4, the tides and the map.',
    'In a section.',
    'Still in it.',
    'Looked otherwise, once.',
    'A list was cut short here .',
    'Kept   spaces,\ta tab and a\u2028line.',
    '',
    'The end.',
  ]);
  expect(listChanges(doc).map((c) => [c.kind, name(c.author), c.date, c.before, c.after])).toEqual([
    ['replacement', 'Ines Vega', '2026-11-02T10:00:00Z', 'weed', 'wrack'],
    ['insertion', 'Tobias Oyelaran', '2026-11-02T10:00:00Z', '', '.\nAnd went on'],
    ['deletion', 'Ines Vega', '2026-11-02T10:00:00Z', 'the end of it.\nThen wait ', ''],
    ['insertion', 'Maren Holt', '2026-11-02T10:00:00Z', '', ' neap'],
    ['deletion', 'Ines Vega', '2026-11-02T10:00:00Z', 'sticks', ''],
  ]);
  expect(plainText(beforeReading(doc))).toContain('This is the end of it.\nThen wait for the tide.');
  expect(plainText(beforeReading(doc))).toContain('Here it began as before.');
  expect(
    manuscript.threads.map((t) => [t.quote, t.comments.map((c) => [name(c.author), remarkText(c.body, String)])]),
  ).toEqual([
    ['with a stick', [['Maren Holt', 'Which stick?']]],
    ['', [['Ines Vega', 'Any.']]],
  ]);
  expect(losses).toEqual([
    { what: 'change of a look of which the file does not say what it was', where: 'changes', howMany: 1 },
  ]);
  expect(Object.fromEntries(carried.map(({ what, howMany }) => [what, howMany]))).toEqual({
    formula: 1,
    'text box': 1,
    field: 2,
    bookmark: 2,
    'header or footer': 1,
  });
  const lists: unknown[] = [];
  const looks: unknown[] = [];
  doc.forEach((block) => {
    if (block.attrs.list || block.attrs.indent)
      lists.push([block.textContent, block.attrs.list?.kind ?? null, block.attrs.list?.level ?? block.attrs.indent]);
    block.forEach(({ text, marks }) => {
      const properties = marks
        .filter(({ type }) => /bold|italic|colour|link/.test(type.name))
        .map(({ type }) => type.name);
      if (text && properties.length) looks.push([text, ...properties]);
    });
  });
  expect(lists).toEqual([
    ['Not to be forgotten:', null, 1],
    ['boots', 'number', 0],
    ['a bucket', 'number', 0],
    ['with its lid', null, 1],
    ['a hand lens', 'bullet', 1],
    ['a friend', 'number', 0],
    ['Here it began.', null, 1],
    ['Then wait for the tide.', null, 1],
  ]);
  expect(looks).toEqual([
    ['Talitrus', 'italic'],
    ['hops', 'italic'],
    ['Bold throughout, ', 'bold'],
    [', and ', 'bold'],
    ['set apart ', 'colour', 'bold'],
    ['within', 'colour', 'italic', 'bold'],
    ['.', 'bold'],
    ['the map', 'link'],
  ]);
});

test('unedited, the file is the same byte for byte', async () => {
  const { manuscript } = await readOdt(odtHandout);
  expect(await writeOdt(manuscript)).toEqual(odtHandout);
});

test('what is written anew throughout is the same to us and to others', async () => {
  const { manuscript } = await readOdt(odtHandout);
  const file = await writeOdt(anew(manuscript));
  expect(partOf(file, 'content.xml')).not.toBe(partOf(odtHandout, 'content.xml'));
  const { manuscript: again } = await readOdt(file);
  expect(told(again.doc)).toEqual(told(manuscript.doc));
  expect(listChanges(again.doc).map(({ kind, before, after, date }) => [kind, before, after, date])).toEqual(
    listChanges(manuscript.doc).map(({ kind, before, after, date }) => [kind, before, after, date]),
  );
  expect(seenBy(file)).toEqual(seenBy(odtHandout));
});
/** A text without what only the names of things carried say. */
const told = (doc: Parameters<typeof canonical>[0]) =>
  JSON.stringify(canonical(doc)).replace(/carried(Look)?[^,}]*[,}]|author[^,]*,|change:[^,]*,/g, '');

test('the fair copy is what pandoc makes of the file, which takes all for accepted, and nothing is pending in it', async () => {
  const { manuscript } = await readOdt(odtHandout);
  const fair = await writeOdt({ ...manuscript, doc: fairReading(manuscript.doc), threads: [] }, { clean: true });
  const content = partOf(fair, 'content.xml');
  expect(content).not.toMatch(/text:(tracked-changes|change)|office:annotation/);
  const bare = await writeOdt({ ...manuscript, threads: [] });
  expect(seenBy(fair)).toEqual(seenBy(bare));
  const before = await readOdt(await writeOdt({ ...manuscript, doc: beforeReading(manuscript.doc), threads: [] }));
  expect(plainText(before.manuscript.doc)).toBe(plainText(beforeReading(manuscript.doc)));
});

test('with an edit in one block the XML of every other is the same, and all other parts', async () => {
  const { manuscript } = await readOdt(odtHandout);
  const { doc } = manuscript;
  const texts: number[] = [];
  doc.descendants((node, pos) => void (node.isTextblock && node.content.size && texts.push(pos + 1)));
  /** Blocks over which one insertion goes are one. */
  const together = (xml: string) => /ct3/.test(xml);
  const untouched: number[] = [];
  for (const place of texts) {
    const edited = new Transform(doc).insert(place, schema.text(`(${place}) `)).doc;
    const back = await writeOdt({ ...manuscript, doc: edited });
    const content = partOf(back, 'content.xml');
    const gone = odtBlocks.filter((xml) => !content.includes(xml));
    const isOne = gone.length === 1 || (gone.length === 2 && gone.every(together));
    expect([place, gone.map((xml) => xml.slice(0, 60)), isOne]).toEqual([place, expect.anything(), true]);
    untouched.push(odtBlocks.length - gone.length);
    const others = (file: Uint8Array) => {
      const { 'content.xml': _, ...rest } = unzipSync(file);
      return rest;
    };
    expect(others(back)).toEqual(others(odtHandout));
    expect(plainText((await readOdt(back)).manuscript.doc)).toBe(plainText(edited));
  }
  expect(untouched.length).toBeGreaterThan(20);
});

test('an item comes and goes, and the others of its list are as they were', async () => {
  const { manuscript } = await readOdt(odtHandout);
  const { doc } = manuscript;
  let at = 0;
  doc.forEach((block, pos) => void (block.textContent === 'boots' && (at = pos)));
  const fresh = schema.nodes.paragraph.create(doc.nodeAt(at)!.attrs, schema.text('gloves'));
  const more = new Transform(doc).insert(at, fresh).doc;
  const file = partOf(await writeOdt({ ...manuscript, doc: more }), 'content.xml');
  expect(file).toMatch(
    /<text:list text:style-name="L1" xml:id="list1"><text:list-header>.*<\/text:list-header><text:list-item><text:p [^>]*>gloves<\/text:p><\/text:list-item><text:list-item><text:p text:style-name="Standard">boots/,
  );
  expect(file).toContain(
    '<text:list-item text:start-value="7"><text:p text:style-name="Standard">a bucket</text:p><text:p text:style-name="Standard">with its lid</text:p><text:list>',
  );
  expect(file).toContain(
    '<text:list-header><text:p text:style-name="Standard">Not to be forgotten:</text:p></text:list-header>',
  );
});
