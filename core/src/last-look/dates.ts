/** Dates of English, as texts write them. */

export const months = 'January February March April May June July August September October November December'.split(
  ' ',
);

/** The names of the months, for an expression. */
export const anyMonth = months.join('|');

/** The day, the month and the year of a date in words; null where one is missing. */
export function partsOf(words: string): { day: string; month: string; year: string } | null {
  const day = /\b\d{1,2}(?!\d)/.exec(words)?.[0];
  const year = /\d{4}/.exec(words)?.[0];
  const month = months.find((one) => words.includes(one));
  return day && year && month ? { day, month, year } : null;
}

/** ISO 8601-1:2019, 5.2.2.1: year, month and day in the extended form. */
export function isoDate(words: string): string {
  const parts = partsOf(words);
  if (!parts) return words;
  const month = String(months.indexOf(parts.month) + 1).padStart(2, '0');
  return `${parts.year}-${month}-${parts.day.padStart(2, '0')}`;
}
