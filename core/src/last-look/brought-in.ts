import type { Found } from './finding.js';
import type { Passage } from './passage.js';

/** Which pending change has brought a finding in. */

const times = (text: string, part: string): number => (part ? text.split(part).length - 1 : 0);

/** The signs that show whether the same stood there before: its words, with what stands beside them where those are few. */
function tellingSigns({ kind, from, to, words }: Found, text: string): string {
  if (kind === 'sentence') return text.slice(Math.max(0, from - 2), to);
  if (words.length > 1 || (words && kind !== 'spaces')) return words;
  if (words) return to < text.length ? text.slice(from, to + 1) : text.slice(Math.max(0, from - 1), to);
  return text.slice(Math.max(0, from - 1), to + 1);
}

/**
 * The edit that touches a finding, where the same did not stand there before it; undefined where none does. Halves are
 * asked only whether an edit touches them: what was taken away is the other half.
 */
export function broughtInBy({ edits, text, was }: Passage, found: Found): { change: string } | undefined {
  if (was === null) return undefined;
  const before = found.kind === 'sentence' ? 2 : 0;
  const edit = edits.find(({ from, to }) => from <= found.to && to >= found.from - before);
  if (!edit || found.kind === 'pairs') return edit;
  const signs = tellingSigns(found, text);
  return times(text, signs) > times(was, signs) || !signs ? edit : undefined;
}
