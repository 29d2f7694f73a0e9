import { Fragment, Slice } from 'prosemirror-model';
import { EditorState } from 'prosemirror-state';
import { beforeReading, checkBatch, correct, countWords, fairReading, ink, plainText, record } from '../src/index.js';
import { documentOf, paragraph, stamps } from './support/editing.js';
import { Transform } from 'prosemirror-transform';

/** What is pasted may be as long as a long book. */
const line = 'low water at the slipway and the wrack line behind it, '.repeat(27).trim();
const paragraphs = Array.from({ length: 1015 }, () => line);
const pasted = new Slice(Fragment.fromArray(paragraphs.map((text) => paragraph(text))), 1, 1);

const sender = { author: 'ann', now: '2026-11-01T10:00:00Z', known: () => undefined };

test('300,000 words pasted over what one has struck out oneself are recorded whole, in one change', () => {
  const stampOf = stamps();
  let state = EditorState.create({ doc: documentOf('Before. Here. After.') });
  state = state.apply(record(state, state.tr.delete(9, 14), stampOf(0)));
  const plain = state.tr.replaceRange(9, 9, pasted);
  const own = record(state, plain, stampOf(0));
  const fair = plainText(fairReading(own.doc));
  expect(countWords(fair)).toBeGreaterThan(300_000);
  expect(fair.length).toBe(plainText(fairReading(plain.doc)).length);
  expect(plainText(beforeReading(own.doc))).toBe('Before. Here. After.');
  expect(checkBatch(state.doc, own.doc, own.steps, own.mapping, 'pencil', sender)).toBeNull();
});

test('in ink and corrected too', () => {
  const state = EditorState.create({ doc: documentOf('Before. After.') });
  const plain = state.tr.replaceRange(9, 9, pasted);
  expect(plainText(ink(state, plain).doc)).toBe(plainText(plain.doc));
  const raw = new Transform(state.doc);
  for (const step of plain.steps) raw.step(step);
  correct(raw, stamps()(0));
  expect(checkBatch(state.doc, raw.doc, raw.steps, raw.mapping, 'pencil', sender)).toBeNull();
});
