import { closeHistory, history, redo, undo } from 'prosemirror-history';
import { EditorState, type Transaction } from 'prosemirror-state';
import { schema } from '@tea-pencil/core';
import { MyDecisions } from '../src/live/my-decisions';

const doc = schema.nodes.doc.create(null, schema.nodes.paragraph.create(null, schema.text('tide')));

/** Somebody who writes and decides; each act is what is undone first when they press the key. */
function someone() {
  let state = EditorState.create({ doc, plugins: [history({ newGroupDelay: 0 })] });
  const mine = new MyDecisions();
  const dispatch = (tr: Transaction) => {
    state = state.apply(tr);
    if (tr.docChanged) mine.wrote(tr, state);
  };
  return {
    write: (letter: string) => dispatch(state.tr.insertText(letter, 1)),
    /** @param meanwhile what is written before the answer comes */
    decide(decision: string, meanwhile?: string) {
      dispatch(closeHistory(state.tr));
      const asked = state;
      if (meanwhile) dispatch(state.tr.insertText(meanwhile, 1));
      mine.made({ decision, changes: [decision], verdict: 'accept' }, asked, state);
    },
    back() {
      const last = mine.last();
      if (!last) return undo(state, dispatch) ? 'words' : 'nothing';
      mine.tookBack(last.decision, state);
      return last.decision;
    },
    forth() {
      const next = mine.next(state);
      if (!next) return redo(state, dispatch) ? 'words' : 'nothing';
      mine.madeAgain();
      mine.made({ ...next, decision: next.changes[0]! }, state, state, true);
      return next.changes[0];
    },
    mine,
  };
}

test('the last thing done is undone first, and what was undone last is done again first', () => {
  const one = someone();
  one.decide('a');
  one.write('x');
  one.decide('b');
  one.decide('c');
  one.write('y');
  const back = Array.from({ length: 6 }, () => one.back());
  expect(back).toEqual(['words', 'c', 'b', 'words', 'a', 'nothing']);
  const forth = Array.from({ length: 6 }, () => one.forth());
  expect(forth).toEqual(['a', 'words', 'b', 'c', 'words', 'nothing']);
});

test('what is done anew ends what could be done again', () => {
  const one = someone();
  one.decide('a');
  expect(one.back()).toBe('a');
  one.write('x');
  expect(one.forth()).toBe('nothing');
  one.decide('b');
  expect([one.back(), one.back(), one.back()]).toEqual(['b', 'words', 'nothing']);
});

test('a decision that was taken back elsewhere is no more the last thing one did', () => {
  const one = someone();
  one.decide('a');
  one.decide('b');
  one.mine.tookBack('b');
  expect([one.mine.stands('a'), one.mine.stands('b')]).toEqual([true, false]);
  expect([one.back(), one.forth()]).toEqual(['a', 'a']);
});

test('what was written after a decision was asked for is undone first, however late the answer came', () => {
  const one = someone();
  one.write('x');
  one.decide('a', 'y');
  expect(Array.from({ length: 4 }, () => one.back())).toEqual(['words', 'a', 'words', 'nothing']);
});
