import fc from 'fast-check';
import { AddMarkStep, AddNodeMarkStep, AttrStep, RemoveNodeMarkStep, Step, Transform } from 'prosemirror-transform';
import { schema } from '../src/index.js';
import { documentOf, someText } from './support/editing.js';

test('a step made for a node fails where letters stand, and throws nothing', () => {
  const doc = documentOf('tide', 'sand');
  const mark = schema.marks.openingDeleted.create({ change: 'c', author: 'ann', date: '2026-11-26T07:00:00Z' });
  for (const make of [
    (pos: number) => new AttrStep(pos, 'style', 'heading1'),
    (pos: number) => new AddNodeMarkStep(pos, mark),
    (pos: number) => new RemoveNodeMarkStep(pos, mark),
  ]) {
    expect(make(2).apply(doc).failed).toBe('Letters stand where the node was.');
    expect(make(6).apply(doc).failed).toBeNull();
  }
});

test('what is undone and made again while others write is read back from its JSON and does the same', () => {
  const bold = schema.marks.bold.create();
  const reads = (step: Step) => Step.fromJSON(schema, JSON.parse(JSON.stringify(step)) as object);
  let sets = 0;
  fc.assert(
    fc.property(someText, fc.array(fc.nat(), { minLength: 6, maxLength: 6 }), (doc, places) => {
      const { size } = doc.content;
      const [a, b, ...others] = places.map((place) => place % (size + 1));
      let now = doc;
      let step: Step = new AddMarkStep(Math.min(a!, b!), Math.max(a!, b!), bold);
      for (const place of others) {
        const read = reads(step);
        const after = step.apply(now).doc!;
        expect(read.apply(now).doc!.eq(after)).toBe(true);
        // Someone writes a plain word in the middle of it; then it is undone, or made again.
        const back = step.invert(now);
        const tr = new Transform(after);
        if (after.resolve(place).parent.isTextblock) tr.insert(place, schema.text('sand'));
        step = back.map(tr.mapping) ?? back;
        now = tr.doc;
        if ('steps' in step) sets++;
      }
    }),
    { numRuns: 500 },
  );
  expect(sets).toBeGreaterThan(100);
});
