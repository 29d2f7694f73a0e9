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
/** What is longer is no word. */
const longest = 60;

/** A German list of words, sorted by what its flags say of them (hunspell(5); which letter is which its affixes say). */
function germanWords(list: string) {
  const lines: string[] = [];
  const forbidden = new Set<string>();
  for (const line of list.split('\n')) {
    const [word = '', flags = ''] = line.split('/');
    // Parts of compounds and stems (ONLYINCOMPOUND, NEEDAFFIX): what makes compounds here does not read them.
    if (/[oh]/.test(flags)) continue;
    lines.push(line);
    if (flags.includes('d')) forbidden.add(word);
  }
  return { list: lines.join('\n'), forbidden };
}

/** Prefixes that are words with an apostrophe: they are taken off before a word is looked up, and need no rules. */
function withoutElisions(affixes: string): string {
  return affixes
    .split('\n')
    .filter((line) => !/^PFX \S*['’] /.test(line))
    .join('\n');
}

/**
 * Whether a word is made of two or more that are known. One that begins small ends with a part that does: it is no noun
 * (common practice, no published source).
 */
function isCompound(word: string, knows: (word: string) => boolean, parts = 4): boolean {
  if (word.length < 2 * leastPart || parts < 2) return false;
  const noun = (part: string) => part[0]!.toUpperCase() + part.slice(1);
  const begins = (first: string) =>
    joints.some((joint) => {
      const part = first.slice(0, first.length - joint.length);
      return first.endsWith(joint) && part.length >= leastPart && (knows(part) || knows(noun(part)));
    });
  const small = /^\p{Ll}/u.test(word);
  for (let at = leastPart; at <= word.length - leastPart; at++) {
    if (!begins(word.slice(0, at))) continue;
    const rest = word.slice(at);
    if (small ? knows(rest) : knows(rest) || knows(noun(rest))) return true;
    if (isCompound(small ? rest : noun(rest), knows, parts - 1)) return true;
  }
  return false;
}

/**
 * A dictionary that can be asked.
 * @param affixes and words the two parts of a dictionary, in Hunspell’s form (hunspell(5))
 */
export function spellerOf(name: DictionaryName, affixes: string, words: string): Speller {
  const { list, forbidden } = name === 'de' ? germanWords(words) : { list: words, forbidden: new Set<string>() };
  const spell = nspell({ aff: name === 'fr' ? withoutElisions(affixes) : affixes, dic: list });
  const known = new Map<string, boolean>();
  const plain = (word: string) => !forbidden.has(word) && spell.correct(word);
  const look = (word: string): boolean => {
    if (word.length > longest) return false;
    const straight = word.normalize('NFC').replaceAll('’', "'");
    if (plain(straight)) return true;
    if (forbidden.has(straight)) return false;
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
  const nearKnown = new Map<string, string[]>();
  const near = (word: string): string[] => {
    if (word.length > longest) return [];
    const asked = nearKnown.get(word);
    if (asked) return asked;
    const straight = word.normalize('NFC').replaceAll('’', "'");
    const two: string[] = [];
    for (let at = 1; at < straight.length; at++) {
      const [first, second] = [straight.slice(0, at), straight.slice(at)];
      const fit = (part: string) =>
        (part.length > 2 || /^(?:a|I|in|on|of|to|is|it|at|by|or|we|as|du|le|la|un|es|el|y)$/.test(part)) && plain(part);
      if (fit(first) && fit(second)) two.push(`${first} ${second}`);
    }
    // The first letter is seldom the wrong one (common practice, no published source).
    const begins = (one: string) => one[0]?.toLowerCase() === straight[0]?.toLowerCase();
    const found = spell.suggest(straight);
    const like = [...found.filter(begins), ...found.filter((one) => !begins(one))].map((one) =>
      word.includes('’') ? one.replaceAll("'", '’') : one,
    );
    // Two words run together are likelier than another word, where letters of nothing else are wrong.
    const all = [...new Set([...two.slice(0, 2), ...like])].slice(0, 6);
    nearKnown.set(word, all);
    return all;
  };
  return { knows, near };
}
