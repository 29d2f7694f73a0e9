import type { Piece } from '../changes/in-sentence.js';
import { smallEditWords } from '../changes/small-edits.js';
import type { Change, ChangeKind } from '../changes/list.js';
import { countWords } from '../manuscript/words.js';

/** Which small edits were made again and again: what there is to learn from them. */

/** A change with its sentence before and after. */
export interface Edited extends Pick<Change, 'kind' | 'before' | 'after' | 'objects'> {
  sentence: { before: readonly Piece[]; after: readonly Piece[] };
}

/** A small edit that was made several times. */
export interface Frequent {
  /** What was done: "comma in", or of a replacement what stands for what. */
  what: string;
  /** The word that it stands before, or after, where it is one and the same often enough. */
  beside: { side: 'before' | 'after'; word: string } | null;
  many: number;
  examples: readonly Edited['sentence'][];
}

/** So many words are few enough for a small edit. */
const fewWords = 3;
/** So often one word must stand beside an edit to be named, and what part of such edits that must be. */
const often = 3;
const part = 0.2;
const mostExamples = 2;

const plain: ReadonlySet<ChangeKind> = new Set<ChangeKind>(['insertion', 'deletion', 'replacement']);

/** What an edit does, as all that do the same have it; null for one that is not small. */
function deedOf(change: Edited): string | null {
  const { kind, before, after, objects } = change;
  if (!plain.has(kind) || objects.length || /[\n\ufffc]/.test(before + after)) return null;
  const sign = smallEditWords(change);
  if (sign) return sign;
  const [gone, come] = [before.trim(), after.trim()].map((text) => text.toLocaleLowerCase());
  if (countWords(gone!) > fewWords || countWords(come!) > fewWords) return null;
  if (gone && come) return gone === come ? null : `“${before.trim()}” › “${after.trim()}”`;
  if (gone) return `“${gone}” out`;
  return come ? `“${come}” in` : null;
}

const wordAtEnd = /([\p{L}\p{M}\p{N}’'-]+)[^\p{L}\p{M}\p{N}]*$/u;
const wordAtStart = /^[^\p{L}\p{M}\p{N}]*([\p{L}\p{M}\p{N}’'-]+)/u;

/** The words that stand before and after the edited place. */
function besides({ sentence }: Edited): Frequent['beside'][] {
  const pieces = sentence.after.some(({ changed }) => changed) ? sentence.after : sentence.before;
  const first = pieces.findIndex(({ changed }) => changed);
  if (first < 0) return [];
  const last = pieces.findLastIndex(({ changed }) => changed);
  const text = (some: readonly Piece[]) => some.map((piece) => piece.text).join('');
  const next = wordAtStart.exec(text(pieces.slice(last + 1)))?.[1];
  const previous = wordAtEnd.exec(text(pieces.slice(0, first)))?.[1];
  return [
    ...(next ? [{ side: 'before' as const, word: next.toLocaleLowerCase() }] : []),
    ...(previous ? [{ side: 'after' as const, word: previous.toLocaleLowerCase() }] : []),
  ];
}

const textOf = ({ before, after }: Edited['sentence']) =>
  [before, after].map((pieces) => pieces.map(({ text }) => text).join('')).join('\n');

const keyOf = (beside: NonNullable<Frequent['beside']>) => `${beside.side} ${beside.word}`;

/** The edits of one deed, those beside one word apart where there are many of them; each edit is in one group. */
function grouped(what: string, edits: readonly Edited[]): Frequent[] {
  const least = Math.max(often, Math.ceil(edits.length * part));
  const groups = new Map<string, { beside: NonNullable<Frequent['beside']>; edits: Set<Edited> }>();
  for (const edit of edits)
    for (const beside of besides(edit)) {
      const known = groups.get(keyOf(beside!)) ?? { beside: beside!, edits: new Set<Edited>() };
      known.edits.add(edit);
      groups.set(keyOf(beside!), known);
    }
  const left = new Set(edits);
  const found: Frequent[] = [];
  const made = (beside: Frequent['beside'], all: readonly Edited[]): Frequent => {
    const different = new Map(all.map(({ sentence }) => [textOf(sentence), sentence]));
    return { what, beside, many: all.length, examples: [...different.values()].slice(0, mostExamples) };
  };
  // The most of them first: what stands before “which” and after “tide” is counted once.
  for (const { beside, edits: all } of [...groups.values()].sort((a, b) => b.edits.size - a.edits.size)) {
    const mine = [...all].filter((edit) => left.has(edit));
    if (mine.length < least) continue;
    mine.forEach((edit) => left.delete(edit));
    found.push(made(beside, mine));
  }
  return left.size ? [...found, made(null, [...left])] : found;
}

/**
 * The small edits that were made most often, each once or as often as it was made.
 * @param most how many are wanted
 */
export function frequentEdits(changes: readonly Edited[], most = 10): Frequent[] {
  const deeds = new Map<string, Edited[]>();
  for (const change of changes) {
    const deed = deedOf(change);
    if (deed === null) continue;
    const known = deeds.get(deed);
    if (known) known.push(change);
    else deeds.set(deed, [change]);
  }
  return [...deeds]
    .flatMap(([what, edits]) => grouped(what, edits))
    .filter(({ many }) => many > 1)
    .sort((a, b) => b.many - a.many)
    .slice(0, most);
}

/** A frequent edit in words: "comma in, before which". */
export const frequentWords = ({ what, beside }: Frequent): string =>
  beside ? `${what}, ${beside.side} “${beside.word}”` : what;
