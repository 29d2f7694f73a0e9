import type { ParagraphStyle } from '../manuscript/values.js';
import { Expression } from './expressions.js';
import type { Line, Stretch } from './lines.js';

/** What is looked for. */
export interface Query {
  text: string;
  matchCase: boolean;
  wholeWords: boolean;
  /** Whether the text is a regular expression (see expressions.ts). */
  pattern: boolean;
  /** Only in paragraphs of this style; in all where it is null. */
  style: ParagraphStyle | null;
}

/** A place where it was found. */
export interface Hit extends Stretch {
  text: string;
  /** What would stand there instead. */
  replacement: string;
  /** Whether it stands in something carried from a file, such as a text box: it is found, and not replaced. */
  fixed?: true;
}

/** The query cannot be understood; the message says why, for the person who wrote it. */
export class UnreadableQuery extends Error {}

/** A text as an expression that finds it (ECMA-262, SyntaxCharacter: nothing else may be escaped where the flag u is set). */
export const escaped = (text: string): string => text.replace(/[\\^$.*+?()[\]{}|/]/g, '\\$&');

/** What finds a query in a text. */
function finderOf({ text, matchCase, pattern }: Query): (where: string) => Iterable<RegExpExecArray> {
  if (!pattern) {
    const plain = new RegExp(escaped(text), `gmu${matchCase ? '' : 'i'}`);
    return (where) => where.matchAll(plain);
  }
  try {
    const expression = new Expression(text, { ignoreCase: !matchCase });
    return (where) => expression.matchesIn(where);
  } catch (error) {
    throw new UnreadableQuery(`This is not a regular expression: ${(error as Error).message}.`);
  }
}

const words = new Intl.Segmenter(undefined, { granularity: 'word' });

/** The offsets of a text at which words begin or end (Unicode UAX #29, section 4). */
export function wordBorders(text: string): Set<number> {
  const borders = new Set([0, text.length]);
  for (const { index } of words.segment(text)) borders.add(index);
  return borders;
}

/** What a replacement with `$1`, `$<name>` and `$&` becomes for one match (ECMA-262, GetSubstitution). */
export const substituted = (match: RegExpMatchArray, replacement: string): string =>
  replacement.replace(
    /\$(?:(\$)|(&)|(\d\d?)|<([^>]*)>)/g,
    (all: string, dollar?: string, whole?: string, number?: string, name?: string) => {
      if (dollar) return '$';
      if (whole) return match[0];
      const n = Number(number);
      if (number) return n > 0 && n < match.length ? (match[n] ?? '') : all;
      return match.groups?.[name!] ?? '';
    },
  );

/**
 * Where a query is found, in order. Matches of nothing are passed over.
 * @param replacement what shall stand there instead; with a pattern it may point to its groups
 * @throws UnreadableQuery for a pattern that is none
 */
export function search(lines: readonly Line[], query: Query, replacement = ''): Hit[] {
  if (!query.text) return [];
  const find = finderOf(query);
  const hits: Hit[] = [];
  lines.forEach(({ text, style, things = [] }, line) => {
    if (query.style && style !== query.style) return;
    let borders: Set<number> | null = null;
    for (const match of find(text)) {
      const from = match.index;
      const to = from + match[0].length;
      if (from === to) continue;
      if (query.wholeWords) {
        borders ??= wordBorders(text);
        if (!borders.has(from) || !borders.has(to)) continue;
      }
      hits.push({
        line,
        from,
        to,
        text: match[0],
        replacement: query.pattern ? substituted(match, replacement) : replacement,
      });
    }
    for (const { at, says } of things) {
      const [found] = find(says);
      if (found?.[0]) hits.push({ line, from: at, to: at + 1, text: says, replacement: says, fixed: true });
    }
  });
  return hits;
}
