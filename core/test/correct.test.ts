import fc from 'fast-check';
import { Node } from 'prosemirror-model';
import { EditorState } from 'prosemirror-state';
import { Transform } from 'prosemirror-transform';
import {
  beforeReading,
  canonical,
  checkBatch,
  correct,
  decide,
  harmOf,
  ink,
  listChanges,
  outright,
  outrightInInk,
  rebase,
  record,
  schema,
  withoutAuthor,
} from '../src/index.js';
import {
  authors,
  documentOf,
  plainly,
  recorded,
  someDocument,
  someEdit,
  stamps,
  type Edit,
} from './support/editing.js';

/** Honest concurrency: what someone wrote in pencil while others wrote and decided is taken in, whatever they did. */

const me = authors[0]!;
const now = '2026-11-09T09:00:00Z';
const sender = { author: me, now, known: () => undefined };

/** The steps of a script, as its author's editor would hold them before the server has them. */
function write(doc: Node, script: readonly Edit[], stampOf: ReturnType<typeof stamps>): Transform {
  const all = new Transform(doc);
  for (const edit of script) {
    const made = plainly(all.doc, edit);
    if (!made) continue;
    const stamp = { ...stampOf(edit.by), apart: edit.kind === 'drag' };
    for (const step of record(made.state, made.tr, stamp).steps) all.step(step);
  }
  return all;
}

const wrong = (tr: Transform) => checkBatch(tr.before, tr.doc, tr.steps, tr.mapping, 'pencil', sender);

/**
 * Edits of the first author, of any others (or of the first in another window), by which share of the pending changes is decided meanwhile, and what is done
 * when all is there.
 */
const moments = (doc: fc.Arbitrary<Node>, edits: (howManyAuthors: number) => fc.Arbitrary<Edit>, windows = false) =>
  fc.record({
    doc,
    earlier: fc.array(edits(3), { maxLength: 5 }),
    mine: fc.array(edits(1), { minLength: 1, maxLength: 4 }),
    theirs: fc.array(
      edits(2).map((edit) => ({ ...edit, by: edit.by + (windows ? 0 : 1) })),
      { maxLength: 3 },
    ),
    decided: fc.array(fc.constantFrom('accept' as const, 'reject' as const, null), { maxLength: 6 }),
    further: fc.array(edits(3), { maxLength: 4 }),
    shuttled: fc.boolean(),
  });
type Moment = ReturnType<typeof moments> extends fc.Arbitrary<infer T> ? T : never;

/** A batch that was undone and made again: what went is put back, in steps of the same batch. */
function shuttle(batch: Transform): void {
  const steps = [...batch.steps];
  undone(batch);
  for (const step of steps) batch.step(step);
}

/** A batch with an end that takes all of it back. */
function undone(batch: Transform): void {
  const back = batch.steps.map((step, i) => step.invert(batch.docs[i]!));
  for (const step of back.reverse()) batch.step(step);
}

/** A paragraph that was taken out, with a note of somebody else's in it that was put in meanwhile. */
const noteWithin: Moment = {
  doc: documentOf('x y', ''),
  earlier: [],
  mine: [
    { by: 0, kind: 'rule', from: 0, to: 3, text: 'a', which: 0 },
    { by: 0, kind: 'backspace', from: 4, to: 0, text: 'a', which: 0 },
    { by: 0, kind: 'backspace', from: 0, to: 0, text: 'a', which: 0 },
  ],
  theirs: [
    { by: 1, kind: 'split', from: 0, to: 0, text: 'a', which: 0 },
    { by: 1, kind: 'footnote', from: 0, to: 4, text: 'a', which: 0 },
  ],
  decided: [],
  further: [],
  shuttled: true,
};
/** Many ways to set the same few words: those of several people meet in one property. */
const settings = (howManyAuthors: number) => someEdit(howManyAuthors, ['restyle', 'list', 'toggle', 'words', 'link']);

/** A text as it comes out of PostgreSQL’s jsonb: “it does not preserve the order of object keys” (documentation, 8.14). */
const fromDatabase = (doc: Node): Node => {
  const sorted = (value: unknown): unknown =>
    Array.isArray(value)
      ? value.map(sorted)
      : value && typeof value === 'object'
        ? Object.fromEntries(
            Object.entries(value)
              .map(([key, each]) => [key, sorted(each)] as const)
              .sort(([a], [b]) => a.length - b.length || (a < b ? -1 : 1)),
          )
        : value;
  return Node.fromJSON(schema, sorted(doc.toJSON()));
};

/** The text after more edits, each of which is right on the text it was made on. */
function goneOn(doc: Node, edits: readonly Edit[]): void {
  const stampOf = stamps();
  let text = doc;
  for (const edit of edits) {
    const made = plainly(text, edit);
    if (!made) continue;
    const stamp = { ...stampOf(edit.by), newChange: () => `later${stampOf(edit.by).newChange()}` };
    const tr = record(made.state, made.tr, { ...stamp, apart: edit.kind === 'drag' });
    if (harmOf(tr.doc)) return; // it is no editor's text
    const harm = checkBatch(text, tr.doc, tr.steps, tr.mapping, 'pencil', { ...sender, author: stamp.author });
    if (harm) throw new Error(`${harm}\n ${JSON.stringify(edit)}\n ${text}\n ${tr.doc}`);
    text = tr.doc;
  }
}

test.each([
  ['anything', moments(someDocument, someEdit)],
  ['how the same words look', moments(fc.constant(documentOf('ab')), settings)],
  ['how they look, in two windows of one author', moments(fc.constant(documentOf('ab')), settings, true)],
])('whatever others write and decide meanwhile, a corrected batch is within the rules: %s', (_, moment) => {
  let corrected = 0;
  fc.assert(
    fc.property(moment, ({ doc, earlier, mine, theirs, decided, further, shuttled }) => {
      const start = recorded(doc, earlier);
      const stampOf = stamps();
      const own = write(fromDatabase(start), mine, (by) => ({
        ...stampOf(by),
        newChange: () => `mine${stampOf(by).newChange()}`,
      }));
      const others = write(start, theirs, (by) => ({
        ...stampOf(by),
        newChange: () => `their${stampOf(by).newChange()}`,
      }));
      const pending = listChanges(others.doc);
      decided.forEach((verdict, k) => verdict && pending[k] && decide(others, [pending[k]!.id], verdict));
      fc.pre(!harmOf(own.doc) && !harmOf(others.doc)); // or it is no editor's text
      const batch = new Transform(others.doc);
      for (const step of rebase(own, others.steps).steps) batch.step(step);
      if (shuttled) shuttle(batch);
      if (!wrong(batch)) {
        const straight = outright(batch, me);
        expect(canonical(straight.doc)).toEqual(canonical(batch.doc));
        expect(wrong(straight)).toBeNull();
        expect(canonical(beforeReading(batch.doc))).toEqual(canonical(beforeReading(others.doc)));
        return goneOn(batch.doc, further);
      }
      corrected++;
      correct(batch, { author: me, date: now, newChange: () => 'mended' });
      batch.doc.check();
      const sent = wrong(batch) ? outright(batch, me) : batch;
      expect(canonical(sent.doc)).toEqual(canonical(batch.doc));
      if (wrong(sent)) throw new Error(`${wrong(sent)}\n ${batch.before}\n ${batch.doc}`);
      expect(canonical(withoutAuthor(batch.doc, me))).toEqual(canonical(withoutAuthor(others.doc, me)));
      expect(canonical(beforeReading(batch.doc))).toEqual(canonical(beforeReading(others.doc)));
      goneOn(sent.doc, further);
    }),
    { numRuns: Number(process.env.LAWS_RUNS ?? 700), examples: [[noteWithin]] },
  );
  expect(corrected).toBeGreaterThan(0); // or nothing was tried
});

const wrongInInk = (tr: Transform) => checkBatch(tr.before, tr.doc, tr.steps, tr.mapping, 'ink', sender);

/** The steps of a script in ink. */
function inked(doc: Node, script: readonly Edit[]): Transform {
  const all = new Transform(doc);
  for (const edit of script) {
    const made = plainly(all.doc, edit);
    for (const step of made ? ink(made.state, made.tr).steps : []) all.step(step);
  }
  return all;
}

test('what ink sets and takes back while others write and decide about the same words is within the rules once it is laid anew', () => {
  let laidAnew = 0;
  fc.assert(
    fc.property(
      moments(fc.constant(documentOf('ab')), settings),
      ({ doc, earlier, mine, theirs, decided, shuttled }) => {
        const start = recorded(doc, earlier);
        const own = inked(start, mine);
        if (shuttled) undone(own);
        const stampOf = stamps();
        const others = write(start, theirs, (by) => ({
          ...stampOf(by),
          newChange: () => `their${stampOf(by).newChange()}`,
        }));
        const pending = listChanges(others.doc);
        decided.forEach((verdict, k) => verdict && pending[k] && decide(others, [pending[k]!.id], verdict));
        expect(wrongInInk(own)).toBeNull();
        const carried = rebase(own, others.steps).steps.reduce((tr, step) => tr.step(step), new Transform(others.doc));
        if (!wrongInInk(carried)) return;
        laidAnew++;
        const right = outrightInInk(carried, me);
        right.doc.check();
        if (wrongInInk(right))
          throw new Error(`${wrongInInk(right)}\n ${right.before}\n ${carried.doc}\n ${right.doc}`);
        expect(right.doc.textContent).toBe(carried.doc.textContent);
      },
    ),
    { numRuns: Number(process.env.LAWS_RUNS ?? 700) },
  );
  expect(laidAnew).toBeGreaterThan(0); // or nothing was tried
});

test('who takes off what somebody else has set at the same moment records that, and may', () => {
  const start = documentOf('The tide.');
  const bullet: Edit = { by: 0, kind: 'list', from: 0, to: 0, text: '', which: 1 };
  const stampOf = stamps();
  const own = write(start, [bullet], (by) => ({ ...stampOf(by), newChange: () => 'second' }));
  const others = write(start, [{ ...bullet, by: 1 }], (by) => ({ ...stampOf(by), newChange: () => 'first' }));
  const batch = rebase(own, others.steps);
  if (wrong(batch)) correct(batch, { author: me, date: now, newChange: () => 'mended' });
  const { doc } = batch;
  expect(new Set(listChanges(doc).map(({ id }) => id))).toEqual(new Set(['first', 'second']));
  const off = write(doc, [bullet], stampOf);
  expect(wrong(off)).toBeNull();
  // The other one’s stands, and is what the list is if this is rejected.
  const rejected = decide(new Transform(off.doc), ['second'], 'reject').doc;
  expect([off.doc, rejected].map(({ firstChild }) => firstChild!.attrs.list as unknown)).toEqual([
    null,
    { kind: 'bullet', level: 0 },
  ]);
  expect(canonical(decide(new Transform(rejected), ['first'], 'reject').doc)).toEqual(canonical(start));
});

test('what a database makes of a text is the same text: nothing of others has changed in it', () => {
  const plain = EditorState.create({ doc: documentOf('The tide.', 'Dry weed.') });
  const list = { kind: 'bullet', level: 0 };
  const stampOf = stamps();
  const { doc } = record(plain, plain.tr.setNodeMarkup(0, null, { style: 'heading1', list }), stampOf(1));
  // Whoever was away reads what the others did from the log, writes, and sends the outcome alone.
  const own = write(fromDatabase(doc), [{ by: 0, kind: 'type', from: 3, to: 3, text: 'b', which: 0 }], stampOf);
  const sent = new Transform(doc).replaceWith(0, doc.child(0).nodeSize, own.doc.child(0));
  expect(JSON.stringify(sent.doc.child(0).marks)).not.toBe(JSON.stringify(doc.child(0).marks));
  expect(wrong(sent)).toBeNull();
});

test('what ink settles of a change that others have decided meanwhile is settled, and the rest of the edit goes in', () => {
  const start = documentOf('crabs', 'here');
  const list = { kind: 'bullet', level: 0 };
  const state = EditorState.create({ doc: start });
  const looks = state.tr.setNodeAttribute(0, 'style', 'heading1').setNodeAttribute(0, 'list', list);
  const pending = record(state, looks, stamps()(1)).doc;
  const [change] = listChanges(pending);
  // In ink no list after all, and a word more.
  const mine = EditorState.create({ doc: pending });
  const own = ink(mine, mine.tr.setNodeAttribute(0, 'list', null).insertText(' wait', 6));
  expect(wrongInInk(own)).toBeNull();
  for (const verdict of ['accept', 'reject'] as const) {
    const theirs = decide(new Transform(pending), [change!.id], verdict);
    const carried = rebase(own, theirs.steps).steps.reduce((tr, step) => tr.step(step), new Transform(theirs.doc));
    expect(wrongInInk(carried)).toMatch(/bears no marks of changes/);
    const right = outrightInInk(carried, me);
    expect(wrongInInk(right)).toBeNull();
    expect(listChanges(right.doc)).toEqual([]);
    expect(right.doc.firstChild!.textContent).toBe('crabs wait');
    expect(right.doc.firstChild!.attrs).toMatchObject({
      style: verdict === 'accept' ? 'heading1' : 'body',
      list: null,
    });
  }
});
