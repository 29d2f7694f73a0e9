import type { Passage } from '../passage.js';
import { justBefore, languageAt, wordsOfPassage } from '../tokens.js';
import { dictionaryOf, type DictionaryName, type Speller } from './speller.js';

/** The words of texts that no dictionary has, and which of them are names. */

/** The dictionaries that are here; the others are not, or not yet. */
export type Spellers = Partial<Record<DictionaryName, Speller>>;

/** A word that the dictionary of its language does not know. */
export interface Unknown {
  text: string;
  from: number;
  to: number;
  language: string;
  /** Whether it stands with a capital where a small letter would. */
  named: boolean;
}

/** Scientific names of species: two words in italics, the first with a capital (International Code of Zoological Nomenclature, articles 5.1 and B6). */
const binomial = /^\p{Lu}\p{Ll}*\.? \p{Ll}+(?: \p{Ll}+)?$/u;

/** Abbreviations in capitals, numbers with letters, and numerals of Rome are nothing to be spelt. */
const unspelt = /^\p{Lu}{2,6}s?$|\d|^[ivxlcdm]+$|^\p{L}$/u;

/** The words of a passage whose spelling is to be looked at, with their language. */
function* spelt(passage: Passage, language: string): Generator<Unknown> {
  const species = passage.italics.filter(({ from, to }) => binomial.test(passage.text.slice(from, to).trim()));
  const { text } = passage;
  for (const word of wordsOfPassage(passage)) {
    const bare = word.text.replace(/['’]$/u, '');
    if (unspelt.test(bare) || species.some(({ from, to }) => word.from >= from && word.from < to)) continue;
    const before = justBefore(text, word.from).trimEnd();
    const begins = before === '' || /[.!?…:“"‘(\n]$/u.test(before);
    const named = /^\p{Lu}/u.test(bare) && !begins;
    yield {
      text: bare,
      from: word.from,
      to: word.from + bare.length,
      language: languageAt(passage, word.from, language),
      named,
    };
  }
}

/** What is found of a passage: unknown words, and how many of languages without a dictionary. */
export interface Spelt {
  unknown: Unknown[];
  unread: Map<string, number>;
}

/** @param language that of the manuscript; null where it has none, and only words that say their language are looked at */
export function spellingOf(passage: Passage, language: string, spellers: Spellers): Spelt {
  const unknown: Unknown[] = [];
  const unread = new Map<string, number>();
  for (const word of spelt(passage, language)) {
    const name = dictionaryOf(word.language);
    const speller = name && spellers[name];
    if (!speller) unread.set(word.language, (unread.get(word.language) ?? 0) + 1);
    else if (!speller.knows(word.text)) unknown.push(word);
  }
  return { unknown, unread };
}

/** A name without what is put behind it. */
export const nameOf = (word: string): string => word.replace(/['’]s?$/u, '');

/** So often a name stands before it is taken for one, at least once where only a name has a capital. */
const leastNames = 3;

/** A word in small letters, and how it stands: with a capital, where only names have one, and small. */
interface Name {
  key: string;
  many: number;
  named: number;
  small: number;
  forms: Map<string, number>;
}
const isName = ({ many, named, small }: Name): boolean => named > 0 && !small && many >= leastNames;

/** The unknown words of a text that are names: how often they stand, and how. */
export class Names {
  readonly #all = new Map<string, Name>();
  /** Those that stand often enough to be names; found again when something has come or gone. */
  #often: Name[] | null = null;

  #count(words: readonly Unknown[], by: 1 | -1): void {
    if (words.length) this.#often = null;
    for (const { text, named } of words) {
      const name = nameOf(text);
      const key = name.toLowerCase();
      const facts = this.#all.get(key) ?? { key, many: 0, named: 0, small: 0, forms: new Map() };
      if (/^\p{Lu}/u.test(name)) {
        facts.many += by;
        if (named) facts.named += by;
        facts.forms.set(name, (facts.forms.get(name) ?? 0) + by);
      } else facts.small += by;
      if (facts.many || facts.small) this.#all.set(key, facts);
      else this.#all.delete(key);
    }
  }

  /** The names, the most frequent first. */
  #names(): Name[] {
    return (this.#often ??= [...this.#all.values()]
      .filter(isName)
      .sort((a, b) => b.many - a.many || (a.key < b.key ? -1 : 1)));
  }

  add = (words: readonly Unknown[]): void => this.#count(words, 1);
  remove = (words: readonly Unknown[]): void => this.#count(words, -1);

  /** How often a word stands as a name; 0 where it is none. */
  often(word: string): number {
    const facts = this.#all.get(nameOf(word).toLowerCase());
    return facts && isName(facts) ? facts.many : 0;
  }

  /** All that the answers depend on. */
  signature(): string {
    let all = '';
    for (const [key, { many, named, small }] of this.#all) if (many) all += `${key} ${many} ${named > 0} ${small > 0};`;
    return all;
  }

  /** A name that stands much more often and differs in one letter: a slip of the pen, most likely. */
  meant(word: string): string | null {
    const name = nameOf(word);
    const key = name.toLowerCase();
    const many = this.#all.get(key)?.many ?? 0;
    const other = this.#names().find((one) => one.key !== key && one.many >= 4 * many && isNear(one.key, key));
    return other ? formOf(other) + word.slice(name.length) : null;
  }
}

/** As it stands most often. */
const formOf = ({ forms }: Name): string =>
  [...forms].reduce((best, one) => (one[1] > best[1] || (one[1] === best[1] && one[0] < best[0]) ? one : best))[0];

/** Whether two words of four letters or more differ in one letter that is other, missing or too many, or in the order of two. */
function isNear(a: string, b: string): boolean {
  if (Math.abs(a.length - b.length) > 1 || Math.min(a.length, b.length) < 4) return false;
  let start = 0;
  while (start < a.length && a[start] === b[start]) start++;
  let end = 0;
  while (end < Math.min(a.length, b.length) - start && a[a.length - 1 - end] === b[b.length - 1 - end]) end++;
  const [x, y] = [a.slice(start, a.length - end), b.slice(start, b.length - end)];
  return (x.length <= 1 && y.length <= 1) || (x.length === 2 && x === [...y].reverse().join(''));
}
