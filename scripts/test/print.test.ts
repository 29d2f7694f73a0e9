import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { EditorState } from 'prosemirror-state';
import { fairReading, plainText, record, remarkOf, schema, writeDocx, type Thread } from '@tea-pencil/core';
import type { Node } from 'prosemirror-model';

/**
 * Pages as PDF, held against poppler (Debian), which knows nothing of us: the words in order, nothing over the edge, the
 * number of pages, tags, outline and language.
 */

const root = path.resolve(__dirname, '../..');
const folder = mkdtempSync(path.join(tmpdir(), 'print-'));
const at = (name: string) => path.join(folder, name);
const print = (...args: string[]) =>
  spawnSync(process.execPath, [path.join(root, 'scripts/print.mjs'), ...args], { cwd: root, encoding: 'utf8' });
const poppler = (program: string, ...args: string[]) => execFileSync(program, args, { maxBuffer: 1e8 }).toString();

const { nodes } = schema;
const paragraph = (text: string, style = 'body', more: Node[] = []): Node =>
  nodes.paragraph!.create({ style }, [...(text ? [schema.text(text)] : []), ...more]);
const footnote = (text: string): Node => nodes.footnote!.create({ kind: 'foot' }, [paragraph(text)]);
const people = [
  { id: 'ann', name: 'Ann Harrow', initials: 'AH' },
  { id: 'ben', name: 'Ben Tidewell', initials: 'BT' },
];
const save = async (name: string, doc: Node, threads: Thread[] = []) =>
  writeFileSync(at(name), await writeDocx({ doc, people, threads, assets: [] }));
const sentence = 'The line of dry weed that the last spring tide left is the shore’s own ledger, written twice a day. ';

/** The facts of a file, as pdfinfo tells them. */
function factsOf(file: string): Record<string, string> {
  const lines = poppler('pdfinfo', file).split('\n');
  return Object.fromEntries(
    lines.map((line) => /^([^:]+):\s*(.*)$/.exec(line)?.slice(1) ?? ['', '']) as [string, string][],
  );
}

interface Word {
  page: number;
  text: string;
  box: [xMin: number, yMin: number, xMax: number, yMax: number];
}
/** Every word with its box and page. */
function wordsOf(file: string): Word[] {
  const xml = poppler('pdftotext', '-bbox', file, '-');
  let page = 0;
  return [
    ...xml.matchAll(/<page |<word xMin="([\d.-]+)" yMin="([\d.-]+)" xMax="([\d.-]+)" yMax="([\d.-]+)">([^<]*)</g),
  ].flatMap((one): Word[] => {
    if (one[1] === undefined) {
      page++;
      return [];
    }
    return [{ page, text: one[5]!, box: [Number(one[1]), Number(one[2]), Number(one[3]), Number(one[4])] }];
  });
}
const letters = (text: string) => text.replace(/[^\p{L}\p{N}]/gu, '');
/** The letters of the lines alone: without running heads and feet. */
const bodyOf = (words: readonly Word[], height: number) =>
  letters(
    words
      .filter(({ box }) => box[1] > 62 && box[3] < height - 62)
      .map(({ text }) => text)
      .join(''),
  );

test('a book of two hundred pages: every word once and in order, none over the edge, tagged, with outline and page numbers', async () => {
  const blocks: Node[] = [paragraph('Between Two Tides', 'title')];
  for (let part = 1; part <= 48; part++) {
    blocks.push(paragraph(`Walk ${part}`, 'heading1'));
    for (let p = 1; p <= 16; p++)
      blocks.push(paragraph(`Paragraph ${part}.${p}. ${sentence.repeat(8 + (p % 3))}`.trim()));
  }
  const doc = nodes.doc!.create(null, blocks);
  await save('book.docx', doc);
  const made = print(at('book.docx'), at('book.pdf'));
  expect(made).toMatchObject({ status: 0 });
  const facts = factsOf(at('book.pdf'));
  const pages = Number(facts.Pages);
  expect(pages).toBeGreaterThan(190);
  expect(made.stderr).toContain(`${pages} pages`);
  expect(facts.Tagged).toBe('yes');
  expect(facts['Page size']).toMatch(/A4/);
  const words = wordsOf(at('book.pdf'));
  const [width, height] = [594.96, 841.92];
  expect(bodyOf(words, height)).toBe(letters(plainText(doc)));
  const over = words.filter(({ box }) => box[0] < 28 || box[2] > width - 28 || box[1] < 20 || box[3] > height - 20);
  expect(over).toEqual([]);
  const text = poppler('pdftotext', '-layout', at('book.pdf'), '-').split('\f');
  text.slice(0, pages).forEach((page, i) => expect(page).toContain(`page ${i + 1} of ${pages}`));
  // The running head names the section; no heading ends a page.
  expect(text[Math.floor(pages / 2)]).toMatch(/Walk \d+/);
  // ISO 32000-1, 7.7.2: the catalogue names the language and the outline.
  const catalogue = readFileSync(at('book.pdf'), 'latin1');
  expect(catalogue).toContain('/Lang (en-GB)');
  expect(catalogue).toContain('/Outlines');
  const structure = poppler('pdfinfo', '-struct-text', at('book.pdf'));
  expect(structure).toMatch(/^\s+H1/m);
  expect(structure.match(/^\s+H2/gm)).toHaveLength(48);
  expect(structure).not.toContain('page 1 of');
  // No line of a paragraph is alone at the top or the foot of a page.
  const lines = new Map<number, Set<number>>();
  for (const { page, box } of words.filter((word) => word.box[1] > 62 && word.box[3] < height - 62))
    lines.set(page, (lines.get(page) ?? new Set()).add(Math.round(box[3])));
  expect([...lines].filter(([, all]) => all.size < 2)).toEqual([]);
});

test('footnotes stand at the foot of the page of their number; tables repeat their head; nothing is lost', async () => {
  const cell = (text: string, header = false) => nodes.table_cell!.create({ header }, [paragraph(text)]);
  const row = (a: string, b: string, header = false) =>
    nodes.table_row!.create(null, [cell(a, header), cell(b, header)]);
  const rows = Array.from({ length: 60 }, (_, i) => row(`row${i}`, sentence.trim()));
  const doc = nodes.doc!.create(null, [
    paragraph('Notes', 'title'),
    ...Array.from({ length: 40 }, (_, i) =>
      paragraph(
        sentence.repeat(3).trim(),
        'body',
        i % 4 ? [] : [footnote(`Footnote ${i} says a little more than its number.`)],
      ),
    ),
    nodes.table!.create(null, [row('Place', 'Remark', true), ...rows]),
    paragraph('The end.'),
  ]);
  await save('notes.docx', doc);
  expect(print(at('notes.docx'), at('notes.pdf'), '--large', '--line-numbers')).toMatchObject({ status: 0 });
  const { Pages } = factsOf(at('notes.pdf'));
  const pages = poppler('pdftotext', '-layout', at('notes.pdf'), '-').split('\f').slice(0, Number(Pages));
  for (let i = 0; i < 40; i += 4) {
    const mine = pages.filter((page) => page.includes(`Footnote ${i} says`));
    expect(mine).toHaveLength(1);
  }
  const withRows = pages.filter((page) => /\brow\d+\b/.test(page));
  expect(withRows.length).toBeGreaterThan(2);
  for (const page of withRows) expect(page).toMatch(/Place\s+Remark/);
  const all = pages.join('\n');
  for (let i = 0; i < 60; i++) expect(all.match(new RegExp(`\\brow${i}\\b`, 'g'))).toHaveLength(1);
  expect(all).toMatch(/^\s+5\s/m); // numbers of lines
});

test('what no page can hold is divided: a row, a note, a word without an end; empty paragraphs take their room', async () => {
  const many = (word: string, times: number) => Array.from({ length: times }, (_, i) => `${word}${i}`).join(' ');
  const cell = (text: string) => nodes.table_cell!.create(null, [paragraph(text)]);
  const doc = nodes.doc!.create(null, [
    paragraph('Before.', 'body', [
      nodes.footnote!.create({ kind: 'foot' }, [paragraph(many('n', 1500)), paragraph(many('m', 900))]),
    ]),
    nodes.table!.create(null, [nodes.table_row!.create(null, [cell(many('row', 2500)), cell('beside')])]),
    paragraph('x'.repeat(9000)),
    ...Array.from({ length: 60 }, () => paragraph('')),
    paragraph('After.'),
  ]);
  await save('tall.docx', doc);
  expect(print(at('tall.docx'), at('tall.pdf'))).toMatchObject({ status: 0 });
  const words = wordsOf(at('tall.pdf'));
  expect(words.filter(({ box }) => box[2] > 595 - 28 || box[3] > 842 - 20)).toEqual([]);
  const found = new Set(words.map(({ text }) => text));
  for (const [word, times] of [
    ['n', 1500],
    ['m', 900],
    ['row', 2500],
  ] as const)
    expect(Array.from({ length: times }, (_, i) => `${word}${i}`).filter((one) => !found.has(one))).toEqual([]);
  expect(words.map(({ text }) => /^x+$/.exec(text)?.[0].length ?? 0).reduce((a, b) => a + b)).toBe(9000);
  const last = words.find(({ text }) => text === 'After.')!;
  expect(last.page).toBeGreaterThan(words.find(({ text }) => text === 'beside')!.page + 1);
});

test('rows that are pending are on the paper, and each part of a table has the columns of the whole', async () => {
  const cell = (text: string) => nodes.table_cell!.create(null, [paragraph(text)]);
  const signed = { change: 'r1', author: 'ann', date: '2026-11-02T09:00:00Z' };
  const row = (a: string, b: string, name?: 'insertion' | 'deletion') =>
    nodes.table_row!.create(null, [cell(a), cell(b)], name ? [schema.marks[name]!.create(signed)] : []);
  const rows = Array.from({ length: 50 }, (_, i) =>
    row(i === 30 ? 'a much longer place than any other' : `p${i}`, sentence.trim()),
  );
  const doc = nodes.doc!.create(null, [
    paragraph('Rows'),
    nodes.table!.create(null, [...rows, row('camein', 'x', 'insertion'), row('wentout', 'y', 'deletion')]),
    paragraph('After.'),
  ]);
  await save('rows.docx', doc);
  expect(print(at('rows.docx'), at('rows.pdf'))).toMatchObject({ status: 0 });
  const words = wordsOf(at('rows.pdf'));
  expect(words.filter(({ text }) => /camein|wentout/.test(text))).toHaveLength(2);
  const seconds = words.filter(
    ({ text, box }, i) => text === 'The' && box[0] > 80 && /^p\d+$/.test(words[i - 1]?.text ?? ''),
  );
  expect(seconds.length).toBeGreaterThan(20);
  expect(new Set(seconds.map(({ box }) => Math.round(box[0]))).size).toBe(1);
});

test('a marked text: changes and threads as notes, initials say who; in grey as well as in hues', async () => {
  let state = EditorState.create({
    doc: nodes.doc!.create(null, [paragraph('The tide comes in behind you.'), paragraph(sentence)]),
  });
  let n = 0;
  const edit = (author: string, from: number, to: number, text: string) => {
    const stamp = { author, date: '2026-11-02T09:00:00Z', newChange: () => `c${n++}` };
    state = state.apply(record(state, state.tr.insertText(text, from, to), stamp));
  };
  edit('ann', 10, 15, 'runs');
  edit('ben', 5, 5, 'spring ');
  const threads: Thread[] = [
    {
      ...{ id: 't1', author: 'ben', date: '2026-11-02T10:00:00Z', quote: '', resolved: false, change: 'c0' },
      comments: [{ id: 'k1', author: 'ben', date: '2026-11-02T10:00:00Z', body: remarkOf('Better so?') }],
    },
  ];
  await save('marked.docx', state.doc, threads);
  for (const notes of ['none', 'foot', 'side']) {
    expect(print(at('marked.docx'), at('m.pdf'), '--notes', notes, '--grey')).toMatchObject({ status: 0 });
    const text = poppler('pdftotext', at('m.pdf'), '-').replace(/\s+/g, ' ');
    expect(text).toContain('BT Ben Tidewell, AH Ann Harrow');
    if (notes !== 'none') {
      expect(text).toContain('“comes” › “runs”');
      expect(text).toContain('Better so?');
    }
  }
  expect(print(at('marked.docx'), at('c.pdf'), '--accept', 'all', '--paper', 'letter')).toMatchObject({ status: 0 });
  expect(factsOf(at('c.pdf'))['Page size']).toMatch(/612.*x 792|letter/);
  expect(bodyOf(wordsOf(at('c.pdf')), 792)).toBe(letters(plainText(fairReading(state.doc))));
});

test('what cannot be printed is said in a sentence, and leaves no file', () => {
  expect(print()).toMatchObject({ status: 1, stderr: expect.stringMatching(/^Usage/) as string });
  expect(print(at('none.docx'), at('x.txt')).stderr).toMatch(/^Usage/);
  expect(print(at('none.docx'), at('x.pdf'))).toMatchObject({
    status: 2,
    stderr: expect.stringMatching(/cannot be read/) as string,
  });
  writeFileSync(at('bad.docx'), 'nothing');
  expect(print(at('bad.docx'), at('x.pdf')).stderr).toMatch(/bad\.docx is not what its name says/);
  expect(existsSync(at('x.pdf'))).toBe(false);
});
