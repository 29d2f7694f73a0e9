/** How a locale writes a date and a time (ECMA-402, Intl.DateTimeFormat), for parts that want a pattern. */

const options = {
  year: 'numeric',
  month: '2-digit',
  day: '2-digit',
  hour: '2-digit',
  minute: '2-digit',
} as const satisfies Intl.DateTimeFormatOptions;

const formatter = (locale?: string) => new Intl.DateTimeFormat(locale, options);

/** Whether a locale counts hours to twelve. */
export const isTwelve = (locale?: string): boolean => !!formatter(locale).resolvedOptions().hour12;

/** The pattern of a locale in the letters of Unicode TR35, as date-fns reads them: "dd/MM/yyyy, HH:mm". */
export function localeFormat(locale?: string): string {
  const letters: Partial<Record<Intl.DateTimeFormatPartTypes, string>> = {
    year: 'yyyy',
    month: 'MM',
    day: 'dd',
    hour: isTwelve(locale) ? 'hh' : 'HH',
    minute: 'mm',
    dayPeriod: 'aa',
  };
  return formatter(locale)
    .formatToParts(new Date(2026, 0, 2, 3, 4))
    .map(({ type, value }) => letters[type] ?? (/\p{L}/u.test(value) ? `'${value}'` : value))
    .join('');
}
