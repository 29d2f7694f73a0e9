import type { Found } from '../finding.js';
import type { Passage } from '../passage.js';
import { addressesOf, baseOf, justBefore, languageAt, wordsOfPassage } from '../tokens.js';

/** What can be seen of one passage alone: words said twice, spaces, punctuation. */

/** Words that stand twice in good sentences (common practice, no published source). */
const twice: Readonly<Record<string, ReadonlySet<string>>> = {
  en: new Set(['had', 'that', 'bye', 'ha', 'no', 'tut', 'pooh', 'hear', 'there']),
  de: new Set(['die', 'der', 'das', 'den', 'dem', 'sie', 'ihr', 'nein', 'ja']),
  fr: new Set(['nous', 'vous', 'non', 'oui']),
  es: new Set(['no', 'ya', 'sí']),
};

/** A word said twice, with nothing but space between. */
export function repeated(passage: Passage, language: string): Found[] {
  const all = wordsOfPassage(passage);
  const found: Found[] = [];
  for (let i = 1; i < all.length; i++) {
    const [one, other] = [all[i - 1]!, all[i]!];
    const word = other.text.toLowerCase();
    if (one.text.toLowerCase() !== word || !/^\p{L}/u.test(word)) continue;
    if (!/^\s+$/.test(passage.text.slice(one.to, other.from))) continue;
    if (twice[baseOf(languageAt(passage, other.from, language))]?.has(word)) continue;
    // A name is said twice on purpose: Walla Walla.
    if (/^\p{Lu}/u.test(one.text) && /^\p{Lu}/u.test(other.text)) continue;
    found.push({
      kind: 'repeated',
      from: one.from,
      to: other.to,
      words: passage.text.slice(one.from, other.to),
      why: `“${other.text}” stands here twice.`,
      proposals: [{ text: one.text }],
      such: `repeated|${word}`,
    });
  }
  return found;
}

/** No space within a line of the Unicode kinds Zs that letters are parted by. */
const space = '[ \\u00a0\\u202f]';
/** Before these a French text has a space that keeps the line together (Unicode CLDR, and common practice of setting). */
const parted = /^[;:!?»]$/;

const spacesFound = (passage: Passage, from: number, to: number, why: string, text: string, such: string): Found => ({
  ...{ kind: 'spaces', from, to, why, such: `spaces|${such}` },
  words: passage.text.slice(from, to),
  proposals: [{ text }],
});

/** Spaces doubled, lost, before punctuation, inside brackets, and at the ends of a paragraph. */
export function spaces(passage: Passage, language: string): Found[] {
  const { text } = passage;
  const found: Found[] = [];
  const put = (from: number, to: number, why: string, instead: string, such: string) =>
    found.push(spacesFound(passage, from, to, why, instead, such));
  for (const { 0: all, index } of text.matchAll(new RegExp(`(?<=\\S)${space}{2,}(?=\\S)`, 'gu')))
    put(index, index + all.length, 'There is a space too many here.', / /.test(all) ? ' ' : all[0]!, 'doubled');
  const end = text.trimEnd().length;
  if (end && end < text.length && !passage.joins)
    put(end, text.length, 'A space stands at the end of the paragraph.', '', 'at the end');
  const begin = text.length - text.trimStart().length;
  if (end && begin && !passage.joins)
    put(0, begin, 'A space stands at the beginning of the paragraph.', '', 'at the beginning');
  for (const match of text.matchAll(new RegExp(`(?<=\\S)(${space}+)([,.](?![.\\d\\p{L}])|[;:!?»)\\]])`, 'gu'))) {
    const [, gap, sign] = match;
    const from = match.index;
    if (sign === ')' && /^\(?\w{1,2}$/.test(justBefore(text, from))) continue;
    const french = baseOf(languageAt(passage, from, language)) === 'fr';
    if (french && parted.test(sign!)) {
      if (gap === ' ')
        put(from, from + 1, `A plain space before “${sign}” may end a line; one that cannot belongs here.`,
          sign === ':' || sign === '»' ? '\u00a0' : '\u202f', 'french'); // prettier-ignore
    } else if (gap!.length === 1) put(from, from + 1, `There is a space before “${sign}”.`, '', `before ${sign}`);
  }
  for (const { 0: all, index } of text.matchAll(new RegExp(`[([]${space}+(?=[^\\s\\])])`, 'gu')))
    put(index + 1, index + all.length, `There is a space after “${all[0]}”.`, '', 'after a bracket');
  for (const { 0: all, index } of text.matchAll(new RegExp(`«${space}*(?! )`, 'gu')))
    if (all === '« ' && baseOf(languageAt(passage, index, language)) === 'fr')
      put(
        index + 1,
        index + 2,
        'A plain space after “«” may end a line; one that cannot belongs here.',
        '\u00a0',
        'french',
      );
  const addresses = addressesOf(passage);
  // A space lost: a comma or the end of a sentence with a word right behind it.
  for (const match of text.matchAll(/(?<=\p{L}{2}['’”»)]?)(?:[,;!?](?=\p{L}{2})|[.:](?=\p{Lu}\p{Ll}))/gu)) {
    const at = match.index + 1;
    if (addresses.some(({ from, to }) => at > from && at < to)) continue;
    put(at, at, `A space is missing after “${match[0]}”.`, ' ', 'missing');
  }
  return found;
}

/** Punctuation doubled, as where two edits have met. */
export function punctuation(passage: Passage): Found[] {
  const found: Found[] = [];
  for (const { 0: all, index } of passage.text.matchAll(
    /(?<![.,;:])(?:,[,.;:]+|;[,.;:]+|:[,.;:]+|\.[,;:]*[,;](?!\S)|(?<!\p{L}\.\p{L})\.\.(?!\.))/gu,
  )) {
    // The point of an abbreviation stands before other signs.
    if (
      /^\.[,;:]$/.test(all) &&
      /(?:\p{L}\.\p{L}|\b(?:etc|al|ed|eds|vol|no|pp?|cf|St|Dr|Mr|Mrs|Co|usw|bzw|Nr|Bd|Hrsg))$/u.test(
        justBefore(passage.text, index),
      )
    )
      continue;
    if (/^\.[,;]$/.test(all) && /\b\p{Lu}$|\b\p{L}{1,3}$/u.test(justBefore(passage.text, index))) continue;
    found.push({
      kind: 'punctuation',
      from: index,
      to: index + all.length,
      words: all,
      why: 'Two signs of punctuation stand together.',
      proposals: [...new Set(all)].map((text) => ({ text })),
      such: `punctuation|${all}`,
    });
  }
  return found;
}
