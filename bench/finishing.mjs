import {
  fairReading,
  figuresOf,
  formats,
  frequentEdits,
  inSentence,
  listChanges,
  pagesOf,
  plainText,
  tracesIn,
} from '@tea-pencil/core';
import { authors, book } from './book.mjs';
import { timed } from './live/timed.mjs';

const people = authors.map((id) => ({ id, name: `${id} of the press`, initials: id[0].toUpperCase() }));
const row = (...cells) => console.log(`| ${cells.join(' | ')} |`);
const ratio = (a, b) => (a / b).toFixed(2);

/** What the end of the work costs: a fair copy proved, figures, a report, pages; each against something in the same run. */
export async function run() {
  const doc = book(80_000, 5_000);
  const fair = { doc: fairReading(doc), people, threads: [], assets: [] };
  const file = await formats.docx.write(fair, { clean: true });
  const write = await timed(async () => void (await formats.docx.write(fair, { clean: true })));
  const prove = await timed(async () => {
    const { manuscript } = await formats.docx.read(file);
    if (plainText(manuscript.doc) !== plainText(fair.doc) || tracesIn('docx', file).length) throw new Error('not fair');
  });
  row('what', 'ms', 'against', 'ratio');
  row('--', '--:', '--', '--:');
  row('a fair copy of 80,000 words proved', Math.round(prove), 'writing it', ratio(prove, write));

  const counted = Array.from({ length: 100_000 }, (_, i) => ({
    ...{ author: authors[i % 6], kind: i % 3 ? 'insertion' : 'deletion', date: '2026-11-01T09:00:00Z' },
    ...{ before: i % 3 ? '' : 'the tide', after: i % 3 ? 'dry' : '', heading: `Walk ${i % 90}` },
    ...{ state: ['pending', 'accepted', 'rejected'][i % 3], decidedAt: i % 3 ? '2026-11-04T09:00:00Z' : null },
  }));
  const json = JSON.stringify(counted);
  const parse = await timed(() => void JSON.parse(json));
  const figures = await timed(() => {
    const material = { changes: counted, threads: [], worked: [], kept: [], is: (id) => id, nameOf: (id) => id };
    if (figuresOf(material)[0].rows.length !== 6) throw new Error('not counted');
  });
  row('figures of 100,000 changes', Math.round(figures), 'parsing them as JSON', ratio(figures, parse));

  const edited = listChanges(doc).map((change) => ({ ...change, sentence: inSentence(doc, change) }));
  const sentences = await timed(() => listChanges(doc).forEach((change) => inSentence(doc, change)));
  const frequent = await timed(() => void frequentEdits(edited));
  row(
    'the ten most frequent of 5,000 edits',
    Math.round(frequent),
    'finding their sentences',
    ratio(frequent, sentences),
  );

  const lines = Array.from({ length: 50_000 }, (_, i) => ({
    ...{ height: 16 + (i % 3), above: i % 7 ? 0 : 8, block: Math.floor(i / 7) },
    ...(i % 40 === 9 && { notes: [Math.floor(i / 40)] }),
  }));
  const notes = Array.from({ length: 1250 }, (_, i) => ({ where: i % 2 ? 'foot' : 'side', lines: [12, 12, 12] }));
  const room = { height: 900, notes, gap: 14, between: 4 };
  const sum = await timed(() => void lines.reduce((all, { height, above }) => all + height + above, 0));
  const pages = await timed(() => void pagesOf(lines, room));
  row(
    `50,000 lines in ${pagesOf(lines, room).length} pages`,
    pages.toFixed(1),
    'adding their heights up',
    ratio(pages, sum),
  );
}
