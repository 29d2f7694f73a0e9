import { baseOf, passagesOf, printOf, wordToKeep, type FindingKind, type Proposal } from '@tea-pencil/core';
import type { LastLookState, LeftFinding } from '@tea-pencil/wire';
import type { Found } from './found';

/** Which findings remain, and how they are shown. */

/** What each kind of finding is called, and what a plain sentence says of it. */
export const kindWords: Readonly<Record<FindingKind, [name: string, says: string]>> = {
  spelling: ['Spelling', 'words that no dictionary has'],
  repeated: ['Words twice', 'a word that stands twice in a row'],
  spaces: ['Spaces', 'spaces doubled, lost, or where none belongs'],
  punctuation: ['Punctuation', 'two signs together'],
  sentence: ['Sentences', 'an end or a capital that is lost'],
  pairs: ['Halves', 'brackets and quotation marks without their other half'],
  mixed: ['Mixed signs', 'quotation marks, dashes and ellipses of two kinds'],
  variants: ['Two ways', 'the same thing written in two ways'],
  style: ['House style', 'where the text goes against the house style'],
  order: ['Order', 'numbers of headings, notes and captions out of order'],
  reference: ['References', 'to what is not in this text'],
  link: ['Links', 'to places that are not in this text'],
  empty: ['Empty', 'paragraphs and headings without anything'],
  highlight: ['Highlights', 'words that are still highlighted'],
};

/** Whether a word is kept: with a capital that the sentence gives it too. */
function knows(words: ReadonlySet<string>, language: string, word: string): boolean {
  const key = (one: string) => `${baseOf(language)} ${one.replaceAll('’', "'")}`;
  return words.has(key(word)) || words.has(key(word.charAt(0).toLowerCase() + word.slice(1)));
}

/** The findings that nobody has left and no kept word makes right. */
export function remaining(found: readonly Found[], state: LastLookState | undefined): readonly Found[] {
  if (!state) return found;
  const all = new Set(state.left.flatMap((one) => (one.all ? [one.key] : [])));
  const single = new Set(state.left.flatMap((one) => (one.all ? [] : [one.key])));
  const words = new Set(state.words.map(({ language, word }) => `${baseOf(language)} ${word.replaceAll('’', "'")}`));
  if (!all.size && !single.size && !words.size) return found;
  return found.filter(
    ({ kind, such, key, language, words: text }) =>
      !all.has(such) &&
      !single.has(key) &&
      !(kind === 'spelling' && language && knows(words, language, wordToKeep(text))),
  );
}

/** The findings that stand in what has changed since the text was looked over. */
export function sinceLast(found: readonly Found[], state: LastLookState | undefined): readonly Found[] {
  const prints = state?.last && new Set(state.last.prints);
  return prints ? found.filter(({ block }) => !prints.has(printOf(passagesOf(block)))) : found;
}

/** How many there are of each kind, in the order of the list. */
export function countKinds(found: readonly Found[]): Map<FindingKind, number> {
  const counts = new Map<FindingKind, number>();
  for (const { kind } of found) counts.set(kind, (counts.get(kind) ?? 0) + 1);
  return counts;
}

/** What a finding is about, as a list shows it. */
export function wordsOf({ words, kind, why }: Pick<Found, 'words' | 'kind' | 'why'>): string {
  if (kind === 'empty' && !words) return why.includes('heading') ? 'a heading' : 'a paragraph';
  if (!words.trim()) return words ? 'a space' : 'nothing between';
  return words.length > 60 ? `${words.slice(0, 60)}…` : words;
}

/** A proposal as a button shows it. */
export function proposalWords({ text, how, says }: Proposal): string {
  if (says) return says;
  if (how === 'paragraph') return 'Take it out';
  if (how === 'italic') return 'Set it in italics';
  if (how === 'highlight') return 'Take the highlight off';
  if (text === '') return 'Take it out';
  if (text === ' ') return 'One space';
  if (text === '\u00a0' || text === '\u202f') return 'A space that holds the line together';
  const shown = text.replaceAll('\u00a0', '⍽').replaceAll('\u202f', '⍽');
  return shown.trim() === shown ? shown : `“${shown}”`;
}

/** What is left, as a list shows it. */
export const leftWords = ({ all, kind, words }: LeftFinding): string =>
  `${kindWords[kind]?.[0] ?? kind}: ${words.trim() ? `“${words.slice(0, 40)}”` : 'a space'}${all ? ', all such' : ''}`;
