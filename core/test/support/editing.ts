import fc from 'fast-check';
import { Fragment, Slice, type Node } from 'prosemirror-model';
import { EditorState, TextSelection, type Transaction } from 'prosemirror-state';
import { deleteSelection, joinBackward, joinForward, splitBlock, toggleMark } from 'prosemirror-commands';
import {
  addColumn,
  addRow,
  contained,
  deleteColumn,
  deleteRow,
  deleteTable,
  insertFootnote,
  insertPicture,
  insertRule,
  insertTable,
  record,
  schema,
  toggleHeaderRow,
  type Stamp,
} from '../../src/index.js';

const graphemes = new Intl.Segmenter(undefined, { granularity: 'grapheme' });

// The same cases every time, unless others are asked for.
if (process.env.LAWS_SEED !== 'any') fc.configureGlobal({ seed: Number(process.env.LAWS_SEED ?? 1107) });

/** Random documents and edit scripts, made from the commands an editor has. */

export const authors = ['ann', 'ben', 'cyd'];

const marksOf = ['bold', 'italic', 'underline'];

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

export interface Edit {
  by: number;
  kind:
    | 'type'
    | 'backspace'
    | 'delete'
    | 'cut'
    | 'split'
    | 'join'
    | 'joinForward'
    | 'restyle'
    | 'list'
    | 'toggle'
    | 'paste'
    | 'drag'
    | 'break'
    | 'whole'
    | keyof typeof commands;
  from: number;
  to: number;
  text: string;
  which: number;
}

/** Commands of the editor that need nothing but the selection. */
const commands = {
  table: insertTable(2, 2),
  rowBelow: addRow('below'),
  rowAbove: addRow('above'),
  columnBefore: addColumn('before'),
  columnBehind: addColumn('behind'),
  dropRow: deleteRow,
  dropColumn: deleteColumn,
  dropTable: deleteTable,
  header: toggleHeaderRow,
  footnote: insertFootnote('note'),
  rule: insertRule,
  picture: insertPicture({ asset: 'one', alt: '', width: null, height: null }),
};

const kinds: Edit['kind'][] = [
  ...(Object.keys(commands) as (keyof typeof commands)[]),
  'type',
  'type',
  'type',
  'backspace',
  'backspace',
  'delete',
  'cut',
  'split',
  'split',
  'join',
  'joinForward',
  'restyle',
  'list',
  'toggle',
  'toggle',
  'paste',
  'drag',
  'break',
  'whole',
];

/** Kinds of edits that leave only paragraphs, letters and line breaks. */
const textKinds = kinds.filter((kind) => !(kind in commands));

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
    return true;
  } catch {
    return false;
  }
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

const carets = new Set<Edit['kind']>(['backspace', 'delete', 'split', 'join', 'joinForward', 'break']);

/** The edit as a plain transaction, as an editor without recording would make it; null where it does nothing. */
export function plainly(doc: Node, edit: Edit): { state: EditorState; tr: Transaction } | null {
  const state = placed(doc, edit, carets.has(edit.kind));
  const { from, to, $from } = state.selection;
  let tr: Transaction | null = null;
  const catching = (made: Transaction) => (tr = made);
  const backspace = () => $from.parentOffset > 0 && (tr = state.tr.delete(graphemeStart(doc, from), from));
  switch (edit.kind) {
    case 'type':
      tr = state.tr.insertText(edit.text);
      break;
    case 'backspace':
      if (!backspace()) joinBackward(state, catching);
      break;
    case 'delete':
      if ($from.parentOffset < $from.parent.content.size) tr = state.tr.delete(from, graphemeEnd(doc, from));
      else joinForward(state, catching);
      break;
    case 'cut':
      deleteSelection(state, catching);
      break;
    case 'split':
      splitBlock(state, catching);
      break;
    case 'join':
      joinBackward(state, catching);
      break;
    case 'joinForward':
      joinForward(state, catching);
      break;
    case 'restyle':
      tr = state.tr.setBlockType(from, to, schema.nodes.paragraph!, {
        style: ['body', 'heading1', 'heading2'][edit.which]!,
      });
      break;
    case 'list':
      tr = state.tr;
      doc.nodesBetween(from, to, (node, pos) => {
        if (node.isTextblock)
          tr!.setNodeAttribute(pos, 'list', edit.which ? { kind: 'number', level: edit.which } : null);
      });
      break;
    case 'toggle':
      toggleMark(schema.marks[marksOf[edit.which]!]!)(state, catching);
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
    case 'break':
      tr = state.tr.replaceSelectionWith(schema.nodes.line_break!.create());
      break;
    case 'whole':
      tr = state.tr.deleteRange(from, to);
      break;
    default:
      commands[edit.kind](state, catching);
  }
  return tr && (tr as Transaction).docChanged && isValid((tr as Transaction).doc) ? { state, tr } : null;
}

function graphemeStart(doc: Node, pos: number): number {
  const $pos = doc.resolve(pos);
  const before = $pos.parent.textBetween(0, $pos.parentOffset, '', '\ufffc');
  const last = [...graphemes.segment(before)].pop()!;
  return pos - last.segment.length;
}
function graphemeEnd(doc: Node, pos: number): number {
  const $pos = doc.resolve(pos);
  const after = $pos.parent.textBetween($pos.parentOffset, $pos.parent.content.size, '', '\ufffc');
  return pos + [...graphemes.segment(after)][0]!.segment.length;
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
