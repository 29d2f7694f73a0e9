import fc from 'fast-check';
import { collab, receiveTransaction, sendableSteps } from 'prosemirror-collab';
import { Node } from 'prosemirror-model';
import { EditorState, TextSelection, type Transaction } from 'prosemirror-state';
import type { Step } from 'prosemirror-transform';
import { ink, linesOf, placesSince, schema, search } from '@tea-pencil/core';
import { batchesOf, wordsIn } from '../src/live/batches';
import type { Channel } from '../src/live/channel';
import { PassedDocs } from '../src/live/passed-docs';
import { Places } from '../src/live/places';
import { beginning, placeOfUnsent } from '../src/talk/begin';

const doc = schema.nodes.doc.create(null, schema.nodes.paragraph.create(null, schema.text('the tide comes in')));
const begin = () => EditorState.create({ doc, plugins: [collab({ version: 0 })] });
const typed = (state: EditorState, words: string, at: number, intent = 'pencil') =>
  state.apply(ink(state, state.tr.insertText(words, at)).setMeta('intent', intent));

test('what is not kept yet goes in batches of one intent, in the order in which it was written', () => {
  let state = begin();
  for (const [words, intent] of [
    ['a', 'pencil'],
    ['b', 'pencil'],
    ['c', 'ink'],
    ['d', 'pencil'],
  ] as const)
    state = typed(state, words, 1, intent);
  const batches = batchesOf(state);
  expect(batches.map(({ intent, steps }) => [intent, wordsIn(steps)])).toEqual([
    ['pencil', 'ab'],
    ['ink', 'c'],
    ['pencil', 'd'],
  ]);
});

test('a batch that is large enough ends with an edit', () => {
  let state = begin();
  for (let i = 0; i < 500; i++) state = typed(state, 'x', 1);
  expect(batchesOf(state).map(({ steps }) => steps.length)).toEqual([400, 100]);
  expect(wordsIn(batchesOf(state).flatMap(({ steps }) => steps))).toBe('x'.repeat(500));
});

/** A client's places, with the state they are told of. */
function placesOf(state: EditorState) {
  const now = { state };
  const said: unknown[] = [];
  const channel = { say: (_: string, what: unknown) => said.push(what) } as unknown as Channel;
  return { now, places: new Places('ines.me', 'me', channel, () => now.state) };
}

test('whoever has two windows open is where they last did something, not where a window only says it is still there', () => {
  const { places } = placesOf(begin());
  const at = (top: number) => ({ version: 0, anchor: 1, head: 1, top });
  const last = () => places.others().at(-1);
  places.hear({ client: 'tobias.one', person: 'tobias', at: at(1), asks: false, manuscript: 'm' });
  places.hear({ client: 'tobias.two', person: 'tobias', at: at(3), asks: false, manuscript: 'm' });
  places.hear({ client: 'tobias.one', person: 'tobias', at: at(1), asks: false, manuscript: 'm' });
  expect(last()).toMatchObject({ client: 'tobias.two', top: 3 });
  places.hear({ client: 'tobias.one', person: 'tobias', at: at(9), asks: false, manuscript: 'm' });
  expect(last()).toMatchObject({ client: 'tobias.one', top: 9 });
  places.gone('tobias.one');
  expect(last()).toMatchObject({ client: 'tobias.two', top: 3 });
});

test('a place goes to the server and comes back to where it was, whatever is not kept yet', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.nat(16), fc.string({ minLength: 1, maxLength: 3 })), { maxLength: 6 }),
      fc.nat(15),
      fc.nat(15),
      (edits, a, b) => {
        const { now, places } = placesOf(begin());
        for (const [at, words] of edits) now.state = typed(now.state, words, 1 + at);
        const size = now.state.doc.content.size - 2;
        const from = 1 + Math.min(a, b, size);
        const to = 1 + Math.min(Math.max(a, b), size);
        const kept = places.asKept({ from, to });
        expect(kept.version).toBe(0);
        expect(kept.to).toBeLessThanOrEqual(doc.content.size);
        // Words that only this client has shrink to where they stand; all others are found again whole.
        const back = places.bringHere(kept)!;
        expect(back.from).toBeLessThanOrEqual(to);
        if (!edits.length) expect(back).toEqual({ from, to });
      },
    ),
  );
});

test('a place of an older text is brought forward over what came since; one that is too old is not guessed', () => {
  const { now, places } = placesOf(begin());
  const others = (words: string, at: number) => {
    const { steps } = now.state.tr.insertText(words, at);
    places.passed(steps);
    now.state = now.state.apply(receiveTransaction(now.state, steps as readonly Step[], ['other'], {}));
  };
  others('low ', 5);
  expect(places.bringHere({ version: 0, from: 5, to: 9 })).toEqual({ from: 9, to: 13 });
  expect(places.bringHere({ version: 1, from: 9, to: 13 })).toEqual({ from: 9, to: 13 });
  expect(places.bringHere({ version: 2, from: 1, to: 2 })).toBeNull();
  places.forget();
  expect(places.bringHere({ version: 0, from: 5, to: 9 })).toBeNull();
  expect(sendableSteps(now.state)).toBeNull();
});

test('a comment begins on the selected words, else on the word around the caret, else at the place', () => {
  const at = (text: string, from: number, to = from) => {
    const one = schema.nodes.doc.create(null, schema.nodes.paragraph.create(null, schema.text(text)));
    return beginning(EditorState.create({ doc: one, selection: TextSelection.create(one, from, to) }));
  };
  const words = 'the tide comes in';
  expect(at(words, 5, 15)).toMatchObject({ from: 5, to: 15, quote: 'tide comes', whole: false });
  expect(at(words, 7)).toMatchObject({ from: 5, to: 9, quote: 'tide', whole: false });
  expect(at(words, 9).quote).toBe('tide');
  expect(at('a  b', 3)).toMatchObject({ from: 3, to: 3, quote: '', whole: false });
  expect(at('the keeper’s-log', 6).quote).toBe('keeper’s-log');
});

test('a comment that was being written finds its words again, the nearest of several; or stays at its place', () => {
  const two = schema.nodes.doc.create(
    null,
    ['the tide and the sand', 'behind the tide'].map((line) => schema.nodes.paragraph.create(null, schema.text(line))),
  );
  const state = EditorState.create({ doc: two });
  const body = { type: 'doc' } as never;
  const found = (quote: string, from: number) => placeOfUnsent(state, { body, about: { quote, from } }, 'id');
  expect(found('tide', 3)).toEqual({ id: 'id', from: 5, to: 9, quote: 'tide', whole: false });
  expect(found('tide', 30)).toMatchObject({ from: 35, to: 39, quote: 'tide', whole: false });
  expect(found('groyne', 7)).toMatchObject({ from: 7, to: 7, quote: '', whole: false });
  expect(found('groyne', 999)?.from).toBe(two.content.size);
  expect(placeOfUnsent(state, { body, about: { whole: true } }, 'id')?.whole).toBe(true);
  expect(placeOfUnsent(state, { body }, 'id')).toBeNull();
});

test('what was found a moment ago stands where the edits since have put it, though paragraphs were split and joined', () => {
  const words = ['qq shoar qA shoar.', 'The shoar.'].map((line) =>
    schema.nodes.paragraph.create(null, schema.text(line)),
  );
  let state = EditorState.create({ doc: schema.nodes.doc.create(null, words) });
  const passed = new PassedDocs();
  const docs = [state.doc];
  const act = (tr: Transaction) => {
    passed.note(state.doc, tr.mapping);
    state = state.apply(tr);
    docs.push(state.doc);
  };
  const [was] = docs;
  const hits = search(linesOf(was!), {
    text: 'shoar',
    matchCase: true,
    wholeWords: false,
    pattern: false,
    style: null,
  });
  act(state.tr.split(11));
  for (let i = 0; i < 4; i++) act(state.tr.insertText('q', 11));
  act(state.tr.split(13));
  const there = (then: Node) =>
    placesSince(was!, then, passed.between(was!, then, state.doc), hits).map(([range]) =>
      then.textBetween(range!.from, range!.to),
    );
  for (const then of docs) expect(there(then)).toEqual(['shoar', 'shoar', 'shoar']);
  // Of a text nobody knows the way from, it is where the words are: here of one that was read anew.
  const anew = Node.fromJSON(schema, was!.toJSON());
  expect(passed.between(anew, state.doc, state.doc).map(was!.content.size)).toBe(state.doc.content.size);
});
