import fc from 'fast-check';
import { Node } from 'prosemirror-model';
import { EditorState } from 'prosemirror-state';
import { Transform } from 'prosemirror-transform';
import { changeIds, decide, listChanges, plainText, record, sameManuscript, schema } from '../src/index.js';
import { documentOf, plainly, recorded, someDocument, someEdit, stamps } from './support/editing.js';

const scripts = fc.array(someEdit(3), { minLength: 1, maxLength: 9 });

test('the steps of a decision lead from the text to what was decided, and back', () => {
  fc.assert(
    fc.property(someDocument, scripts, fc.boolean(), (doc, script, accept) => {
      const pending = recorded(doc, script);
      const tr = decide(new Transform(pending), 'all', accept ? 'accept' : 'reject');
      const again = tr.steps.reduce((now, step) => step.apply(now).doc!, pending);
      expect(again.eq(tr.doc)).toBe(true);
      expect(tr.docs).toHaveLength(tr.steps.length);
      const back = tr.steps.reduceRight((now, step, i) => step.invert(tr.docs[i]!).apply(now).doc!, tr.doc);
      expect(sameManuscript(back, pending)).toBe(true);
    }),
    { numRuns: 400 },
  );
});

test('the list of changes is the same however the text was come by', () => {
  fc.assert(
    fc.property(someDocument, scripts, (doc, script) => {
      for (let n = 1; n <= script.length; n++) {
        const now = recorded(doc, script.slice(0, n));
        const list = listChanges(now);
        listChanges(doc); // another text in between
        expect(listChanges(Node.fromJSON(schema, JSON.parse(JSON.stringify(now))))).toEqual(list);
      }
    }),
    { numRuns: 200 },
  );
});

test('a decision looks into no block that holds nothing of it', () => {
  const stampOf = stamps();
  let state = EditorState.create({
    doc: documentOf(...Array.from({ length: 40 }, (_, i) => `Line ${i} of the tide table.`)),
  });
  for (let i = 39; i >= 0; i--) {
    const { pos } = positionOf(state.doc, i);
    state = state.apply(record(state, state.tr.insertText('x', pos + 3), stampOf(i % 3)));
  }
  const [, chosen] = listChanges(state.doc);
  state.doc.forEach((block, start) => {
    const { from } = chosen!.ranges[0]!;
    if (from > start && from < start + block.nodeSize) return;
    block.forEach = () => {
      throw new Error('This block is no business of the decision.');
    };
  });
  const tr = decide(new Transform(state.doc), [chosen!.id], 'accept');
  expect(changeIds(tr.doc).size).toBe(39);
  expect(tr.steps).toHaveLength(1);
});

test('300 changes by five people are decided one by one, some at first passed over; each leaves the rest as it was', () => {
  const stampOf = stamps();
  const lines = Array.from({ length: 300 }, (_, i) => `Line ${i} of the tide table.`);
  /** What is done to a line: words in front, a word gone, a word for another. */
  const edits = [
    { find: 'Line', to: 'Note: Line' },
    { find: 'tide ', to: '' },
    { find: 'table', to: 'chart' },
  ];
  const editOf = (i: number) => edits[i % edits.length]!;
  let state = EditorState.create({ doc: documentOf(...lines) });
  for (const [i, line] of lines.entries()) {
    const { find, to } = editOf(i);
    const from = positionOf(state.doc, i).pos + 1 + line.indexOf(find);
    const tr =
      find === 'Line' ? state.tr.insertText('Note: ', from) : state.tr.insertText(to, from, from + find.length);
    state = state.apply(record(state, tr, { ...stampOf(0), author: `person${i % 5}` }));
  }
  const facts = (doc: Node) => listChanges(doc).map(({ id, author, before, after }) => ({ id, author, before, after }));
  let waiting = facts(state.doc);
  expect(waiting).toHaveLength(300);
  expect(new Set(waiting.map(({ author }) => author)).size).toBe(5);
  const rejected = (i: number) => i % 5 === 4 || i % 3 === 0;
  const all = waiting.map(({ id }, i) => ({ id, i }));
  const [now, later] = [all.filter(({ i }) => i % 5 !== 4), all.filter(({ i }) => i % 5 === 4)];
  let { doc } = state;
  for (const { id, i } of [...now, ...later]) {
    doc = decide(new Transform(doc), [id], rejected(i) ? 'reject' : 'accept').doc;
    waiting = waiting.filter((change) => change.id !== id);
    expect(facts(doc)).toEqual(waiting);
  }
  const expected = lines.map((line, i) => (rejected(i) ? line : line.replace(editOf(i).find, editOf(i).to)));
  expect(plainText(doc)).toBe(expected.join('\n'));
});

test('what an edit is recorded as depends on the text alone, not on how it was come by', () => {
  fc.assert(
    fc.property(someDocument, fc.array(someEdit(2), { minLength: 2, maxLength: 12 }), (doc, script) => {
      const anew = (node: Node) => Node.fromJSON(schema, JSON.parse(JSON.stringify(node)));
      const [one, other] = [stamps(), stamps()];
      let here = doc;
      for (const edit of script) {
        const made = plainly(here, edit);
        const again = plainly(anew(here), edit);
        if (!made || !again) continue;
        const apart = edit.kind === 'drag';
        const recordedHere = record(made.state, made.tr, { ...one(edit.by), apart }).doc;
        const recordedAnew = record(again.state, again.tr, { ...other(edit.by), apart }).doc;
        expect(sameManuscript(recordedAnew, recordedHere)).toBe(true);
        here = recordedHere;
      }
    }),
    { numRuns: 500 },
  );
});

test('what is typed beside a hit of a sweep is a change of its own, also right after the hit was made', () => {
  const stamp = (id: string) => ({ author: 'ann', date: '2026-11-01T09:00:00Z', newChange: () => id });
  const state = EditorState.create({ doc: documentOf('tide') });
  const after = state.apply(record(state, state.tr.insertText('s', 5), stamp('sweep.1')));
  const anew = EditorState.create({ doc: Node.fromJSON(schema, after.doc.toJSON()) });
  for (const now of [after, anew]) {
    const typed = record(now, now.tr.insertText('x', 6), stamp('c2')).doc;
    expect(listChanges(typed).map(({ id }) => id)).toEqual(['sweep.1', 'c2']);
  }
});

const positionOf = (doc: Node, block: number) => {
  let pos = 0;
  for (let i = 0; i < block; i++) pos += doc.child(i).nodeSize;
  return { pos };
};
