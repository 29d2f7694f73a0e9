import fc from 'fast-check';
import { Fragment, Slice, type Node } from 'prosemirror-model';
import { EditorState, NodeSelection, TextSelection, type Command, type Transaction } from 'prosemirror-state';
import { Transform } from 'prosemirror-transform';
import { chainCommands, deleteSelection, joinBackward, joinForward, toggleMark } from 'prosemirror-commands';
import {
  addColumn,
  addRow,
  changePicture,
  contained,
  deleteBreak,
  deleteColumn,
  deleteLetter,
  deleteRow,
  deleteTable,
  deleteWord,
  enter,
  insertFootnote,
  insertPicture,
  insertRule,
  insertTable,
  isWhole,
  keptSpaces,
  leaveList,
  lineBreak,
  record,
  schema,
  setLink,
  setStyle,
  setWords,
  shiftIndent,
  shiftLevel,
  toggleAlign,
  toggleHeaderRow,
  toggleList,
  type Stamp,
} from '../../src/index.js';

const graphemes = new Intl.Segmenter(undefined, { granularity: 'grapheme' });

// The same cases every time, unless others are asked for.
if (process.env.LAWS_SEED !== 'any') fc.configureGlobal({ seed: Number(process.env.LAWS_SEED ?? 1107) });

/** Random documents and edit scripts, made from the commands an editor has. */

export const authors = ['ann', 'ben', 'cyd'];

export const paragraph = (text: string, style = 'body', list: unknown = null): Node =>
  schema.nodes.paragraph!.create({ style, list }, text ? schema.text(text) : null);

export const documentOf = (...texts: string[]): Node =>
  schema.nodes.doc!.create(
    null,
    texts.map((t) => paragraph(t)),
  );

const word = fc.constantFrom('a', 'b', 'ab', 'the', ' ', 'tide ', 'x y', '👩🏽‍🌾', 'e\u0301', ', ');
const text = fc.array(word, { maxLength: 5 }).map((words) => words.join(''));

const someParagraphs: fc.Arbitrary<Node[]> = fc
  .array(
    fc.record({
      text,
      style: fc.constantFrom('body', 'body', 'heading1', 'quotation'),
      list: fc.constantFrom(null, null, { kind: 'bullet', level: 0 }),
      bold: fc.boolean(),
    }),
    { minLength: 1, maxLength: 4 },
  )
  .map((paragraphs) =>
    paragraphs.map(({ text: t, style, list, bold }) =>
      schema.nodes.paragraph!.create(
        { style, list },
        t ? schema.text(t, bold ? [schema.marks.bold!.create()] : []) : null,
      ),
    ),
  );

const cell = (text: string) => schema.nodes.table_cell!.create(null, paragraph(text));
export const table = (...rows: string[][]): Node =>
  schema.nodes.table!.create(
    null,
    rows.map((cells) => schema.nodes.table_row!.create(null, cells.map(cell))),
  );
export const footnote = (...texts: string[]): Node =>
  schema.nodes.footnote!.create(
    { kind: 'foot' },
    texts.map((t) => paragraph(t)),
  );
export const image = (asset: string): Node => schema.nodes.image!.create({ asset, alt: asset });

const someTable = fc
  .array(fc.array(word, { minLength: 2, maxLength: 2 }), { minLength: 1, maxLength: 2 })
  .map((rows) => table(...rows));
const someAtom = fc.oneof(
  fc.constant(null),
  fc.constant(null),
  word.map((t) => footnote(t, 'n')),
  fc.constantFrom('one', 'two').map(image),
);

/** Paragraphs of letters only. */
export const someText: fc.Arbitrary<Node> = someParagraphs.map((paragraphs) =>
  schema.nodes.doc!.create(null, paragraphs),
);

/** Paragraphs, sometimes with a footnote or a picture in them, sometimes with a table between them. */
export const someDocument: fc.Arbitrary<Node> = fc
  .record({
    paragraphs: someParagraphs,
    more: someParagraphs,
    between: fc.option(someTable, { freq: 2, nil: null }),
    atom: someAtom,
  })
  .map(({ paragraphs, more, between, atom }) => {
    const first = [...paragraphs];
    if (atom) first[0] = first[0]!.copy(first[0]!.content.addToEnd(atom));
    return schema.nodes.doc!.create(null, between ? [...first, between, ...more] : first);
  });

/** Commands of the editor that need nothing but the selection, and whether they are given at a caret only. */
const commands: Record<string, (edit: Edit) => Command> = {
  backspace: ({ by }) => chainCommands(leaveList, deleteLetter(-1, authors[by]!), deleteBreak(-1, authors[by]!)),
  delete: ({ by }) => chainCommands(deleteLetter(1, authors[by]!), deleteBreak(1, authors[by]!)),
  wordBack: ({ by }) => deleteWord(-1, authors[by]!),
  wordOn: ({ by }) => deleteWord(1, authors[by]!),
  join: () => joinBackward,
  joinForward: () => joinForward,
  split: () => enter,
  break: () => lineBreak,
  cut: () => deleteSelection,
  restyle: ({ which }) => setStyle((['body', 'heading1', 'heading2'] as const)[which]!),
  list: ({ which }) => (which ? toggleList(which === 1 ? 'bullet' : 'number') : shiftLevel(1)),
  align: ({ which }) => (which ? toggleAlign(which === 1 ? 'center' : 'right') : shiftIndent(1)),
  toggle: ({ which }) => toggleMark(schema.marks[['bold', 'italic', 'underline'][which]!]!),
  words: ({ which }) => [setWords('colour', 'plum'), setWords('size', 14), setWords('highlight', null)][which]!,
  link: ({ which }) => setLink(['https://harrow.example', 'https://harrow.example/map', null][which]!),
  table: () => insertTable(2, 2),
  rowBelow: () => addRow('below'),
  rowAbove: () => addRow('above'),
  columnBefore: () => addColumn('before'),
  columnBehind: () => addColumn('behind'),
  dropRow: () => deleteRow,
  dropColumn: () => deleteColumn,
  dropTable: () => deleteTable,
  header: () => toggleHeaderRow,
  footnote: () => insertFootnote('note'),
  rule: () => insertRule,
  picture: () => insertPicture({ asset: 'one', alt: '', width: null, height: null }),
  reshape: ({ which }) => changePicture([{ asset: 'two' }, { alt: 'a crab' }, { width: 30, height: 20 }][which]!),
};

type Kind = keyof typeof commands | 'type' | 'paste' | 'drag' | 'whole';

export interface Edit {
  by: number;
  kind: Kind;
  from: number;
  to: number;
  text: string;
  which: number;
}

const kinds: Kind[] = [
  ...Object.keys(commands),
  ...['type', 'type', 'type', 'backspace', 'split', 'toggle', 'paste', 'drag', 'drag', 'whole'],
];

/** What makes or works on something that files do not hold yet: other than paragraphs, letters and line breaks. */
const structural = /^(table|row|column|drop|header|footnote|rule|picture|reshape|words|link)/;

/** Kinds of edits whose outcome files hold. */
const textKinds = kinds.filter((kind) => !structural.test(kind));

export const someEdit = (howManyAuthors: number, among = kinds): fc.Arbitrary<Edit> =>
  fc.record({
    by: fc.integer({ min: 0, max: howManyAuthors - 1 }),
    kind: fc.constantFrom(...among),
    from: fc.integer({ min: 0, max: 60 }),
    to: fc.integer({ min: 0, max: 60 }),
    text: word,
    which: fc.integer({ min: 0, max: 2 }),
  });

export const someTextEdit = (howManyAuthors: number) => someEdit(howManyAuthors, textKinds);

/** A state whose selection is the edit's, clipped to places where a caret can be. */
function placed(doc: Node, edit: Edit, collapsed: boolean): EditorState {
  const place = (n: number) => doc.resolve(betweenLetters(doc, n % (doc.content.size + 1)));
  const anchor = place(edit.from);
  return EditorState.create({
    doc,
    selection: contained(TextSelection.between(anchor, collapsed ? anchor : place(edit.to))),
  });
}

/** Some commands of the library leave half a table behind when a slice is dropped; no editor would go on from there. */
function isValid(doc: Node): boolean {
  try {
    doc.check();
  } catch {
    return false;
  }
  let whole = true;
  doc.descendants((node) => void (whole &&= node.type !== schema.nodes.table || isWhole(node)));
  return whole;
}

/** The position, or the one before the letter it would fall into: carets never stand inside a letter. */
function betweenLetters(doc: Node, pos: number): number {
  const $pos = doc.resolve(pos);
  if (!$pos.textOffset) return pos;
  const inside = [...graphemes.segment($pos.parent.textBetween(0, $pos.parent.content.size, '', '\ufffc'))].find(
    ({ index, segment }) => $pos.parentOffset > index && $pos.parentOffset < index + segment.length,
  );
  return inside ? $pos.start() + inside.index : pos;
}

const carets = new Set<Kind>(['backspace', 'delete', 'wordBack', 'wordOn', 'split', 'join', 'joinForward', 'break']);

/** The picture at or after a place, selected; null where there is none. */
function pictureFrom(doc: Node, from: number): EditorState | null {
  const places: number[] = [];
  doc.descendants((node, pos) => void (node.type.name === 'image' && places.push(pos)));
  const pos = places.find((place) => place >= from) ?? places[0];
  return pos === undefined ? null : EditorState.create({ doc, selection: NodeSelection.create(doc, pos) });
}

/** The edit as a plain transaction, as an editor without recording would make it; null where it does nothing. */
export function plainly(doc: Node, edit: Edit): { state: EditorState; tr: Transaction } | null {
  const state = edit.kind === 'reshape' ? pictureFrom(doc, edit.from) : placed(doc, edit, carets.has(edit.kind));
  if (!state) return null;
  const { from, to } = state.selection;
  let tr: Transaction | null = null;
  switch (edit.kind) {
    case 'type':
      tr = keptSpaces(state, state.tr.insertText(edit.text));
      break;
    case 'paste': {
      const pieces = [paragraph(edit.text), paragraph('p' + edit.which, 'quotation'), paragraph(edit.text)];
      tr = state.tr.replaceSelection(new Slice(Fragment.fromArray(pieces.slice(0, edit.which + 1)), 1, 1));
      break;
    }
    case 'drag': {
      const slice = doc.slice(from, to);
      tr = state.tr.deleteSelection();
      const at = tr.doc.resolve(betweenLetters(tr.doc, (edit.which * 7) % (tr.doc.content.size + 1)));
      tr.setSelection(TextSelection.between(at, at)).replaceSelection(slice);
      break;
    }
    case 'whole':
      tr = state.tr.deleteRange(from, to);
      break;
    default:
      commands[edit.kind]!(edit)(state, (made) => (tr = made));
  }
  if (!tr || !(tr as Transaction).docChanged) return null;
  const { doc: made } = tr as Transaction;
  return isValid(made) && cutsNoLetter(made) ? { state, tr } : null;
}

/** No hand gets between the two halves of a letter. */
function cutsNoLetter(doc: Node): boolean {
  let whole = true;
  doc.descendants(({ text }) => void (whole &&= text === undefined || !/\p{Cs}/u.test(text)));
  return whole;
}

/** Stamps whose ids count up, so that a failing script reads well. */
export function stamps(): (author: number) => Stamp {
  let n = 0;
  return (author) => ({
    author: authors[author]!,
    date: `2026-11-0${author + 1}T09:00:00Z`,
    newChange: () => `c${++n}`,
  });
}

/** The document after a script, every edit in pencil. */
export function recorded(doc: Node, script: readonly Edit[]): Node {
  const stampOf = stamps();
  return script.reduce((now, edit) => {
    const made = plainly(now, edit);
    return made ? record(made.state, made.tr, { ...stampOf(edit.by), apart: edit.kind === 'drag' }).doc : now;
  }, doc);
}

/** What somebody writes, recorded, as one batch. */
export function batchOf(doc: Node, edits: readonly Edit[], author: number, stampsFor = stamps): Transform {
  const stamp = stampsFor();
  const tr = new Transform(doc);
  for (const edit of edits) {
    const plain = plainly(tr.doc, edit);
    if (!plain) continue;
    for (const step of record(EditorState.create({ doc: tr.doc }), plain.tr, stamp(author)).steps) tr.step(step);
  }
  return tr;
}
