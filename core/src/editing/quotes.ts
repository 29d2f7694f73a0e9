import type { Node, ResolvedPos } from 'prosemirror-model';
import type { EditorState } from 'prosemirror-state';
import { schema } from '../manuscript/schema.js';

/** Quotation marks and apostrophes as a language sets them, in place of the two straight signs of a keyboard. */

/** The outer and the inner pair of a language. */
export interface Quotes {
  outer: readonly [open: string, close: string];
  inner: readonly [open: string, close: string];
}

const english: Quotes = { outer: ['“', '”'], inner: ['‘', '’'] };
const low: Quotes = { outer: ['„', '“'], inner: ['‚', '‘'] };
const angles: Quotes = { outer: ['«', '»'], inner: ['“', '”'] };
const raised: Quotes = { outer: ['”', '”'], inner: ['’', '’'] };
const lowHigh: Quotes = { outer: ['„', '”'], inner: ['«', '»'] };
const slavic: Quotes = { outer: ['«', '»'], inner: ['„', '“'] };

/** Unicode CLDR, delimiters of each locale; the spaces inside French marks are common practice and in no table there. */
const byLanguage: Readonly<Record<string, Quotes>> = {
  de: low,
  cs: low,
  sk: low,
  sl: low,
  'de-ch': { outer: ['«', '»'], inner: ['‹', '›'] },
  fr: { outer: ['«\u202f', '\u202f»'], inner: ['“', '”'] },
  es: angles,
  it: angles,
  'pt-pt': angles,
  el: angles,
  nb: { outer: ['«', '»'], inner: ['‘', '’'] },
  nn: { outer: ['«', '»'], inner: ['‘', '’'] },
  sv: raised,
  fi: raised,
  he: raised,
  pl: lowHigh,
  ro: lowHigh,
  hu: { outer: ['„', '”'], inner: ['»', '«'] },
  ru: slavic,
  uk: slavic,
  ja: { outer: ['「', '」'], inner: ['『', '』'] },
};

/** The quotation marks of a language (BCP 47); those of English where nothing else is known. */
export function quotesOf(language: string): Quotes {
  const tag = language.toLowerCase();
  return byLanguage[tag] ?? byLanguage[tag.split('-')[0]!] ?? english;
}

const apostrophe = '’';
const count = (text: string, sign: string) => text.split(sign).length - 1;

/**
 * What a straight sign that is typed stands for.
 * @param before the words of the paragraph before it
 */
export function typographic(sign: '"' | "'", before: string, language: string): string {
  const { outer, inner } = quotesOf(language);
  const [open, close] = sign === '"' ? outer : inner;
  const opens = before === '' || /[\s([{\u2013\u2014/«„“‘‚»\u202f]$/u.test(before);
  if (sign === '"') return opens ? open : close;
  if (opens && !/\d$/.test(before)) return open;
  // Within a word it is an apostrophe; at its end it closes where something stands open.
  const stands = open === close || count(before, open.trim()) > count(before, close.trim());
  return stands ? close : apostrophe;
}

/** The words before a place in its paragraph, without those that would be deleted. */
function wordsBefore({ parent, parentOffset }: ResolvedPos): string {
  let text = '';
  parent.forEach((node: Node, offset) => {
    if (offset >= parentOffset || !node.isText || schema.marks.deletion.isInSet(node.marks)) return;
    text += node.text!.slice(0, parentOffset - offset);
  });
  return text;
}

/** The language in which one writes at a place: that of the words before it, else that of the manuscript. */
const languageAt = ({ storedMarks, selection }: EditorState, ofText: string): string =>
  (schema.marks.language.isInSet(storedMarks ?? selection.$from.marks())?.attrs.value as string | undefined) ?? ofText;

/** What a sign that is typed becomes; null where it is no straight quotation mark or apostrophe. */
export const quoteFor = (state: EditorState, sign: string, language: string): string | null =>
  sign === '"' || sign === "'"
    ? typographic(sign, wordsBefore(state.selection.$from), languageAt(state, language))
    : null;
