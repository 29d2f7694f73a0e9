/** Which values the properties of a manuscript can have. What is not named here is none. */

/** The named styles a paragraph can have, in the order a menu shows them. */
export const paragraphStyles = [
  'body',
  'title',
  'heading1',
  'heading2',
  'heading3',
  'heading4',
  'heading5',
  'heading6',
  'quotation',
  'rule',
] as const;
export type ParagraphStyle = (typeof paragraphStyles)[number];

/** That a paragraph is an item of a list, and how deep in it. */
export interface ListItem {
  kind: 'bullet' | 'number';
  /** 0 is the outermost level. */
  level: number;
}

/** Colours of words and of what lies behind them, by name, so that each theme has its own legible shade. */
export const wordColours = ['tea', 'plum', 'sea', 'moss', 'grey'] as const;
export const highlightColours = ['tea', 'plum', 'sea', 'moss'] as const;

/** Addresses a link may have; anything else (scripts above all) is dropped with the link. */
export const isSafeAddress = (href: string): boolean => /^(https?:|mailto:|#)/i.test(href.trim());

/** What no text can hold: controls other than tab and line break, halves of a pair, noncharacters at the end. */
const notText = /[^\P{Cc}\t\n]|\p{Cs}|[\ufffe\uffff]/gu;

// Most texts hold nothing that has to be looked at closely.
const suspect = /[\u0000-\u001f\u007f-\u009f\ud800-\udfff\ufffe\uffff]/;

/**
 * Whether a text holds nothing but what one can: well-formed, with no controls but tab and line break (Unicode 3.9,
 * D84; XML 1.0, 2.2, Char, which leaves out U+FFFE and U+FFFF too).
 */
export const isText = (value: unknown): value is string =>
  typeof value === 'string' && (!suspect.test(value) || value.search(notText) < 0);

/** The text without what none can hold; half of a pair leaves U+FFFD, the replacement character. */
export const asText = (text: string): string =>
  !suspect.test(text) ? text : text.replace(notText, (one) => (/\p{Cs}/u.test(one) ? '\ufffd' : ''));

/** A tag of a language (BCP 47, RFC 5646: language, script, region and variants; no private use). */
export const isLanguage = (value: unknown): value is string =>
  typeof value === 'string' && /^[a-z]{2,3}(-[A-Za-z]{4})?(-([A-Z]{2}|\d{3}))?(-[A-Za-z0-9]{5,8})*$/.test(value);

/** What of a file can stand in a text that does not know it: as something that is moved, commented and deleted whole. */
export const carriedKinds = [
  'formula',
  'text box',
  'drawing',
  'picture',
  'object',
  'symbol',
  'field',
  'bookmark',
  'content control',
  'link',
  'table',
  'document',
  'page break',
  'column break',
  'ruby',
  'thing',
] as const;
export type CarriedKind = (typeof carriedKinds)[number];

const oneOf = (values: readonly unknown[]) => (value: unknown) => values.includes(value);
const whole = (least: number, most: number) => (value: unknown) =>
  Number.isInteger(value) && (value as number) >= least && (value as number) <= most;
const orNull = (rule: (value: unknown) => boolean) => (value: unknown) => value === null || rule(value);
const textUpTo = (most: number) => (value: unknown) => isText(value) && value.length <= most;
const isName = (value: unknown) => typeof value === 'string' && /^[\w-]{1,40}$/.test(value);
const isList = (value: unknown) => {
  const { kind, level, ...rest } = (value ?? {}) as Record<string, unknown>;
  return oneOf(['bullet', 'number'])(kind) && whole(0, 8)(level) && !Object.keys(rest).length;
};
const isExact = (value: unknown) => typeof value === 'string' && /^#[0-9a-f]{6}$/.test(value);
const isTrue = (value: unknown) => value === true;

/** For each property the rule its value keeps to. */
export const propertyRules = {
  style: oneOf(paragraphStyles),
  list: orNull(isList),
  align: oneOf(['left', 'center', 'right', 'justify', null]),
  indent: whole(0, 8),
  direction: oneOf(['ltr', 'rtl', null]),
  header: oneOf([true, false]),
  colspan: whole(1, 100),
  rowspan: whole(1, 1000),
  colwidth: orNull((value) => Array.isArray(value) && value.length <= 100 && value.every(whole(0, 10_000))),
  asset: isName,
  alt: textUpTo(2000),
  kind: oneOf(['foot', 'end']),
  width: orNull(whole(1, 10_000)),
  height: orNull(whole(1, 10_000)),
  link: (value) => isText(value) && value.length <= 2000 && isSafeAddress(value),
  colour: (value) => oneOf(wordColours)(value) || isExact(value),
  highlight: oneOf(highlightColours),
  size: (value) => typeof value === 'number' && value >= 4 && value <= 96,
  script: oneOf(['super', 'sub']),
  language: isLanguage,
  strike: isTrue,
  underline: isTrue,
  italic: isTrue,
  bold: isTrue,
  // What is kept beside the text, by name: what its file says of words, paragraphs and tables and a manuscript does not know.
  carriedLook: isName,
  carried: orNull(isName),
  what: oneOf(carriedKinds),
  part: oneOf(['whole', 'begin', 'end']),
  says: textUpTo(2000),
} as const satisfies Record<string, (value: unknown) => boolean>;
export type PropertyName = keyof typeof propertyRules;

/** An address as a link of words can have it; null where it can be none. */
export function linkOf(href: string | undefined): string | null {
  const address = href?.trim() ?? '';
  return propertyRules.link(address) ? address : null;
}

/** Whether there is a property of that name. */
export const isPropertyName = (name: string): name is PropertyName => Object.hasOwn(propertyRules, name);

/** Whether a value is an object of properties, each with a value it can have; null stands for none. */
export const areProperties = (value: unknown): boolean =>
  !!value &&
  typeof value === 'object' &&
  !Array.isArray(value) &&
  Object.entries(value).every(([name, each]) => isPropertyName(name) && (each === null || propertyRules[name](each)));

/** ISO 8601 in UTC to the second. */
export const isDate = (value: unknown): value is string =>
  typeof value === 'string' && /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\dZ$/.test(value) && !Number.isNaN(Date.parse(value));

export const isPersonId = (value: unknown): value is string => isText(value) && value.length > 0 && value.length <= 100;

/** What the id of a change may look like; the hits of a sweep are numbered. */
export const isChangeId = (value: unknown): value is string =>
  typeof value === 'string' && /^[\w-]{1,40}(\.\d{1,6})?$/.test(value);
