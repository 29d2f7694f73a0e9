import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { formats, schema, UnreadableFile } from '../core/dist/index.js';

/** Files damaged by chance, always the same for the same seed. */

/** Numbers from 0 up to 1 by chance (mulberry32, public domain). */
function chance(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** A file with something of everything. */
async function sample(format) {
  const { doc, paragraph, table, table_row: row, table_cell: cell, footnote, image } = schema.nodes;
  const by = (change) => ({ change, author: 'ann', date: '2026-11-01T09:00:00Z' });
  const text = (words, ...marks) => schema.text(words, marks);
  const { insertion, deletion, bold, link } = schema.marks;
  const words = (...content) => paragraph.create(null, content);
  const png = Uint8Array.from(
    Buffer.from(
      'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
      'base64',
    ),
  );
  const note = footnote.create({ kind: 'foot' }, words(text('Third edition.')));
  const made = doc.create(null, [
    paragraph.create({ style: 'heading1' }, text('The Wrack Line')),
    words(text('Turn the '), text('weed', deletion.create(by('c1'))), text('wrack', insertion.create(by('c1'))), note),
    paragraph.create({ list: { kind: 'number', level: 0 } }, text('a stick', bold.create())),
    words(
      text('the guide', link.create({ href: 'https://harrow.example/' })),
      image.create({ asset: 'crab', alt: 'a crab' }),
    ),
    table.create(null, [
      row.create(null, [cell.create({ colspan: 2 }, words(text('Tides')))]),
      row.create(null, [cell.create(null, words(text('Mon'))), cell.create(null, words(text('06:12')))]),
    ]),
    paragraph.create(null, null, schema.marks.openingInserted.create(by('c2'))),
    words(text('moved ', deletion.create(by('c3'))), text('here '), text('moved ', insertion.create(by('c3')))),
  ]);
  const people = [{ id: 'ann', name: 'Ann Author', initials: 'AA' }];
  const body = {
    type: 'doc',
    content: [{ type: 'line', attrs: { list: null }, content: [{ type: 'text', text: 'Why?' }] }],
  };
  const comment = { id: 'k1', author: 'ann', date: '2026-11-01T09:00:00Z', body };
  const threads = [
    { id: 't1', author: 'ann', date: comment.date, quote: '', whole: true, resolved: false, comments: [comment] },
  ];
  return formats[format].write({ doc: made, people, threads, assets: [{ id: 'crab', type: 'image/png', bytes: png }] });
}

/** Ways to harm XML, each in one place. */
const harms = [
  (xml, at) => xml.slice(0, at) + xml.slice(at + 1),
  (xml, at) => xml.slice(0, at) + '<' + xml.slice(at),
  (xml, at) => xml.slice(0, at) + '\u0000\ud800' + xml.slice(at),
  (xml, at, n) =>
    xml.replace(/\d+/g, (number, where) =>
      where >= at && where < at + 400 ? String(Math.floor(n * 1e12) - 5e11) : number,
    ),
  (xml, at) => {
    const tags = [...xml.matchAll(/<(\/?)([\w:]+)[^>]*>/g)];
    const tag = tags.find(({ index }) => index >= at);
    return tag ? xml.slice(0, tag.index) + xml.slice(tag.index + tag[0].length) : xml;
  },
  (xml, at) => {
    const element = [...xml.matchAll(/<([\w:]+)(?: [^>]*)?\/>/g)].find(({ index }) => index >= at);
    return element ? xml.replace(element[0], element[0].repeat(40)) : xml;
  },
  (xml, at) => {
    const attribute = [...xml.matchAll(/ ([\w:]+)="[^"]*"/g)].find(({ index }) => index >= at);
    return attribute ? xml.slice(0, attribute.index) + xml.slice(attribute.index + attribute[0].length) : xml;
  },
  (xml, at) => {
    const element = [...xml.matchAll(/<((?:w|text|table):[\w-]+|p|span|ins|del|td|li)\b/g)].find(
      ({ index }) => index >= at,
    );
    const other = { w: 'w:tbl', text: 'text:list', table: 'table:table' }[element?.[1].split(':')[0]] ?? 'table';
    return element ? xml.replaceAll(`${element[1]}>`, `${other}>`).replaceAll(`<${element[1]} `, `<${other} `) : xml;
  },
];

function mutant(file, parts, random) {
  if (!parts || random() < 0.3) {
    const bytes = Uint8Array.from(file);
    for (let n = 1 + Math.floor(random() * 8); n > 0; n--)
      bytes[Math.floor(random() * bytes.length)] = Math.floor(random() * 256);
    if (random() < 0.2) return bytes.slice(0, Math.floor(random() * bytes.length));
    if (parts || random() < 0.3) return bytes;
    // A file in one piece: what stands in it is harmed as the parts of a package are.
    let text = strFromU8(file);
    for (let n = 1 + Math.floor(random() * 3); n > 0; n--)
      text = harms[Math.floor(random() * harms.length)](text, Math.floor(random() * text.length), random());
    return strToU8(text);
  }
  const names = Object.keys(parts);
  const harmed = { ...parts };
  for (let n = 1 + Math.floor(random() * 3); n > 0; n--) {
    const name = names[Math.floor(random() * names.length)];
    if (random() < 0.04) delete harmed[name];
    else if (harmed[name] && /\.(xml|rels)$/.test(name)) {
      const xml = strFromU8(harmed[name]);
      harmed[name] = strToU8(
        harms[Math.floor(random() * harms.length)](xml, Math.floor(random() * xml.length), random()),
      );
    }
  }
  return zipSync(harmed, { level: 1 });
}

/**
 * @returns how many were read and written again, how many were refused, and what else happened
 */
export async function mutants(format, runs, seed, tell = () => undefined) {
  const { read, write } = formats[format];
  const file = await sample(format);
  const parts = file[0] === 0x50 ? unzipSync(file) : null;
  const result = { read: 0, refused: 0, failed: [], slowest: 0 };
  for (let k = 0; k < runs; k++) {
    const bytes = mutant(file, parts, chance(seed * 1_000_003 + k));
    const began = performance.now();
    let isRead = false;
    try {
      const { manuscript } = await read(bytes);
      isRead = true;
      manuscript.doc.check();
      await write(manuscript);
      // An edit, so that something is written anew.
      const edited = manuscript.doc.copy(
        manuscript.doc.content.addToEnd(schema.nodes.paragraph.create(null, schema.text('x'))),
      );
      await read(await write({ ...manuscript, doc: edited }));
      result.read++;
    } catch (problem) {
      // What was read can always be written.
      if (problem instanceof UnreadableFile && !isRead) result.refused++;
      else result.failed.push(`${format}, mutant ${k} of seed ${seed}: ${problem.stack}`);
    }
    result.slowest = Math.max(result.slowest, performance.now() - began);
    if (k % 200 === 199) tell(k + 1);
  }
  return result;
}
