import type { Node } from 'prosemirror-model';
import type { Range } from '../changes/list.js';

/**
 * A range brought forward over an edit: what is put in at its ends does not belong to it. Where all of it went, it is a
 * place, before what came there since.
 * @param map where a position is after the edit, on the side of what is put in there that it belongs to
 */
export function mappedRange({ from, to }: Range, map: (pos: number, side: 1 | -1) => number): Range {
  const end = map(to, -1);
  return { from: Math.min(map(from, 1), end), to: end };
}

/**
 * The range of words that went and have come back to their place.
 * @param words what was there
 * @returns the place itself, if they are not there
 */
export function foundAgain(doc: Node, at: Range, words: string): Range {
  const to = at.from + words.length;
  const back = at.from === at.to && words && to <= doc.content.size && doc.textBetween(at.from, to) === words;
  return back ? { from: at.from, to } : at;
}
