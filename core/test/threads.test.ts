import fc from 'fast-check';
import type { Node } from 'prosemirror-model';
import { Transform } from 'prosemirror-transform';
import {
  anchors,
  answersOwed,
  takenUp,
  checkBatch,
  decide,
  everything,
  ink,
  listChanges,
  mappedRange,
  mentionsIn,
  names,
  openQueries,
  plainText,
  readRemark,
  record,
  remarkOf,
  remarkText,
  schema,
  setDown,
  strays,
  threadFilter,
  UnreadableRemark,
  type Comment,
  type Remark,
  type Thread,
} from '../src/index.js';
import { documentOf, plainly, someEdit, someText, stamps, type Edit } from './support/editing.js';

const at = '2026-11-20T08:00:00Z';
const comment = (id: string, author: string, text: string, more: Partial<Comment> = {}): Comment => ({
  id,
  author,
  date: at,
  body: remarkOf(text),
  ...more,
});
const thread = (id: string, comments: Comment[], more: Partial<Thread> = {}): Thread => ({
  id,
  author: comments[0]?.author ?? 'ann',
  date: at,
  quote: 'words',
  resolved: false,
  comments,
  ...more,
});

/** A document with threads on some of its words. */
function commented(doc: Node, spots: readonly (readonly [number, number])[]): Node {
  const tr = new Transform(doc);
  spots.forEach(([from, size], i) => {
    const start = from % doc.content.size;
    tr.addMark(start, Math.min(doc.content.size, start + size), schema.marks.anchor!.create({ thread: `t${i}` }));
  });
  return tr.doc;
}

const stampOf = stamps();
/** An edit in ink or in pencil. */
function performed(doc: Node, edit: Edit): Transform | null {
  const made = plainly(doc, edit);
  if (!made) return null;
  return edit.which ? record(made.state, made.tr, stampOf(edit.by)) : ink(made.state, made.tr);
}

test('a thread is never lost: after every edit and decision its words are there, or it is known where they were', () => {
  let gone = 0;
  let edits = 0;
  fc.assert(
    fc.property(
      someText,
      fc.array(fc.tuple(fc.nat(60), fc.integer({ min: 1, max: 6 })), { minLength: 1, maxLength: 5 }),
      fc.array(fc.tuple(someEdit(3), fc.option(fc.constantFrom('accept' as const, 'reject' as const))), {
        maxLength: 8,
      }),
      (plain, spots, script) => {
        let doc = commented(plain, spots);
        const begun = new Set(anchors(doc).keys());
        const places = new Map<string, number>();
        const follow = (edit: Transform) => {
          for (const [id, pos] of places) places.set(id, edit.mapping.map(pos, -1));
          for (const { thread: id, at: pos } of strays(edit)) places.set(id, pos);
          doc = edit.doc;
          for (const id of begun) {
            const words = anchors(doc).get(id);
            if (words) places.delete(id);
            else if (!places.has(id)) return false;
            const pos = places.get(id) ?? words![0]!.from;
            if (pos < 0 || pos > doc.content.size) return false;
          }
          return true;
        };
        for (const [edit, verdict] of script) {
          const done = performed(doc, edit);
          if (done && ++edits && !follow(done)) return false;
          if (verdict && !follow(decide(new Transform(doc), 'all', verdict))) return false;
        }
        gone += places.size;
        return true;
      },
    ),
    { numRuns: 400 },
  );
  expect(edits).toBeGreaterThan(500);
  expect(gone).toBeGreaterThan(20); // else nothing would have been shown
});

test('no honest edit of commented words is taken for one that fastens threads, nor its undoing', () => {
  let edits = 0;
  fc.assert(
    fc.property(
      someText,
      fc.array(fc.tuple(fc.nat(60), fc.integer({ min: 1, max: 9 })), { minLength: 1, maxLength: 4 }),
      fc.array(someEdit(2), { maxLength: 6 }),
      (plain, spots, script) => {
        let doc = commented(plain, spots);
        for (const edit of script) {
          const done = performed(doc, edit);
          if (!done) continue;
          edits++;
          const intent = edit.which ? 'pencil' : 'ink';
          const sender = { author: ['ann', 'ben'][edit.by]!, now: '2026-11-20T09:00:00Z', known: () => undefined };
          const refused = (tr: Transform) => checkBatch(tr.before, tr.doc, tr.steps, tr.mapping, intent, sender);
          if (/anchors/.test(refused(done) ?? '')) return false;
          const undone = new Transform(done.doc);
          for (let i = done.steps.length - 1; i >= 0; i--) undone.step(done.steps[i]!.invert(done.docs[i]!));
          if (/anchors/.test(refused(undone) ?? '')) return false;
          doc = done.doc;
        }
        return true;
      },
    ),
    { numRuns: 300 },
  );
  expect(edits).toBeGreaterThan(300);
});

test('when the step that took the words is undone, the thread is on them again', () => {
  const doc = commented(documentOf('Turn the weed over.'), [[6, 8]]);
  const edit = new Transform(doc).delete(5, 16);
  expect(strays(edit)).toEqual([{ thread: 't0', at: 5 }]);
  const undone = new Transform(edit.doc).step(edit.steps[0]!.invert(edit.docs[0]!));
  expect(anchors(undone.doc)).toEqual(anchors(doc));
  expect(strays(undone)).toEqual([]);
});

test('an edit beside or inside the words takes no thread away', () => {
  const doc = commented(documentOf('Turn the weed over.'), [[6, 8]]);
  for (const [from, to] of [
    [1, 6],
    [14, 19],
    [7, 12],
  ] as const)
    expect(strays(new Transform(doc).delete(from, to))).toEqual([]);
});

test('a thread goes with its words when they are cut and set down elsewhere', () => {
  const doc = commented(documentOf('Turn the weed over.', 'With a stick.'), [[10, 4]]);
  const carried = takenUp(doc, 6, 14)!;
  const size = doc.content.size;
  const tr = new Transform(doc).delete(6, 14).insert(size - 8 - 1, schema.text('the weed'));
  setDown(tr, carried, size - 9, size - 1);
  const [range] = anchors(tr.doc).get('t0')!;
  expect(tr.doc.textBetween(range!.from, range!.to)).toBe('weed');
  // Set down with other words, it has nothing to hold on to.
  const other = new Transform(doc).delete(6, 14).insert(1, schema.text('the wood'));
  setDown(other, carried, 1, 9);
  expect(anchors(other.doc).has('t0')).toBe(false);
  expect(takenUp(doc, 1, 5)).toBeNull();
});

test('a place follows its words; where they go and come back, it is before them', () => {
  const doc = documentOf('Turn the weed over.');
  const over = (tr: Transform, range = { from: 6, to: 14 }) =>
    mappedRange(range, (pos, side) => tr.mapping.map(pos, side));
  expect(over(new Transform(doc).insert(1, schema.text('Now ')))).toEqual({ from: 10, to: 18 });
  expect(over(new Transform(doc).insert(6, schema.text('all ')).insert(18, schema.text('!')))).toEqual({
    from: 10,
    to: 18,
  });
  expect(over(new Transform(doc).insert(9, schema.text('x')))).toEqual({ from: 6, to: 15 });
  const gone = new Transform(doc).delete(5, 16);
  expect(over(gone)).toEqual({ from: 5, to: 5 });
  expect(over(gone.insert(5, schema.text(' the weed ')))).toEqual({ from: 5, to: 5 });
  expect(over(new Transform(doc).insert(6, schema.text('x')), { from: 6, to: 6 })).toEqual({ from: 6, to: 6 });
});

const rich: Remark = {
  type: 'doc',
  content: [
    {
      type: 'line',
      attrs: { list: null },
      content: [
        { type: 'text', text: 'Ask ' },
        { type: 'mention', attrs: { person: 'ben' } },
        { type: 'text', text: ' or look', marks: [{ type: 'bold' }] },
      ],
    },
    { type: 'line', attrs: { list: 'number' }, content: [{ type: 'text', text: 'here' }] },
    { type: 'line', attrs: { list: 'number' }, content: [{ type: 'text', text: 'there' }] },
    { type: 'line', attrs: { list: 'bullet' }, content: [{ type: 'text', text: 'nowhere' }] },
  ],
};

test('what a comment says as plain words', () => {
  expect(remarkText(rich, (person) => `${person} Author`)).toBe(
    'Ask @ben Author or look\n1. here\n2. there\n• nowhere',
  );
  expect(mentionsIn(rich)).toEqual(['ben']);
  expect(readRemark(rich)).toEqual(rich);
  expect(readRemark(remarkOf('One.\n\nTwo.'))).toEqual(remarkOf('One.\n\nTwo.'));
});

test('what is no comment is refused with a reason', () => {
  const link = (href: string) => ({
    type: 'doc',
    content: [
      {
        type: 'line',
        attrs: { list: null },
        content: [{ type: 'text', text: 'x', marks: [{ type: 'link', attrs: { href } }] }],
      },
    ],
  });
  expect(readRemark(link('https://harrow.example'))).toBeTruthy();
  for (const [json, reason] of [
    [remarkOf(' \n '), /empty/],
    [remarkOf('x'.repeat(100_000)), /too long/],
    [remarkOf('x\n'.repeat(600)), /too long/],
    [link('javascript:alert(1)'), /cannot be understood/],
    [{ type: 'doc', content: [{ type: 'script', text: 'x' }] }, /cannot be understood/],
    [{ type: 'line', attrs: { list: null }, content: [{ type: 'text', text: 'x' }] }, /cannot be understood/],
    [{ type: 'doc', content: [{ type: 'line', attrs: { list: 'stars' } }] }, /cannot be understood/],
    [null, /cannot be understood/],
    ['<script>alert(1)</script>', /cannot be understood/],
  ] as const) {
    expect(() => readRemark(json)).toThrow(UnreadableRemark);
    expect(() => readRemark(json)).toThrow(reason);
  }
  // A script as words is words.
  expect(remarkText(readRemark(remarkOf('<script>alert(1)</script>')), String)).toBe('<script>alert(1)</script>');
});

test('an answer is owed until it is given, the thread is resolved, or the question goes', () => {
  const asks = (more: Partial<Comment> = {}) => comment('k1', 'ann', 'Which weed?', { query: { to: 'ben' }, ...more });
  expect(openQueries(thread('t', [asks()])).map(({ id }) => id)).toEqual(['k1']);
  expect(openQueries(thread('t', [asks()], { resolved: true }))).toEqual([]);
  expect(openQueries(thread('t', [asks({ deleted: at })]))).toEqual([]);
  expect(openQueries(thread('t', [asks({ query: { to: 'ben', settled: { by: 'ben', date: at } } })]))).toEqual([]);
  const two = [
    thread('t', [asks()]),
    thread('u', [asks(), comment('k2', 'ben', 'And who?', { query: { to: 'cyd' } })]),
  ];
  expect([...answersOwed(two)]).toEqual([
    ['ben', 2],
    ['cyd', 1],
  ]);
  expect(names(two[0]!, 'ben')).toBe(true);
  expect(names(two[0]!, 'cyd')).toBe(false);
  expect(names(thread('t', [comment('k', 'ann', '', { body: rich })]), 'ben')).toBe(true);
});

test('a lens lets through the threads it is about', () => {
  const mine = thread('mine', [comment('k1', 'ann', 'x', { query: { to: 'ben' } })]);
  const theirs = thread('theirs', [comment('k2', 'ben', 'x', { date: '2026-11-25T00:00:00Z' })]);
  const facts = {
    is: (author: string) => (author === 'ben in a file' ? 'ben' : author),
    section: (one: Thread) => (one.id === 'mine' ? ['The shore', 'Low water'] : []),
    names,
  };
  const through = (lens: Partial<typeof everything>) =>
    [mine, theirs].filter(threadFilter({ ...everything, ...lens }, facts)).map(({ id }) => id);
  expect(through({})).toEqual(['mine', 'theirs']);
  expect(through({ authors: ['ben in a file'] })).toEqual(['theirs']);
  expect(through({ since: '2026-11-24T00:00:00Z' })).toEqual(['theirs']);
  expect(through({ part: 'Low water' })).toEqual(['mine']);
  expect(through({ owing: 'ben in a file' })).toEqual(['mine']);
  expect(through({ naming: 'ben' })).toEqual(['mine']);
  expect(through({ kinds: ['move'] })).toEqual(['mine', 'theirs']);
});

test('threads take no part in what is proposed', () => {
  const doc = commented(documentOf('Turn the weed over.'), [[6, 8]]);
  expect(listChanges(doc)).toEqual([]);
  expect(plainText(doc)).toBe('Turn the weed over.');
});
