import { execFileSync } from 'node:child_process';
import { parse, type DefaultTreeAdapterTypes } from 'parse5';
import {
  beforeReading,
  fairReading,
  listChanges,
  plainText,
  readDocx,
  readHtml,
  remarkText,
  schema,
  UnreadableFile,
  writeHtml,
} from '../src/index.js';
import { handout } from './support/handout.js';
import { pixel } from './support/package.js';

/** Pages: any page is read as far as a manuscript can hold it; ours reads well by itself. */

const bytes = (text: string) => new TextEncoder().encode(text);
const read = (body: string) => readHtml(bytes(`<!doctype html><html><body>${body}</body></html>`));

/** The paragraphs with what they are. */
async function told(body: string): Promise<string[]> {
  const { manuscript } = await read(body);
  const found: string[] = [];
  manuscript.doc.descendants((node) => {
    if (!node.isTextblock) return true;
    const { style, list, indent, align } = node.attrs;
    const more = [list && `${list.kind} ${list.level}`, indent && `indent ${indent}`, align].filter(Boolean);
    found.push([style, ...more, node.textContent].join(' | '));
    return false;
  });
  return found;
}

test('white space, blocks and words that stand bare are what a page shows', async () => {
  expect(await told('  One \n <b>two</b>  <i> three </i><div>four<p>five</p>six</div>\n<br>')).toEqual([
    'body | One two three',
    'body | four',
    'body | five',
    'body | six',
  ]);
  expect(
    await told('<h1>Top</h1><h2>Under</h2><blockquote>Said</blockquote><blockquote><p>So</p></blockquote><hr><p></p>'),
  ).toEqual(['title | Top', 'heading1 | Under', 'quotation | Said', 'quotation | So', 'rule | ']);
  expect(
    await told(
      '<ul><li>a<ul><li>b</li></ul></li><li><p>c</p><p>d</p></li></ul><ol><li>e</ol><p style="text-align:center">f',
    ),
  ).toEqual([
    'body | bullet 0 | a',
    'body | bullet 1 | b',
    'body | bullet 0 | c',
    'body | indent 1 | d',
    'body | number 0 | e',
    'body | center | f',
  ]);
  expect(await told('<p>one<br> two')).toEqual(['body | onetwo']);
  expect((await read('<p>one<br> two')).manuscript.doc.toString()).toBe('doc(paragraph("one", line_break, "two"))');
  expect(await told('<pre>a  b\nc</pre>')).toEqual(['body | a  b\nc']);
});

test('ins and del become changes of whom and when they name (WHATWG HTML, 4.7)', async () => {
  const { manuscript, losses } = await read(
    '<p>The <del datetime="2026-11-02T10:00:00Z" data-author="Ines Vega">weed</del><ins datetime="2026-11-02T10:00:00Z" data-author="Ines Vega">wrack</ins> line</p>' +
      '<ins datetime="2026-11-03"><p>And a paragraph.</p></ins><p>On.</p>',
  );
  const name = (id: string) => manuscript.people.find((person) => person.id === id)!.name;
  expect(losses).toEqual([]);
  expect(listChanges(manuscript.doc).map((c) => [c.kind, name(c.author), c.date, c.before, c.after])).toEqual([
    ['replacement', 'Ines Vega', '2026-11-02T10:00:00Z', 'weed', 'wrack'],
    ['insertion', 'Unnamed', '2026-11-03T00:00:00Z', '', '\nAnd a paragraph.'],
  ]);
  expect(plainText(beforeReading(manuscript.doc))).toBe('The weed line\nOn.');
});

test('what a manuscript cannot hold is left out and counted; nothing is run, nothing fetched', async () => {
  const { manuscript, losses } = await read(
    '<p onclick="alert(1)">Safe <a href="javascript:alert(1)">words</a><script>alert(1)</script><style>p{}</style></p>' +
      '<img src="https://elsewhere.example/a.png" alt="a crab"><iframe src="x"></iframe><video></video><svg><text>drawn</text></svg>' +
      '<form><input value="x"><button>Send</button></form><table><tr><td>1<table><tr><td>in</td></tr></table></td></tr></table>',
  );
  expect(plainText(manuscript.doc)).not.toMatch(/alert|javascript/);
  expect(JSON.stringify(manuscript.doc.toJSON())).not.toMatch(/alert|javascript|elsewhere/);
  expect(losses.map(({ what, howMany }) => `${what}, ${howMany}`)).toEqual([
    'link that leads where none may, its words are kept, 1',
    'picture that is not in the file, 1',
    'frame with another page, 1',
    'film, 1',
    'drawing, 1',
    'field of a form, 2',
    'table in a table, its words are kept, 1',
  ]);
  expect(plainText(manuscript.doc)).toContain('[a crab]');
});

test('tables with spans and heads, looks by elements and styles, pictures inside', async () => {
  const { manuscript } = await read(
    '<table><thead><tr><th colspan=2>Tides</th></tr></thead><tbody><tr><td rowspan="2">Mon<td>06:12<tr><td>18:40</table>' +
      '<p><span style="font-weight:700;color:#a00">x</span><sup>2</sup><u>u</u><code>c</code>' +
      `<img alt="dot" width=30 src="data:image/png;base64,${Buffer.from(pixel).toString('base64')}"></p>`,
  );
  const cells: unknown[] = [];
  manuscript.doc.descendants(({ type, attrs, textContent }) => {
    if (type.name === 'table_cell') cells.push([textContent, attrs.colspan, attrs.rowspan, attrs.header]);
    if (type.name === 'image') cells.push([attrs.alt, attrs.width]);
  });
  expect(cells).toEqual([
    ['Tides', 2, 1, true],
    ['Mon', 1, 2, false],
    ['06:12', 1, 1, false],
    ['18:40', 1, 1, false],
    ['dot', 30],
  ]);
  expect(manuscript.doc.lastChild!.toString()).toBe(
    'paragraph(colour(bold("x")), script("2"), underline("u"), "c", image)',
  );
  expect(manuscript.assets[0]!.bytes).toEqual(pixel);
});

test('encodings are found by what the page says', async () => {
  const page = Buffer.from('<meta charset="iso-8859-1"><p>à marée basse', 'latin1');
  const { manuscript, losses } = await readHtml(new Uint8Array(page));
  expect(plainText(manuscript.doc)).toBe('à marée basse');
  expect(losses.map(({ what }) => what)).toEqual(['encoding: read as Windows-1252, copies are in UTF-8']);
});

test('pages that are too deep, too much or none are refused; broken ones are read', async () => {
  const refusal = (page: string | Uint8Array) =>
    readHtml(typeof page === 'string' ? bytes(page) : page).then(
      () => 'read',
      (problem: unknown) => (problem instanceof UnreadableFile ? problem.reason : String(problem)),
    );
  expect(await refusal('<div>'.repeat(1000) + 'deep')).toMatch(/too deep/);
  expect(await refusal('<b>'.repeat(1_100_000))).toMatch(/more elements/);
  expect(await refusal(new Uint8Array())).toBe('is empty');
  expect(await refusal(Uint8Array.of(0x89, 0x50, 0, 1))).toMatch(/no page/);
  expect(await refusal('<p>un<b>closed <i>words</p> \u0000 </table></html>')).toBe('read');
});

// Outside check: pandoc (Debian) writes a page, we read it; and it reads ours.
test('a page by pandoc is read with its notes, lists and tables; ours is read by pandoc with the fair words', async () => {
  const page = execFileSync('pandoc', ['-f', 'markdown', '-t', 'html', '-s', '--metadata', 'title=x'], {
    input: '## At low water\n\nTurn the *wrack* over[^1].\n\n- boots\n    1. a lid\n\n[^1]: Third edition.\n',
    stdio: ['pipe', 'pipe', 'ignore'],
  });
  const { manuscript, losses } = await readHtml(new Uint8Array(page));
  expect(losses).toEqual([]);
  expect(manuscript.doc.toString()).toContain(
    'paragraph("Turn the ", italic("wrack"), " over", footnote(paragraph("Third edition.")), ".")',
  );
  expect(plainText(manuscript.doc)).toMatch(/boots\na lid$/);
  const { origin: _, ...fromDocx } = (await readDocx(handout)).manuscript;
  const fair = await writeHtml({ ...fromDocx, doc: fairReading(fromDocx.doc), threads: [] });
  const seen = execFileSync('pandoc', ['-f', 'html', '-t', 'plain', '--wrap=none'], { input: fair }).toString();
  for (const line of plainText(fairReading(fromDocx.doc)).split('\n'))
    for (const word of line.split(/\s+/).filter((one) => /^\p{L}{3,}$/u.test(one))) expect(seen).toContain(word);
});

/** The elements of a page. */
const elementsOf = (node: DefaultTreeAdapterTypes.ParentNode): DefaultTreeAdapterTypes.Element[] =>
  node.childNodes.flatMap((one) => ('tagName' in one ? [one, ...elementsOf(one)] : []));

test('our page: no script, nothing from elsewhere, every reference leads somewhere, and all comes back', async () => {
  const { origin: _, ...manuscript } = (await readDocx(handout)).manuscript;
  const file = await writeHtml(manuscript);
  const text = new TextDecoder().decode(file);
  const errors: string[] = [];
  const page = parse(text, { onParseError: ({ code }) => errors.push(code), sourceCodeLocationInfo: true });
  // Outside check: parse5, which follows the parsing rules of WHATWG HTML, finds no error.
  expect(errors).toEqual([]);
  const all = elementsOf(page);
  const value = (element: (typeof all)[number], name: string) => element.attrs.find((one) => one.name === name)?.value;
  expect(all.filter(({ tagName }) => /^(script|link|iframe|object)$/.test(tagName))).toEqual([]);
  expect(all.flatMap(({ attrs }) => attrs.filter(({ name }) => name.startsWith('on')))).toEqual([]);
  for (const one of all.filter(({ tagName }) => tagName === 'img')) expect(value(one, 'src')).toMatch(/^data:image\//);
  const ids = all.flatMap((one) => value(one, 'id') ?? []);
  expect(new Set(ids).size).toBe(ids.length);
  for (const one of all) {
    const target = value(one, 'cite') ?? (value(one, 'role') ? value(one, 'href') : undefined);
    if (target?.startsWith('#')) expect([target, ids.includes(target.slice(1))]).toEqual([target, true]);
  }
  const { manuscript: again } = await readHtml(file);
  expect(plainText(fairReading(again.doc)).replace(/\[[^\]]*\]/g, '')).toBe(plainText(fairReading(manuscript.doc)));
  expect(listChanges(again.doc).map(({ id, kind, before, after }) => [id, kind, before, after])).toEqual(
    listChanges(manuscript.doc).map(({ id, kind, before, after }) => [id, kind, before, after]),
  );
  const said = ({ threads }: typeof again) =>
    threads.map(({ quote, resolved, comments }) => [
      quote,
      resolved,
      comments.map(({ body }) => remarkText(body, String)),
    ]);
  expect(said(again)).toEqual(said(manuscript));
});

test('an address that no link can have is none, and its words stay', async () => {
  const { manuscript, losses } = await read(
    '<p><a href="#no\u000cte">words</a> <a href="data:text/html,x">more</a></p>',
  );
  expect(manuscript.doc.toString()).toBe('doc(paragraph("words more"))');
  expect(losses.map(({ howMany }) => howMany)).toEqual([2]);
});

test('a change on something that a page does not show leaves the words behind it as they are', async () => {
  const signed = { change: 'c1', author: 'ann', date: '2026-11-01T09:00:00Z' };
  const bookmark = schema.nodes.carried_thing.create({ carried: 'b', what: 'bookmark', part: 'begin' }, null, [
    schema.marks.deletion.create(signed),
    schema.marks.anchor.create({ thread: 't' }),
    schema.marks.bold.create(),
  ]);
  const doc = schema.nodes.doc.create(
    null,
    schema.nodes.paragraph.create(null, [schema.text('the '), bookmark, schema.text('tide')]),
  );
  const people = [{ id: 'ann', name: 'Ann', initials: 'A' }];
  const page = await writeHtml({ doc, people, threads: [], assets: [] });
  const again = (await readHtml(page)).manuscript.doc;
  expect(plainText(fairReading(again))).toBe('the tide');
  expect(listChanges(again)).toEqual([]);
  // parse5 reads as browsers do (WHATWG HTML, 13.2): nothing stands open behind it.
  expect(new TextDecoder().decode(page)).not.toMatch(/<(del|ins|span|strong|em|a)\b[^>]*\/>/);
});
