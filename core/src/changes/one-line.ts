import type { Piece } from './in-sentence.js';

/** Words of a sentence with a change: those that stay, that went, that came, and those that only look otherwise. */
export interface LinePiece {
  text: string;
  is: 'same' | 'gone' | 'come' | 'about';
}

const same = (a: Piece | undefined, b: Piece | undefined) => a?.text === b?.text && a?.changed === b?.changed;

/** A change in its sentence in one line: what went, where it stood, and what came behind it. */
export function inOneLine({ before, after }: { before: readonly Piece[]; after: readonly Piece[] }): LinePiece[] {
  const first = before.findIndex((piece, i) => !same(piece, after[i]));
  const as = (pieces: readonly Piece[], is: LinePiece['is']): LinePiece[] =>
    pieces.flatMap(({ text, changed }) => (text ? [{ text, is: changed ? is : 'same' }] : []));
  if (first < 0) return as(after, after.length > before.length ? 'come' : 'about');
  const most = Math.min(before.length, after.length) - first;
  let end = 0;
  while (end < most && same(before.at(-1 - end), after.at(-1 - end))) end++;
  return [
    ...as(before.slice(0, first), 'same'),
    ...as(before.slice(first, before.length - end), 'gone'),
    ...as(after.slice(first, after.length - end), 'come'),
    ...as(before.slice(before.length - end), 'same'),
  ];
}
