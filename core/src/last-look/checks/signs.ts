import { baseOf, languageAt, wordsOfPassage, addressesOf } from '../tokens.js';
import type { Passage } from '../passage.js';
import { anyMonth } from '../dates.js';
import { isFunctionWord, isParticle } from './function-words.js';

/** What a text writes in one of several ways: signs, compounds, numbers. Where it writes it in two, that is found. */

/** One place where something is written in one way. */
export interface Written {
  /** What is written: it is told by this, whichever way it is written. */
  such: string;
  /** What that is called. */
  what: string;
  /** In which way it is written here, as a person would say it. */
  form: string;
  from: number;
  to: number;
}

const sort = (such: string, what: string) => ({ such, what });
const quotesSort = sort('mixed|quotes', 'quotation marks');
const apostropheSort = sort('mixed|apostrophes', 'apostrophes');
const dashSort = sort('mixed|dashes', 'dashes between words');
const ellipsisSort = sort('mixed|ellipses', 'ellipses');
const unitSort = sort('variants|units', 'numbers with units');
const thousandsSort = sort('variants|thousands', 'large numbers');
const dateSort = sort('variants|dates', 'dates');

/** Units of the SI and beside it (BIPM, The International System of Units, 9th edition, tables 2, 4 and 8). */
export const units = 'km|m|cm|mm|µm|kg|g|mg|l|ml|L|mL|ha|kPa|hPa|Pa|kW|W|Hz|°C|K|km/h|kn|nmi';

type Rule = [sort: { such: string; what: string }, form: string, expression: RegExp];

/** Each expression finds one way of writing: what it matches is the stretch that would be written anew. */
const ways: readonly Rule[] = [
  [quotesSort, '“ ”', /[“”„]|[«»]/gu],
  [quotesSort, '" "', /(?<!\d)"/gu],
  [apostropheSort, '’', /(?<=\p{L})’(?=\p{L})/gu],
  [apostropheSort, "'", /(?<=\p{L})'(?=\p{L})/gu],
  [dashSort, ' – ', /(?<=[\p{L}\p{N},”’)]) – (?=[\p{L}\p{N}“‘(])/gu],
  [dashSort, '—', /(?<=[\p{L}\p{N},”’)])—(?=[\p{L}\p{N}“‘(])/gu],
  [dashSort, ' — ', /(?<=[\p{L}\p{N},”’)]) — (?=[\p{L}\p{N}“‘(])/gu],
  [dashSort, ' - ', /(?<=[\p{L},”’)]) - (?=[\p{L}“‘(])/gu],
  [dashSort, '--', /(?<=[\p{L}\p{N},”’)]) ?-- ?(?=[\p{L}\p{N}“‘(])/gu],
  [ellipsisSort, '…', /…/gu],
  [ellipsisSort, '...', /(?<!\.)\.\.\.(?!\.)/gu],
  [ellipsisSort, '. . .', /(?<!\.)\. \. \./gu],
  [unitSort, '5 km', new RegExp(`(?<=\\d)[ \\u00a0\\u202f](?=(?:${units})(?![\\p{L}\\d]))`, 'gu')],
  [unitSort, '5km', new RegExp(`(?<=(?<![\\p{L}\\d])\\d[\\d.,]{0,12})(?=(?:${units})(?![\\p{L}\\d]))`, 'gu')],
  [thousandsSort, '12,000', /(?<![\d.,])\d{1,3}(?:,\d{3})+(?![\d,])/gu],
  [thousandsSort, '12 000', /(?<![\d.,] ?)\d{1,3}(?:[\u00a0\u202f]\d{3})+(?!\d)/gu],
  [thousandsSort, '12000', /(?<![\d.,/:-])(?:\d{5,9}|[3-9]\d{3})(?![\d/:-]|[.,]\d)/gu],
  [dateSort, '3 May 2019', new RegExp(`\\b\\d{1,2} (?:${anyMonth}) \\d{4}\\b`, 'gu')],
  [dateSort, 'May 3, 2019', new RegExp(`\\b(?:${anyMonth}) \\d{1,2}, \\d{4}\\b`, 'gu')],
  [dateSort, '3rd May 2019', new RegExp(`\\b\\d{1,2}(?:st|nd|rd|th) (?:${anyMonth}) \\d{4}\\b`, 'gu')],
];

/** Words that are spelt in two ways within one language; what they become is the same for both. */
const spelt: readonly [RegExp, string][] = [
  [/^(colo|harbo|neighbo|favo|hono|labo|behavio|flavo|odo|vapo|humo|rumo|splendo|armo|endeavo)u?r/u, '$1r'],
  [/^gr[ea]y(?=$|s$|er$|est$|ish$)/u, 'grey'],
  [/^(travel|cancel|label|model|level|signal|fuel|marvel|jewel)l?(ed|ing|er|ers)$/u, '$1$2'],
  [/^(\p{L}{3,})i[sz](e|es|ed|ing|ation|ations|er|ers)$/u, '$1is$2'],
  [/^(cent|theat|lit|fib|lust|spect|kilomet|centimet|millimet)(?:re|er)(s?)$/u, '$1re$2'],
  [/^judge?ment(s?)$/u, 'judgement$1'],
  [/^medi?eval$/u, 'medieval'],
];
const unmarked = (word: string) => word.normalize('NFD').replace(/\p{M}/gu, '');

const points = /(?<![\p{L}.])(?:\p{L}\.){2,}|(?<![\p{L}.])(?:eg|ie|UK|USA|US|BC|AD)(?![\p{L}.])/gu;

/** The compounds of English that may be one word, two, or joined by a hyphen. */
function* compounds(passage: Passage, language: string): Generator<Written> {
  const all = wordsOfPassage(passage);
  const english = (at: number) => baseOf(languageAt(passage, at, language)) === 'en';
  for (const [i, { text, from, to }] of all.entries()) {
    const next = all[i + 1];
    // Before a noun a compound is joined that stands alone as two words (common practice, no published source).
    const role = (after: typeof next, end: number) =>
      after && passage.text.slice(end, after.from) === ' ' && /^\p{Ll}/u.test(after.text) && !isFunctionWord(after.text)
        ? 'before a word'
        : 'alone';
    const compound = (key: string, form: string, end: number, after: typeof next) => {
      const such = `variants|compound|${key}|${role(after, end)}`;
      return { such, what: `“${form}”`, form, from, to: end };
    };
    if (/^\p{L}+[-‑‐]\p{L}+$/u.test(text)) {
      const form = text.toLowerCase();
      if (form.split(/[-‑‐]/).every((part) => part.length > 1))
        yield compound(form.replace(/[-‑‐]/, ''), form.replace(/[‑‐]/, '-'), to, next);
    } else if (/^\p{L}\p{Ll}{4,}$/u.test(text)) yield compound(text.toLowerCase(), text.toLowerCase(), to, next);
    if (!next || !english(from) || passage.text.slice(to, next.from) !== ' ') continue;
    if (!/^\p{Ll}{3,}$/u.test(text) || !/^\p{Ll}{3,}$/u.test(next.text)) continue;
    if (isFunctionWord(text) || isFunctionWord(next.text) || isParticle(next.text)) continue;
    yield compound(text + next.text, `${text} ${next.text}`, next.to, all[i + 2]);
  }
}

/** Words of English that are spelt in two ways, and abbreviations with points and without. */
function* spellings(passage: Passage, language: string): Generator<Written> {
  for (const { text, from, to } of wordsOfPassage(passage)) {
    if (baseOf(languageAt(passage, from, language)) !== 'en') continue;
    const word = text.toLowerCase().replace(/['’]s$|['’]$/u, '');
    const end = from + word.length;
    for (const [expression, same] of spelt)
      if (expression.test(word))
        yield {
          such: `variants|spelling|${word.replace(expression, same)}`,
          what: `“${word}”`,
          form: word,
          from,
          to: end,
        };
    const plain = unmarked(word);
    if (word.length > 3 && to > from && /^\p{Ll}/u.test(text))
      yield { such: `variants|accents|${plain}`, what: `“${word}”`, form: word.normalize('NFC'), from, to: end };
  }
  for (const { 0: form, index } of passage.text.matchAll(points)) {
    const bare = form.replaceAll('.', '');
    yield { such: `variants|points|${bare}`, what: `“${bare}”`, form, from: index, to: index + form.length };
  }
}

/** Everything of a passage that could be written in another way. */
export function writtenIn(passage: Passage, language: string): Written[] {
  const found: Written[] = [];
  const skipped = addressesOf(passage);
  const plain = /["'–—\d…«»“”„’]|--| - |\.\.|\. \./u.test(passage.text);
  if (plain)
    for (const [{ such, what }, form, expression] of ways)
      for (const { 0: all, index } of passage.text.matchAll(expression)) {
        if (skipped.some(({ from, to }) => index >= from && index < to)) continue;
        found.push({ such, what, form, from: index, to: index + all.length });
      }
  found.push(...compounds(passage, language), ...spellings(passage, language));
  return found;
}
