import type { Passage } from './passage.js';

/** What a block is known again by: its fair words and how they are set. */

/** FNV-1a of 32 bits (Fowler, Noll and Vo; IETF RFC 9923), from a beginning of one’s choice. */
function fnv(text: string, begin: number): number {
  let hash = begin;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return hash >>> 0;
}

/** A print of a block, of 64 bits as text: two blocks with the same words have the same. It is made once. */
export function printOf(passages: readonly Passage[]): string {
  let print = known.get(passages);
  if (print === undefined) known.set(passages, (print = made(passages)));
  return print;
}
const known = new WeakMap<readonly Passage[], string>();

function made(passages: readonly Passage[]): string {
  const text = passages.map(({ style, text: words }) => `${style}\u0000${words}`).join('\u0001');
  return fnv(text, 0x811c9dc5).toString(36) + fnv(text, 0x2f6b1d47).toString(36);
}
