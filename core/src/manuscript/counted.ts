const rules = new Intl.PluralRules('en');

/** The word for so many of something, without the number (plural rules of Unicode CLDR, by Intl.PluralRules). */
export const plural = (n: number, one: string, many = `${one}s`): string => (rules.select(n) === 'one' ? one : many);

/**
 * A number with what it counts: "1 change", "2,000 changes".
 * @param many what more of them are called, where it is not with an s
 */
export const counted = (n: number, one: string, many?: string): string =>
  `${n.toLocaleString('en')} ${plural(n, one, many)}`;
