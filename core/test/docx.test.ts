import type { Node } from 'prosemirror-model';
import { Transform } from 'prosemirror-transform';
import {
  canonical,
  readDocx,
  remarkOf,
  schema,
  writeDocx,
  type Comment,
  type Manuscript,
  type Person,
  type Remark,
  type RemarkMark,
  type RemarkPiece,
  type Thread,
} from '../src/index.js';
import { marks } from './support/pandoc.js';
import { authors, documentOf, recorded } from './support/editing.js';

const people: Person[] = authors.map((id) => ({ id, name: `${id} Author`, initials: id[0]!.toUpperCase() }));

const at = '2026-11-20T08:00:00Z';
const everyone: Person[] = [...people, { id: 'dee', name: 'dee Author', initials: 'DA' }];
const said = (id: string, text: string): Comment => ({ id, author: 'ann', date: at, body: remarkOf(text) });

const manuscript = (doc: Node, threads: Thread[] = []): Manuscript => ({ doc, people, threads, assets: [] });

test('law 6: people and threads with replies and state come back as they were', async () => {
  const tr = new Transform(documentOf('Turn the weed over with a stick.', 'Never with a spade.'));
  tr.addMark(6, 9, schema.marks.anchor!.create({ thread: 't4' }));
  tr.addMark(20, 21, schema.marks.anchor!.create({ thread: 't5' }));
  tr.addMark(6, 14, schema.marks.anchor!.create({ thread: 't1' })).addMark(
    10,
    40,
    schema.marks.anchor!.create({ thread: 't2' }),
  );
  const turned = { by: 'dee', date: at };
  const text = (words: string, ...marks: RemarkMark[]): RemarkPiece => ({
    type: 'text',
    text: words,
    ...(marks.length && { marks }),
  });
  const line = (list: 'bullet' | 'number' | null, ...content: RemarkPiece[]) => ({
    type: 'line' as const,
    attrs: { list },
    ...(content.length && { content }),
  });
  const rich: Remark = {
    type: 'doc',
    content: [
      line(
        null,
        text('Either '),
        { type: 'mention', attrs: { person: 'dee' } },
        text(' or'),
        text(' I', { type: 'bold' }),
      ),
      line('number', text('one')),
      line('number', text('two', { type: 'italic' }, { type: 'bold' })),
      line(null),
      line('bullet', text('here', { type: 'link', attrs: { href: 'https://harrow.example/?a=1&b=2' } })),
    ],
  };
  const threads: Thread[] = [
    {
      id: 't1',
      author: 'ann',
      date: at,
      quote: 'the weed',
      resolved: false,
      turned,
      comments: [
        {
          id: 'k1',
          author: 'ann',
          date: at,
          body: remarkOf('Which weed?\nTwo grow here.\tOr <three> & more'),
          query: { to: 'dee' },
        },
        { id: 'k2', author: 'ben', date: at, body: remarkOf(''), deleted: at },
        { id: 'k4', author: 'ben', date: at, body: rich, edited: at, proposal: { words: 'the wrack & <weed>' } },
      ],
    },
    {
      id: 't2',
      author: 'cyd',
      date: at,
      quote: 'weed over, as it was',
      resolved: true,
      turned,
      comments: [
        {
          id: 'k3',
          author: 'cyd',
          date: at,
          body: remarkOf('Good.'),
          query: { to: 'dee', settled: turned },
          proposal: { words: '', made: { by: 'dee', date: at, change: 'c9' } },
        },
      ],
    },
    {
      id: 't3',
      author: 'ann',
      date: at,
      quote: '',
      whole: true,
      resolved: false,
      comments: [said('k5', 'All of it?')],
    },
    { id: 't4', author: 'ann', date: at, quote: 'the', tint: 'sky', resolved: false, comments: [] },
    { id: 't5', author: 'ben', date: at, quote: 'a', tint: 'clay', resolved: false, comments: [said('k6', 'Why?')] },
    {
      id: 't6',
      author: 'ann',
      date: at,
      quote: 'the sand',
      place: { version: 0, from: tr.doc.child(0).nodeSize + 1, to: tr.doc.child(0).nodeSize + 1 },
      resolved: false,
      comments: [said('k7', 'These words have gone.')],
    },
  ];
  const { manuscript: read } = await readDocx(await writeDocx({ ...manuscript(tr.doc, threads), people: everyone }));
  expect(read.threads).toEqual(threads);
  expect(canonical(read.doc)).toEqual(canonical(tr.doc));
  expect(read.people.map(({ id, name }) => [id, name]).sort()).toEqual(everyone.map(({ id, name }) => [id, name]));
});

test('a note to oneself is in no file', async () => {
  const mine: Thread = {
    id: 't1',
    author: 'ann',
    date: at,
    quote: 'Turn',
    toSelf: true,
    resolved: false,
    comments: [said('k1', 'Look this up.')],
  };
  const bytes = await writeDocx(manuscript(documentOf('Turn the weed over.'), [mine]));
  expect((await readDocx(bytes)).manuscript.threads).toEqual([]);
  expect(marks(bytes).comments).toEqual([]);
});

test('a thread about a change comes back as one, and is a comment on its words for other readers', async () => {
  const marked = recorded(documentOf('Turn the weed over with a stick.'), [
    { by: 0, kind: 'cut', from: 6, to: 14, text: '', which: 0 },
  ]);
  const comments = [{ id: 'k1', author: 'ben', date: at, body: remarkOf('Why?') }];
  const threads: Thread[] = [
    { id: 't1', author: 'ben', date: at, change: 'c1', quote: 'the weed', resolved: false, comments },
  ];
  const bytes = await writeDocx(manuscript(marked, threads));
  const { manuscript: read, losses } = await readDocx(bytes);
  expect(losses).toEqual([]);
  expect(read.threads).toEqual(threads);
  expect(canonical(read.doc)).toEqual(canonical(marked));
  // Outside check: pandoc finds the comment in the text.
  expect(marks(bytes).comments).toEqual([['comment-start', 'ben Author', '2026-11-20T08:00:00Z', 'Why?']]);
});
