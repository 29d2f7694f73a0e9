import nspell from 'nspell';
import { baseOf } from '../tokens.js';

/** Which words a language has, and which of them are like one it has not. */
export interface Speller {
  knows(word: string): boolean;
  /** Words that are like one, the likeliest first. It can take a good part of a second. */
  near(word: string): string[];
}

/** The dictionaries there are, each with the languages it serves. */
export const dictionaries = ['en-gb', 'en', 'de', 'fr', 'es'] as const;
export type DictionaryName = (typeof dictionaries)[number];

/** The dictionary of a language (BCP 47); null where there is none. */
export function dictionaryOf(tag: string): DictionaryName | null {
  const base = baseOf(tag.toLowerCase());
  if (base === 'en') return /^en-(us|ph|pr)\b/i.test(tag) ? 'en' : 'en-gb';
  return dictionaries.find((name) => name === base) ?? null;
}

/** Words that stand before another and have lost their end to it. */
const elided = /^(?:[ldjmtsnc]|qu|jusqu|lorsqu|puisqu|quoiqu|presqu|entr|quelqu)['’](?=\p{L})/iu;
/** What joins the parts of a German compound (common practice, no published source). */
const joints = ['', 's', 'es', 'n', 'en', 'er', '-'];
const leastPart = 4;

/** Lines of a list of words that stand for parts of compounds only: what makes compounds of them does not read the list. */
const forCompoundsOnly = /^[^/]+\/\S*o\S*$/;

/** Prefixes that are words with an apostrophe: they are taken off before a word is looked up, and need no rules. */
function withoutElisions(affixes: string): string {
  return affixes
    .split('\n')
    .filter((line) => !/^PFX \S*['’] /.test(line))
    .join('\n');
}

/** Whether a word is made of two or more that are known. */
function isCompound(word: string, knows: (word: string) => boolean, deep = 0): boolean {
  if (word.length < 2 * leastPart || deep > 3) return false;
  const known = (part: string) => knows(part) || knows(part[0]!.toUpperCase() + part.slice(1));
  for (let at = leastPart; at <= word.length - leastPart; at++) {
    const rest = word.slice(at);
    if (!known(rest) && !isCompound(rest, knows, deep + 1)) continue;
    for (const joint of joints) {
      const first = word.slice(0, at);
      if (
        first.endsWith(joint) &&
        first.length - joint.length >= leastPart &&
        known(first.slice(0, first.length - joint.length))
      )
        return true;
    }
  }
  return false;
}

/**
 * A dictionary that can be asked.
 * @param affixes and words the two parts of a dictionary, in Hunspell’s form (hunspell(5))
 */
export function spellerOf(name: DictionaryName, affixes: string, words: string): Speller {
  const list =
    name === 'de'
      ? words
          .split('\n')
          .filter((line) => !forCompoundsOnly.test(line))
          .join('\n')
      : words;
  const spell = nspell({ aff: name === 'fr' ? withoutElisions(affixes) : affixes, dic: list });
  const known = new Map<string, boolean>();
  const plain = (word: string) => spell.correct(word);
  const look = (word: string): boolean => {
    const straight = word.normalize('NFC').replaceAll('’', "'");
    if (plain(straight)) return true;
    if (name === 'fr' && elided.test(straight)) return look(straight.replace(elided, ''));
    if (name === 'de' && isCompound(straight, plain)) return true;
    // Parts joined by hyphens are words of their own; so is what lies before an apostrophe and an s, or one alone.
    const parts = straight.split(/[-‐‑]/);
    if (parts.length > 1) return parts.every((part) => !part || /^\d+$/.test(part) || look(part));
    return /'s?$/.test(straight) && plain(straight.replace(/'s?$/, ''));
  };
  const knows = (word: string) => {
    let found = known.get(word);
    if (found === undefined) known.set(word, (found = look(word)));
    return found;
  };
  const near = (word: string): string[] => {
    const straight = word.normalize('NFC').replaceAll('’', "'");
    const two: string[] = [];
    for (let at = 1; at < straight.length; at++) {
      const [first, second] = [straight.slice(0, at), straight.slice(at)];
      const fit = (part: string) =>
        (part.length > 2 || /^(?:a|I|in|on|of|to|is|it|at|by|or|we|as|du|le|la|un|es|el|y)$/.test(part)) && plain(part);
      if (fit(first) && fit(second)) two.push(`${first} ${second}`);
    }
    const like = spell.suggest(straight).map((one) => (word.includes('’') ? one.replaceAll("'", '’') : one));
    // Two words run together are likelier than another word, where letters of nothing else are wrong.
    return [...new Set([...two.slice(0, 2), ...like])].slice(0, 6);
  };
  return { knows, near };
}
