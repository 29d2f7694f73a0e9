import { typographic } from '../editing/quotes.js';
import type { Found } from '../last-look/finding.js';
import type { Passage } from '../last-look/passage.js';
import { anyMonth, isoDate } from '../last-look/dates.js';
import { capitalAs, context, grouped, rewritten } from '../last-look/rewritten.js';
import type { Check, Ruling } from '../last-look/ruling.js';
import { addressesOf, baseOf, justBefore, languageAt, partsOf } from '../last-look/tokens.js';
import { units } from '../last-look/checks/signs.js';
import { digitsToWords } from './numbers.js';
import { escaped, substituted } from '../sweeps/search.js';
import { Expression } from '../sweeps/expressions.js';
import { countsCapitals, readableIn, type HouseStyle, type Rule } from './rules.js';

/** Where a text goes against the rules of a house. */

/** One place: what stands there, and what the rule would have. */
interface Breach {
  from: number;
  to: number;
  text: string;
  italic?: true;
}

/** Where a rule is broken in a passage. */
type Breaches = (passage: Passage, language: string) => Breach[];

/** Whole words: nothing of a word stands before or behind, nor a hyphen of a longer compound. */
const whole = (alternatives: string, flags: string) =>
  new RegExp(`(?<![\\p{L}\\p{N}\\p{M}])(?:${alternatives})(?![\\p{L}\\p{N}\\p{M}])`, flags);
const spaced = (words: string) => escaped(words).replace(/ /g, '[ \\u00a0]').replace(/['’]/g, "['’]");

const each = (
  text: string,
  expression: RegExp | Expression,
  instead: (match: RegExpMatchArray & { index: number }) => string | null,
) => {
  const found: Breach[] = [];
  const matches = expression instanceof Expression ? expression.matchesIn(text) : text.matchAll(expression);
  for (const match of matches) {
    const now = match[0] === '' ? null : instead(match as RegExpMatchArray & { index: number });
    if (now !== null && now !== match[0])
      found.push({ from: match.index, to: match.index + match[0].length, text: now });
  }
  return found;
};

function words(rule: Rule): Breaches {
  const exact = countsCapitals(rule);
  const expression = whole(
    [...rule.not]
      .sort((a, b) => b.length - a.length)
      .map(spaced)
      .join('|'),
    exact ? 'gu' : 'giu',
  );
  return ({ text }) =>
    each(text, expression, ({ 0: old, index }) => {
      // What is right may hold what is wrong: “Harbour Office” in “the Old Harbour Office”.
      const at = text.indexOf(rule.write, Math.max(0, index - rule.write.length));
      if (at >= 0 && at <= index && at + rule.write.length >= index + old.length && rule.write.length > old.length)
        return null;
      return exact ? rule.write : capitalAs(rule.write, old);
    });
}

function expression(rule: Rule): Breaches {
  const all = readableIn(rule);
  return ({ text }) => all.flatMap((find) => each(text, find, (match) => substituted(match, rule.write)));
}

function italics(rule: Rule): Breaches {
  const find = whole(
    [rule.write, ...rule.not]
      .filter((one) => one.trim())
      .map(spaced)
      .join('|'),
    'gu',
  );
  return (passage) =>
    [...passage.text.matchAll(find)]
      .map(({ 0: text, index }) => ({ from: index, to: index + text.length, text, italic: true as const }))
      .filter(({ from, to }) => !passage.italics.some((one) => one.from <= from && one.to >= to));
}

/** A way of writing that the last look knows: all others of it are breaches. */
const as =
  (such: string, form: string, find: RegExp): Breaches =>
  ({ text }, language) =>
    each(text, find, ({ 0: old, index }) => rewritten(such, old, form, justBefore(text, index, context), language));

const dates = new RegExp(
  `\\b\\d{1,2}(?:st|nd|rd|th)? (?:${anyMonth}) \\d{4}\\b|\\b(?:${anyMonth}) \\d{1,2}(?:st|nd|rd|th)?, \\d{4}\\b`,
  'gu',
);

/** What stands between a number and its unit (BIPM, SI brochure, 9th edition, 5.4.3: a space, and the number before it). */
const beforeUnit = new RegExp(
  `(?<=(?<![\\p{L}\\d])\\d(?:[\\d.,]{0,12}\\d)?)([ \\u00a0\\u202f]?)(?:${units})(?![\\p{L}\\d])`,
  'gu',
);

const word = '\\p{L}[\\p{L}’-]{0,30}';
const item = `${word}(?: ${word})?`;
/** A list of single words or pairs of them, of no more than six before the last. */
const listed = new RegExp(
  `(?<=(?:^|[\\s(“‘])${item}, (?:${item}, ){0,4}${item})(,?) (?=(?:and|or) ${word}(?:[.;:!?)]|$))`,
  'gu',
);

function breachesOf(rule: Rule): Breaches {
  const { kind, write } = rule;
  switch (kind) {
    case 'words':
      return words(rule);
    case 'expression':
      return expression(rule);
    case 'italics':
      return italics(rule);
    case 'quotation marks':
      if (write === 'straight') return ({ text }) => each(text, /[“”„«»]/gu, () => '"');
      return ({ text }, language) =>
        each(text, /(?<!\d)"/gu, ({ index }) => typographic('"', justBefore(text, index, context), language));
    case 'apostrophe':
      return as('mixed|apostrophes', write, /(?<=\p{L})['’](?=\p{L})/gu);
    case 'dash':
      return as('mixed|dashes', write, /(?<=[\p{L}\p{N},”’)])(?: – | ?— ?| - | ?-- ?)(?=[\p{L}“‘(])/gu);
    case 'ellipsis':
      return as('mixed|ellipses', write, /…|(?<!\.)\.\.\.(?!\.)|(?<!\.)\. \. \./gu);
    case 'serial comma':
      return (passage) =>
        [...passage.text.matchAll(listed)]
          .filter(({ 1: comma }) => !!comma !== (write === 'with'))
          .map(({ 1: comma, index }) => ({
            from: index,
            to: index + comma!.length,
            text: write === 'with' ? ',' : '',
          }));
    case 'numbers in words':
      return ({ text }, language) => numbersInWords(text, write, language);
    case 'thousands': {
      const by = { comma: ',', 'narrow space': '\u202f', none: '' }[write] ?? ',';
      return ({ text }) =>
        each(
          text,
          /(?<![\d.,/:-])(?:\d{1,3}(?:[,\u00a0\u202f]\d{3})+|\d{5,9}|[3-9]\d{3})(?![\d/:-]|[.,]\d)/gu,
          ({ 0: old }) => grouped(old.replace(/\D/g, ''), by),
        );
    }
    case 'dates':
      return ({ text }) =>
        each(text, dates, ({ 0: old }) =>
          write === '2019-05-03' ? isoDate(old) : rewritten('variants|dates', old, write, '', 'en'),
        );
    case 'units': {
      const gap = { 'no-break space': '\u00a0', space: ' ', 'no space': '' }[write] ?? '\u00a0';
      return ({ text }) =>
        [...text.matchAll(beforeUnit)]
          .filter(({ 1: now }) => now !== gap && !(write === 'no-break space' && now === '\u202f'))
          .map(({ 1: now, index }) => ({ from: index, to: index + now!.length, text: gap }));
    }
  }
}

/** Numbers that are to be written in words; beside units, signs, other numbers and in dates they stay. */
function numbersInWords(text: string, upTo: string, language: string): Breach[] {
  if (baseOf(language) !== 'en') return [];
  const find =
    /(?<![\d.,:/–+−$£€#-]|\b(?:Table|Figure|Fig\.|Chapter|Plate|Map|page|pages|p\.|pp\.|No\.|chapter|note|section)[ \u00a0])\b\d{1,2}\b(?![\d/:–%°-]|[.,]\d|st\b|nd\b|rd\b|th\b)/gu;
  const unit = new RegExp(
    `^[ \\u00a0\\u202f]?(?:(?:${units}|am|pm|a\\.m\\.|p\\.m\\.|per cent|${anyMonth})(?![\\p{L}])|[·)])`,
    'u',
  );
  return each(text, find, ({ 0: digits, index }) => {
    if (
      unit.test(text.slice(index + digits.length, index + 24)) ||
      new RegExp(`(?:${anyMonth}) $`, 'u').test(justBefore(text, index))
    )
      return null;
    if (index === 0) return null;
    const [now, most] = [digitsToWords(Number(digits)), Number(digits)];
    return now && most <= mostInWords(upTo) ? now : null;
  });
}

const mostInWords = (upTo: string): number => {
  for (let n = 1; n < 100; n++) if (digitsToWords(n) === upTo) return n;
  return 0;
};

/** Kinds of which one rule says all: what is written otherwise goes against it. */
const sorts: Partial<Record<Rule['kind'], string>> = {
  'quotation marks': 'mixed|quotes',
  apostrophe: 'mixed|apostrophes',
  dash: 'mixed|dashes',
  ellipsis: 'mixed|ellipses',
  thousands: 'variants|thousands',
  dates: 'variants|dates',
  units: 'variants|units',
};

/** The words that a style says to write, in small letters. */
function wordsToWrite(rules: readonly Rule[]): Set<string> {
  const texts = rules.flatMap(({ kind, write, not }) =>
    kind === 'italics' ? [write, ...not] : kind === 'words' ? [write] : [],
  );
  return new Set(texts.flatMap((text) => [text, ...text.split(/\s+/)]).map((text) => text.toLowerCase()));
}

/** Parts of words one of which stands wherever a rule is broken; null where there are none. */
function needsOf({ kind, write, not }: Rule): string[] | null {
  if (kind !== 'words' && kind !== 'italics') return null;
  const firsts = (kind === 'italics' ? [write, ...not] : not).map((words) => [...partsOf(words)][0]);
  return firsts.every((part) => part !== undefined) ? firsts : null;
}

/** A style as the last look asks it. Rules that cannot be are left out. */
export function rulingOf(style: HouseStyle | null): Ruling | null {
  if (!style) return null;
  const { rules } = style;
  const checks: Check[] = [];
  rules.forEach((rule, i) => {
    try {
      const breaches = breachesOf(rule);
      const findings: Check['findings'] = (passage, language) => findingsOf(rule, breaches, passage, language);
      checks.push({ rule: i, open: rule.kind === 'expression', needs: needsOf(rule), findings });
    } catch (problem) {
      // What cannot be read was said when the style was kept; a file of an older day may hold it all the same.
      if (!(problem instanceof SyntaxError)) throw problem;
    }
  });
  const right = wordsToWrite(rules);
  const settled = new Set(rules.flatMap(({ kind }) => sorts[kind] ?? []));
  const told = new Set(rules.flatMap(({ kind, not }) => (kind === 'words' ? not.map((one) => one.toLowerCase()) : [])));
  return {
    checks,
    isRight: (word) => right.has(word.toLowerCase()),
    settles: ({ such, forms }) => settled.has(such) || forms.some(({ form }) => told.has(form.toLowerCase())),
  };
}

/** What a rule says, in a few words. */
function ruleWords({ kind, write, not }: Rule): string {
  if (kind === 'words') return `${write}, not ${not.join(' or ')}`;
  if (kind === 'expression')
    return write ? `what “${not[0]}” finds becomes “${write}”` : `nothing that “${not[0]}” finds`;
  if (kind === 'italics') return `${[write, ...not].join(', ')} in italics`;
  return `${kind}: ${write.trim()}`;
}

/** The breaches of one rule in a passage, as findings. */
function findingsOf(rule: Rule, breaches: Breaches, passage: Passage, whole: string): Found[] {
  if (!passage.text) return [];
  const skipped = addressesOf(passage);
  return breaches(passage, whole)
    .filter(({ from }) => !skipped.some((one) => from >= one.from && from < one.to))
    .filter(({ from }) => baseOf(languageAt(passage, from, whole)) === baseOf(whole))
    .map(({ from, to, text, italic }) => ({
      ...{ kind: 'style', from, to, words: passage.text.slice(from, to) },
      why: `House style: ${ruleWords(rule)}.`,
      proposals: [italic ? { text, how: 'italic' } : { text }],
      such: `style|${rule.kind}|${rule.write}|${rule.not[0] ?? ''}`,
    }));
}
