import type { EditorState, Transaction } from 'prosemirror-state';
import type { Node } from 'prosemirror-model';

/**
 * Spaces kept whole: the commonest slip of an edit is a space lost or doubled where a word went (common practice, no
 * published source). What is pending deletion counts as gone already.
 */

const isWord = (letter: string) => /[\p{L}\p{N}]/u.test(letter);
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
  const start = $pos.start();
  let found: Letter | null = null;
  $pos.parent.forEach((node, offset) => {
    if (isDeleted(node) || (direction === 1 && found)) return;
    const from = start + offset;
    const to = from + node.nodeSize;
    if (direction === -1 ? from >= pos : to <= pos) return;
    const at = direction === -1 ? Math.min(to, pos) - 1 : Math.max(from, pos);
    found = { text: node.isText ? node.text![at - from]! : '\ufffc', pos: at };
  });
  return found;
}

/** The words that an edit took out by deleting a selection within a paragraph, or null if it did anything else. */
function deletedWords(before: EditorState, tr: Transaction): string | null {
  const { from, to, empty, $from, $to } = before.selection;
  const [map] = tr.mapping.maps;
  if (empty || !map || tr.mapping.maps.length !== 1 || !$from.sameParent($to)) return null;
  const ranges: number[][] = [];
  map.forEach((...range) => ranges.push(range));
  const [range] = ranges;
  const whole = ranges.length === 1 && range![0] === from && range![1] === to && range![2] === range![3];
  return whole ? before.doc.textBetween(from, to, '', '\ufffc') : null;
}

/**
 * After whole words have been deleted, the edit that puts the spaces around them right: of two one goes, one before a
 * closing mark goes, and where both went one comes back.
 * @param before the state in which the words were selected
 * @param tr the plain deletion, as the editor made it
 * @param after the state it led to once recorded, with the caret where the words were
 * @returns an edit of `after`, or null where all is well
 */
export function tidySpaces(before: EditorState, tr: Transaction, after: EditorState): Transaction | null {
  const words = deletedWords(before, tr);
  if (!words || ![...words].some(isWord)) return null;
  const { from, to } = before.selection;
  const left = letterBeside(before.doc, from, -1);
  const right = letterBeside(before.doc, to, 1);
  const first = words[0]!;
  const last = words[words.length - 1]!;
  const splits = (left && isWord(left.text) && isWord(first)) || (right && isWord(right.text) && isWord(last));
  if (splits) return null; // half a word: the rest of it stays where it is
  const here = after.selection.from;
  const l = letterBeside(after.doc, here, -1);
  const r = letterBeside(after.doc, here, 1);
  const atStart = !l;
  if (r?.text === ' ' && (l?.text === ' ' || atStart)) return after.tr.delete(r.pos, r.pos + 1);
  if (l?.text === ' ' && (!r || isClosing(r.text))) return after.tr.delete(l.pos, l.pos + 1);
  if (l && r && isWord(l.text) && isWord(r.text) && first === ' ' && last === ' ')
    return after.tr.insertText(' ', here);
  return null;
}
