import { Fragment, Slice } from 'prosemirror-model';
import { EditorState, TextSelection } from 'prosemirror-state';
import { isWhole, schema } from '@tea-pencil/core';
import { withItsFirst, withWholeTables } from '../src/sheet/editor/pasting';

const { doc, paragraph, table, table_row: row, table_cell: cell } = schema.nodes;
const line = (text: string, attrs = {}) => paragraph.create(attrs, text ? schema.text(text) : null);

test('a heading keeps what it is in an empty paragraph, and not among other words', () => {
  const pasted = new Slice(Fragment.from([line('Shells', { style: 'heading1' }), line('A whelk.')]), 1, 1);
  const at = (text: string) => EditorState.create({ doc: doc.create(null, line(text)) });
  const set = (state: EditorState) => state.apply(state.tr.replaceSelection(withItsFirst(pasted, state))).doc;
  expect(set(at('')).children.map(({ attrs }) => attrs.style as string)).toEqual(['heading1', 'body']);
  const full = at('Before.');
  const behind = full.apply(full.tr.setSelection(TextSelection.create(full.doc, 8)));
  expect(set(behind).children.map(({ attrs }) => attrs.style as string)).toEqual(['body', 'body']);
  expect(set(behind).textContent).toBe('Before.ShellsA whelk.');
});

test('a table that is pasted with rows of different lengths fills its grid', () => {
  const cells = (n: number) => Array.from({ length: n }, (_, i) => cell.create(null, line(String(i))));
  const ragged = table.create(null, [row.create(null, cells(3)), row.create(null, cells(1))]);
  const [made] = withWholeTables(new Slice(Fragment.from(ragged), 0, 0)).content.content;
  expect([isWhole(ragged), isWhole(made!), made!.textContent]).toEqual([false, true, ragged.textContent]);
});
