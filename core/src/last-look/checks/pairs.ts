import type { Found } from '../finding.js';
import type { Passage } from '../passage.js';

/** Brackets and quotation marks that have lost their other half. */

const brackets: readonly [open: string, close: string][] = [
  ['(', ')'],
  ['[', ']'],
  ['{', '}'],
];
const quotes: readonly [open: string, close: string][] = [
  ['“', '”'],
  ['„', '“'],
  ['«', '»'],
  ['‹', '›'],
];
const names: Readonly<Record<string, string>> = { '(': 'bracket', '[': 'bracket', '{': 'bracket' };

/** Where the sentence ends that a place is in: before its point, or at the end of the paragraph. */
function endOfSentence(text: string, at: number): number {
  const found = /[.!?…](?=[\s”"’»“]|$)/u.exec(text.slice(at, at + longestSentence));
  if (found) return at + found.index;
  return Math.min(text.trimEnd().length, at + longestSentence);
}
const longestSentence = 1000;

const lost = (passage: Passage, at: number, what: string, other: string, opens: boolean): Found => {
  const end = endOfSentence(passage.text, at + 1);
  const add = { text: other, from: end, to: end, says: `${other} at the end of the sentence` };
  return {
    kind: 'pairs',
    from: at,
    to: at + 1,
    words: passage.text[at]!,
    why: `This ${what} has lost its other half.`,
    proposals: opens ? [add, { text: '' }] : [{ text: '' }],
    such: `pairs|${passage.text[at]}`,
  };
};

const count = (text: string, sign: string) => text.split(sign).length - 1;

/** Signs of one pair that are not matched: the places of those that open, and of those that close. */
function unmatched(text: string, open: string, close: string, skip: (at: number) => boolean) {
  const opened: number[] = [];
  const closed: number[] = [];
  for (let at = 0; at < text.length; at++) {
    if (text[at] === open && open !== close) opened.push(at);
    else if (text[at] === close && !skip(at) && opened.pop() === undefined) closed.push(at);
  }
  return { opened, closed };
}

/**
 * @param next the passage after it: where quoted words run on over paragraphs, each begins with a mark and only the last
 * ends with one (common practice, no published source)
 */
export function pairs(passage: Passage, next: Passage | null): Found[] {
  const { text } = passage;
  const found: Found[] = [];
  for (const [open, close] of brackets) {
    if (!text.includes(open) && !text.includes(close)) continue;
    // What numbers an item stands without its first half: “a)”, “12)”.
    const numbers = (at: number) =>
      /(?:^|\s)(?:\p{L}|\d{1,3}|[ivxlc]{1,5})$/u.test(text.slice(Math.max(0, at - 8), at)) && close === ')';
    const { opened, closed } = unmatched(text, open, close, numbers);
    for (const at of opened) found.push(lost(passage, at, names[open]!, close, true));
    for (const at of closed) found.push(lost(passage, at, names[open]!, open, false));
  }
  const halves: Found[] = [];
  const german = text.includes('„');
  for (const [open, close] of quotes) {
    // “ opens in English and closes in German: which of them a passage has, its other marks tell.
    if (german ? open === '“' : open === '„') continue;
    if (!text.includes(open) && !text.includes(close)) continue;
    // In some languages » opens and « closes; then they are looked at the other way round. A text may have both.
    const even = open === '«' && count(text, open) === count(text, close);
    const turned =
      open === '«' && text.indexOf(close) >= 0 && text.indexOf(close) < (text.indexOf(open) + 1 || Infinity) - 1;
    if (even) continue;
    const { opened, closed } = turned
      ? unmatched(text, close, open, () => false)
      : unmatched(text, open, close, () => false);
    const runsOn = (at: number) => opened.length === 1 && next !== null && next.text.startsWith(open) && at >= 0;
    for (const at of opened)
      if (!runsOn(at)) halves.push(lost(passage, at, 'quotation mark', turned ? open : close, true));
    for (const at of closed) halves.push(lost(passage, at, 'quotation mark', turned ? close : open, false));
  }
  const straight = [...text.matchAll(/(?<!\d)"/g)];
  const odd = straight.length % 2 === 1 ? straight[straight.length - 1]! : null;
  // One that is straight and one that is not make a pair: of two kinds, which is found elsewhere.
  if (odd && halves.length === 1) return found;
  if (odd) halves.push(lost(passage, odd.index, 'quotation mark', '"', false));
  return [...found, ...halves];
}
