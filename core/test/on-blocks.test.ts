import fc from 'fast-check';
import { EditorState } from 'prosemirror-state';
import { AttrStep, RemoveNodeMarkStep, Step, Transform } from 'prosemirror-transform';
import { OnBlocks, schema } from '../src/index.js';
import { documentOf, recorded, someDocument, someEdit } from './support/editing.js';

const scripts = fc.array(someEdit(2), { minLength: 1, maxLength: 6 });

/** Steps carried out on the blocks they touch come to the same as steps carried out on the whole text. */

test('on its blocks a text becomes what it becomes as a whole, and every text in between is there, in any order', () => {
  fc.assert(
    fc.property(someDocument, scripts, fc.array(fc.nat(), { maxLength: 6 }), (doc, script, asked) => {
      const whole = new Transform(doc);
      const state = EditorState.create({ doc: recorded(doc, script) });
      // As a batch would: all of one text goes, all of another comes, and its marks with it.
      whole.replaceWith(0, doc.content.size, state.doc.content);
      whole.addMark(1, whole.doc.content.size - 1, schema.marks.bold.create());
      whole.delete(1, Math.min(9, whole.doc.content.size - 1));
      const on = new OnBlocks(doc);
      for (const step of whole.steps) on.step(step);
      const tr = on.addTo(new Transform(doc));
      expect(tr.doc.eq(whole.doc)).toBe(true);
      expect(tr.mapping.map(3)).toBe(whole.mapping.map(3));
      for (const n of asked.map((k) => k % whole.docs.length)) expect(tr.docs[n]!.eq(whole.docs[n]!)).toBe(true);
    }),
  );
});

test('a set of steps is carried out where its steps are', () => {
  const doc = documentOf('one', 'two', 'three');
  const [bold, italic] = [schema.marks.bold, schema.marks.italic].map((mark) => ({
    stepType: 'addMark',
    mark: mark.create().toJSON() as object,
    from: 11,
    to: 14,
  }));
  const set = Step.fromJSON(schema, { stepType: 'markSet', steps: [bold, italic] });
  const on = new OnBlocks(doc);
  on.step(set);
  expect(on.now.eq(new Transform(doc).step(set).doc)).toBe(true);
  expect(
    on.now
      .child(2)
      .child(0)
      .marks.map(({ type }) => type.name),
  ).toEqual(['italic', 'bold']);
});

test('steps that touch nothing are carried out: an empty set, a mark on no letters', () => {
  const doc = documentOf('one', 'two', 'three');
  const nothing = [
    Step.fromJSON(schema, { stepType: 'markSet', steps: [] }),
    Step.fromJSON(schema, { stepType: 'addMark', mark: schema.marks.bold.create().toJSON(), from: 13, to: 13 }),
  ];
  const on = new OnBlocks(doc);
  on.step(new AttrStep(10, 'style', 'title')); // so that one is away from the start
  const before = on.now;
  for (const step of nothing) expect(on.try(step)).toBeNull();
  expect(on.now.eq(before)).toBe(true);
  expect(on.addTo(new Transform(doc)).steps).toHaveLength(3);
});

test('what cannot be carried out says so and changes nothing', () => {
  const doc = documentOf('one', 'two');
  const on = new OnBlocks(doc);
  expect(on.try(new AttrStep(2, 'style', 'title'))).toMatch(/Letters/);
  expect(() =>
    on.step(
      new RemoveNodeMarkStep(
        2,
        schema.marks.openingInserted.create({ change: 'a', author: 'a', date: '2026-11-01T09:00:00Z' }),
      ),
    ),
  ).toThrow(/Letters/);
  expect(on.try(Step.fromJSON(schema, { stepType: 'replace', from: 7, to: 6 }))).toMatch(/before it begins/);
  for (const from of [-1, 100, 1e9])
    expect(() => on.step(Step.fromJSON(schema, { stepType: 'replace', from, to: from }))).toThrow(RangeError);
  expect(on.now.eq(doc)).toBe(true);
  expect(on.addTo(new Transform(doc)).steps).toEqual([]);
});
