import { typographic } from '../editing/quotes.js';
import { partsOf } from './dates.js';

/** What words become when they are written in another of the ways a text has for them. */

function dateAs(words: string, form: string): string {
  const parts = partsOf(words);
  if (!parts) return words;
  const { day, month, year } = parts;
  if (form.startsWith('May')) return `${month} ${day}, ${year}`;
  if (!form.startsWith('3rd')) return `${day} ${month} ${year}`;
  const last = day.endsWith('1') && day !== '11' ? 'st' : day.endsWith('2') && day !== '12' ? 'nd' : null;
  return `${day}${last ?? (day.endsWith('3') && day !== '13' ? 'rd' : 'th')} ${month} ${year}`;
}

/** A number with its thousands parted by a sign, or by none. */
export const grouped = (digits: string, by: string): string => digits.replace(/\B(?=(\d{3})+(?!\d))/g, by);

/** The words with a capital where the old ones have one. */
export const capitalAs = (words: string, old: string): string =>
  /^\p{Lu}/u.test(old) && !(old.length > 1 && old === old.toUpperCase())
    ? words.slice(0, 1).toUpperCase() + words.slice(1)
    : old.length > 1 && old === old.toUpperCase() && /\p{L}/u.test(old)
      ? words.toUpperCase()
      : words;

/** So many letters before a quotation mark say whether it opens. */
export const context = 400;

/**
 * @param such what is written @param old how it is written now @param form in which way it shall be
 * @param before the words of the paragraph before it
 */
export function rewritten(such: string, old: string, form: string, before: string, language: string): string {
  switch (such) {
    case 'mixed|quotes': {
      if (form === '" "') return '"';
      return /["]/.test(old) ? typographic('"', before, language) : old;
    }
    case 'mixed|apostrophes':
    case 'mixed|dashes':
    case 'mixed|ellipses':
      return form;
    case 'variants|units':
      return form === '5 km' ? '\u00a0' : '';
    case 'variants|thousands':
      return grouped(old.replace(/\D/g, ''), form === '12,000' ? ',' : form === '12000' ? '' : '\u202f');
    case 'variants|dates':
      return dateAs(old, form);
  }
  if (such.startsWith('variants|points')) return form;
  return capitalAs(form, old);
}
