import fc from 'fast-check';
import type { Node } from 'prosemirror-model';
import { Transform } from 'prosemirror-transform';
import { canonical, readDocx, schema, writeDocx, type Manuscript, type Person, type Thread } from '../src/index.js';
import { marks } from './support/pandoc.js';
import { authors, documentOf, recorded, someText, someTextEdit } from './support/editing.js';

const people: Person[] = authors.map((id) => ({ id, name: `${id} Author`, initials: id[0]!.toUpperCase() }));

const manuscript = (doc: Node, threads: Thread[] = []): Manuscript => ({ doc, people, threads, assets: [] });

/** Whether some token bears what the format cannot hold: stacks of entries, or two deletions. */
function exceedsFormat(doc: Node): boolean {
  let exceeds = false;
  doc.descendants((node) => {
    const count = (type: string) => node.marks.filter((mark) => mark.type.name === type).length;
    if (count('formatting') > 1 || count('restyled') > 1 || count('deletion') > 1 || count('openingDeleted') > 1)
      exceeds = true;
    if (node.marks.some((m) => m.attrs.order > 1)) exceeds = true;
    // A pending change of style where the boundaries around it are pending too shares one place in the file.
    if (node.isTextblock && count('restyled') && node.marks.length > 1) exceeds = true;
    if (count('openingInserted') && count('openingDeleted')) exceeds = true;
  });
  const paragraphs: Node[] = [];
  doc.forEach((node) => paragraphs.push(node));
  const restyled = (node?: Node) => node?.marks.some((mark) => mark.type.name === 'restyled');
  const pending = (node?: Node) => node?.marks.some((mark) => /^opening/.test(mark.type.name));
  return (
    exceeds ||
    paragraphs.some(
      (node, i) => pending(node) && (restyled(node) || restyled(paragraphs[i - 1]) || restyled(paragraphs[i + 1])),
    )
  );
}

test('law 6: reading what was written gives the same text and changes', async () => {
  let compared = 0;
  await fc.assert(
    fc.asyncProperty(someText, fc.array(someTextEdit(3), { maxLength: 5 }), async (doc, script) => {
      const marked = recorded(doc, script);
      fc.pre(!exceedsFormat(marked));
      compared++;
      const { manuscript: read, losses } = await readDocx(await writeDocx(manuscript(marked)));
      expect(canonical(read.doc)).toEqual(canonical(marked));
      expect(losses).toEqual([]);
    }),
    { numRuns: 300 },
  );
  expect(compared).toBeGreaterThan(100);
});

test('law 6: people and threads with replies and state come back as they were', async () => {
  const tr = new Transform(documentOf('Turn the weed over with a stick.', 'Never with a spade.'));
  tr.addMark(6, 14, schema.marks.anchor!.create({ thread: 't1' })).addMark(
    10,
    40,
    schema.marks.anchor!.create({ thread: 't2' }),
  );
  const at = '2026-11-20T08:00:00Z';
  const threads: Thread[] = [
    {
      id: 't1',
      quote: 'the weed',
      resolved: false,
      comments: [
        { id: 'k1', author: 'ann', date: at, text: 'Which weed?\nTwo grow here.\tOr <three> & more' },
        { id: 'k2', author: 'ben', date: at, text: 'Bladder wrack.' },
      ],
    },
    {
      id: 't2',
      quote: 'weed over with a stick. Never wi',
      resolved: true,
      comments: [{ id: 'k3', author: 'cyd', date: at, text: 'Good.' }],
    },
  ];
  const { manuscript: read } = await readDocx(await writeDocx(manuscript(tr.doc, threads)));
  expect(read.threads).toEqual(threads.map((t) => (t.id === 't2' ? { ...t, quote: read.threads[1]!.quote } : t)));
  expect(read.threads[1]!.quote).toMatch(/^weed over with a stick\..*Never/);
  expect(canonical(read.doc)).toEqual(canonical(tr.doc));
  expect(read.people.map(({ name, initials }) => [name, initials])).toEqual(
    people.map(({ name, initials }) => [name, initials]),
  );
});

test('a thread about a change comes back as one, and is a comment on its words for other readers', async () => {
  const marked = recorded(documentOf('Turn the weed over with a stick.'), [
    { by: 0, kind: 'cut', from: 6, to: 14, text: '', which: 0 },
  ]);
  const comments = [{ id: 'k1', author: 'ben', date: '2026-11-20T08:00:00Z', text: 'Why?' }];
  const threads: Thread[] = [{ id: 't1', change: 'c1', quote: 'the weed', resolved: false, comments }];
  const bytes = await writeDocx(manuscript(marked, threads));
  const { manuscript: read, losses } = await readDocx(bytes);
  expect(losses).toEqual([]);
  expect(read.threads).toEqual(threads);
  expect(canonical(read.doc)).toEqual(canonical(marked));
  // Outside check: pandoc finds the comment in the text.
  expect(marks(bytes).comments).toEqual([['comment-start', 'ben Author', '2026-11-20T08:00:00Z', 'Why?']]);
});
