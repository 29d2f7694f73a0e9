import { letters } from '../row/row.js';
import type { Change } from './list.js';

/** Edits of one or two characters: the whole job of many, and easily overlooked. */

/** So many characters make an edit small, as people count them (UAX #29). */
export const mostSmall = 2;

/** Names of the Unicode Character Database (UnicodeData.txt), in lower case, for what stands between words. */
export const signNames: Readonly<Record<string, string>> = {
  ' ': 'space',
  '\u00a0': 'no-break space',
  '\u202f': 'narrow no-break space',
  '\u2009': 'thin space',
  '\u2002': 'en space',
  '\u2003': 'em space',
  '\u00ad': 'soft hyphen',
  '\u200b': 'zero width space',
  '\u200c': 'zero width non-joiner',
  '\u200d': 'zero width joiner',
  '\u200e': 'left-to-right mark',
  '\u200f': 'right-to-left mark',
  '\u2060': 'word joiner',
  '.': 'full stop',
  ',': 'comma',
  ';': 'semicolon',
  ':': 'colon',
  '!': 'exclamation mark',
  '?': 'question mark',
  '…': 'horizontal ellipsis',
  "'": 'apostrophe',
  '"': 'quotation mark',
  '‘': 'left single quotation mark',
  '’': 'right single quotation mark',
  '‚': 'single low-9 quotation mark',
  '“': 'left double quotation mark',
  '”': 'right double quotation mark',
  '„': 'double low-9 quotation mark',
  '«': 'left-pointing double angle quotation mark',
  '»': 'right-pointing double angle quotation mark',
  '‹': 'single left-pointing angle quotation mark',
  '›': 'single right-pointing angle quotation mark',
  '-': 'hyphen-minus',
  '‑': 'non-breaking hyphen',
  '–': 'en dash',
  '—': 'em dash',
  '(': 'left parenthesis',
  ')': 'right parenthesis',
  '[': 'left square bracket',
  ']': 'right square bracket',
  '/': 'solidus',
  '&': 'ampersand',
  '*': 'asterisk',
  '%': 'percent sign',
  '§': 'section sign',
  '°': 'degree sign',
  '·': 'middle dot',
  '¿': 'inverted question mark',
  '¡': 'inverted exclamation mark',
};

/** Whether a text has one character or two. */
export function isSmall(text: string): boolean {
  if (!text || text.length > 16 || /[\n\ufffc]/.test(text)) return false;
  return letters(text).length <= mostSmall;
}

/** Whether a text has nothing to be seen in it: spaces, soft hyphens, signs without a width (Unicode, general category Cf). */
export const isUnseen = (text: string): boolean => /^[\s\p{Cf}]+$/u.test(text);

/** What a sign is called: its name, and "tab", which has none there. */
export const signName = (sign: string): string | undefined => (sign === '\t' ? 'tab' : signNames[sign]);

const nameOf = (text: string): string => {
  const names = letters(text).map(signName);
  return names.every((name) => name) ? names.join(' and ') : `“${text}”`;
};

/**
 * A small edit spelled out: "comma out", "full stop › exclamation mark", "space in".
 * @returns null for one that is not small
 */
export function smallEditWords({
  kind,
  before,
  after,
  objects,
}: Pick<Change, 'kind' | 'before' | 'after' | 'objects'>): string | null {
  if (objects.length) return null;
  if (kind === 'insertion') return isSmall(after) ? `${nameOf(after)} in` : null;
  if (kind === 'deletion') return isSmall(before) ? `${nameOf(before)} out` : null;
  return kind === 'replacement' && isSmall(before) && isSmall(after) ? `${nameOf(before)} › ${nameOf(after)}` : null;
}
