import type { EditorState, Transaction } from 'prosemirror-state';
import { takenUp, setDown, type TakenUp } from '@tea-pencil/core';

/**
 * Threads go with words that are cut and set down elsewhere, or dragged there, in pencil and in ink.
 * @param before the state the editor's edit `plain` was made from
 * @param own what it was recorded as; where words are set down, their threads are fastened in it
 * @param carried what was cut before
 * @returns what can be set down from now on
 */
export function carry(
  before: EditorState,
  plain: Transaction,
  own: Transaction,
  carried: TakenUp | null,
): TakenUp | null {
  const event = plain.getMeta('uiEvent') as 'cut' | 'paste' | 'drop' | undefined;
  const { from, to } = before.selection;
  if (event === 'cut') return takenUp(before.doc, from, to);
  if (event === 'paste' && carried) {
    setDown(own, carried, own.mapping.map(from, -1), own.selection.from);
    return null;
  }
  const dragged = event === 'drop' && takenUp(before.doc, from, to);
  if (dragged) setDown(own, dragged, own.selection.from, own.selection.to);
  return carried;
}
