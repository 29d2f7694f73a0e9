import { Fragment, Slice, type Node } from 'prosemirror-model';
import { TextSelection, type EditorState, type Transaction } from 'prosemirror-state';
import { ReplaceStep } from 'prosemirror-transform';

/**
 * Spaces kept whole: the commonest slip of an edit is a space lost or doubled where a word went or came (common
 * practice, no published source). What is pending deletion counts as gone already.
 */

const isWord = (letter: string | undefined) => !!letter && /[\p{L}\p{N}]/u.test(letter);
/** What no space stands before. */
const isClosing = (letter: string) => /[.,;:!?…)\]}”’]/u.test(letter);

interface Letter {
  text: string;
  pos: number;
}

const isDeleted = (node: Node) => node.marks.some((mark) => mark.type.name === 'deletion');

/** The nearest letter on one side of a place in its paragraph, as it reads when deletions are accepted. */
function letterBeside(doc: Node, pos: number, direction: -1 | 1): Letter | null {
  const $pos = doc.resolve(pos);
  if (!$pos.parent.isTextblock) return null;
  const start = $pos.start();
  let found: Letter | null = null;
  $pos.parent.forEach((node, offset) => {
    if (isDeleted(node) || (direction === 1 && found)) return;
    const from = start + offset;
    const to = from + node.nodeSize;
    if (direction === -1 ? from >= pos : to <= pos) return;
    const at = direction === -1 ? Math.min(to, pos) - 1 : Math.max(from, pos);
    found = { text: node.text?.[at - from] ?? '\ufffc', pos: at };
  });
  return found;
}

/** Words within one paragraph that are about to go, with the letters beside them. */
export interface Removed {
  words: string;
  left: string | undefined;
  right: string | undefined;
}

/** What an edit of the selection takes out, or null where that is nothing, or more than one paragraph. */
export function removedWords({ doc, selection: { from, to, empty, $from, $to } }: EditorState): Removed | null {
  if (empty || !$from.sameParent($to) || !$from.parent.isTextblock) return null;
  const words = doc.textBetween(from, to, '', '\ufffc');
  if (words.length !== to - from) return null; // a footnote says more than stands in the line
  return {
    words,
    left: letterBeside(doc, from, -1)?.text,
    right: letterBeside(doc, to, 1)?.text,
  };
}

/** Whether words begin and end where they were taken out; half a word leaves the rest of it where it is. */
function areWhole({ words, left, right }: Removed): boolean {
  const splits = (isWord(left) && isWord(words[0])) || (isWord(right) && isWord(words[words.length - 1]));
  return !splits && /[\p{L}\p{N}]/u.test(words);
}

/**
 * After whole words have gone, the edit that puts the spaces around the place right: of two one goes, one before a
 * closing mark goes, and where both went one comes back.
 * @param at where the words were, in the state they left
 * @returns an edit of `after`, or null where all is well
 */
export function tidyGone(removed: Removed | null, at: number, after: EditorState): Transaction | null {
  if (!removed || !areWhole(removed)) return null;
  const { words } = removed;
  const l = letterBeside(after.doc, at, -1);
  const r = letterBeside(after.doc, at, 1);
  if (r?.text === ' ' && (l?.text === ' ' || !l)) return after.tr.delete(r.pos, r.pos + 1);
  if (l?.text === ' ' && (!r || isClosing(r.text))) return after.tr.delete(l.pos, l.pos + 1);
  if (isWord(l?.text) && isWord(r?.text) && words.startsWith(' ') && words.endsWith(' '))
    return after.tr.insertText(' ', at);
  return null;
}

/**
 * After whole words have come somewhere else than they stood, the edit that parts them from the words they touch.
 * @param from where they begin and end in `after`
 */
export function tidyCome(from: number, to: number, after: EditorState): Transaction | null {
  const inside = after.doc.textBetween(from, to, '\n', '\ufffc');
  const l = letterBeside(after.doc, from, -1)?.text;
  const r = letterBeside(after.doc, to, 1)?.text;
  const { tr } = after;
  const last = inside[inside.length - 1];
  if ((isWord(last) || (last && isClosing(last))) && isWord(r)) tr.insertText(' ', to);
  else if (last === ' ' && r && isClosing(r)) tr.delete(to - 1, to);
  else if (last === ' ' && (r === ' ' || r === undefined)) tr.delete(to - 1, to);
  if ((isWord(l) || (l && isClosing(l))) && isWord(inside[0])) tr.insertText(' ', from);
  else if (inside.startsWith(' ') && (l === ' ' || l === undefined)) tr.delete(from, from + 1);
  return tr.docChanged ? tr : null;
}

/** The only step of an edit, if it replaces the selected words of a paragraph by others. */
function replacementOf(state: EditorState, tr: Transaction): { step: ReplaceStep; come: string } | null {
  const [step] = tr.steps;
  const { from, to, empty, $from, $to } = state.selection;
  if (tr.steps.length !== 1 || !(step instanceof ReplaceStep) || empty || !$from.sameParent($to)) return null;
  const { slice } = step;
  const text = slice.content.textBetween(0, slice.content.size, '', '\ufffc');
  const flat = slice.openStart === 0 && slice.openEnd === 0 && text.length === slice.content.size;
  return flat && text && step.from === from && step.to === to ? { step, come: text } : null;
}

/**
 * An edit that replaces whole words, so changed that the spaces around them stay: those that were selected along with
 * the words and do not come back are left where they are, those that come twice come once.
 * @param tr the plain edit of `state`; every other edit is returned as it is
 */
export function keptSpaces(state: EditorState, tr: Transaction): Transaction {
  const found = replacementOf(state, tr);
  const removed = found && removedWords(state);
  if (!removed || !areWhole(removed)) return tr;
  let { from, to } = found.step;
  let { content } = found.step.slice;
  const { come } = found;
  const { words, left, right } = removed;
  if (!/[\p{L}\p{N}]/u.test(come)) return tr;
  if (words.endsWith(' ') && isWord(come[come.length - 1]) && isWord(right)) to--;
  else if (!words.endsWith(' ') && come.endsWith(' ') && right === ' ') content = content.cut(0, content.size - 1);
  if (words.startsWith(' ') && isWord(come[0]) && isWord(left)) from++;
  else if (!words.startsWith(' ') && come.startsWith(' ') && left === ' ') content = content.cut(1);
  if (content === found.step.slice.content && from === found.step.from && to === found.step.to) return tr;
  const kept = state.tr.step(new ReplaceStep(from, to, new Slice(Fragment.from(content), 0, 0)));
  for (const name of ['uiEvent', 'paste']) if (tr.getMeta(name) !== undefined) kept.setMeta(name, tr.getMeta(name));
  const end = from + content.size;
  return kept.setSelection(TextSelection.create(kept.doc, end));
}
