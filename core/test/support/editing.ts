import fc from 'fast-check';
import { Fragment, Slice, type Node } from 'prosemirror-model';
import { EditorState, TextSelection, type Transaction } from 'prosemirror-state';
import { deleteSelection, joinBackward, joinForward, splitBlock, toggleMark } from 'prosemirror-commands';
import { record, schema, type Stamp } from '../../src/index.js';

const graphemes = new Intl.Segmenter(undefined, { granularity: 'grapheme' });

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

export const someDocument: fc.Arbitrary<Node> = fc
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
    schema.nodes.doc!.create(
      null,
      paragraphs.map(({ text: t, style, list, bold }) =>
        schema.nodes.paragraph!.create(
          { style, list },
          t ? schema.text(t, bold ? [schema.marks.bold!.create()] : []) : null,
        ),
      ),
    ),
  );

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
    | 'whole';
  from: number;
  to: number;
  text: string;
  which: number;
}

const kinds: Edit['kind'][] = [
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

export const someEdit = (howManyAuthors: number): fc.Arbitrary<Edit> =>
  fc.record({
    by: fc.integer({ min: 0, max: howManyAuthors - 1 }),
    kind: fc.constantFrom(...kinds),
    from: fc.integer({ min: 0, max: 60 }),
    to: fc.integer({ min: 0, max: 60 }),
    text: word,
    which: fc.integer({ min: 0, max: 2 }),
  });

/** A state whose selection is the edit's, clipped to places where a caret can be. */
function placed(doc: Node, edit: Edit, collapsed: boolean): EditorState {
  const place = (n: number) => doc.resolve(betweenLetters(doc, n % (doc.content.size + 1)));
  const anchor = place(edit.from);
  return EditorState.create({ doc, selection: TextSelection.between(anchor, collapsed ? anchor : place(edit.to)) });
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
  }
  return tr && (tr as Transaction).docChanged ? { state, tr } : null;
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
    return made ? record(made.state, made.tr, stampOf(edit.by)).doc : now;
  }, doc);
}
