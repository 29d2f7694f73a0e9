/**
 * Beginnings that programs for tables take for a formula, in full width too, and after spaces, which some leave out; such a
 * cell is given an apostrophe, which they leave out.
 */
const formula = /^[\t\r\n]|^\s*[=+\-@\uff1d\uff0b\uff0d\uff20]/;

const cell = (value: string): string => {
  const safe = formula.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
};

/** Rows as comma-separated values (RFC 4180: CRLF after each row, quotes doubled within quotes), of text in UTF-8. */
export const writeCsv = (rows: readonly (readonly string[])[]): string =>
  rows.map((row) => `${row.map(cell).join(',')}\r\n`).join('');
