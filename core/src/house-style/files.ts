import { asText, isLanguage } from '../manuscript/values.js';
import { ruleKinds, type HouseStyle, type Rule, type RuleKind } from './rules.js';

/** A house style as a file: JSON holds all of it, CSV its rules, a row each. */

/** The names of the columns of a CSV file, in order. */
export const styleColumns = ['kind', 'write', 'not', 'example', 'note', 'source'] as const;
/** What stands between ways not to write. */
const between = ' | ';

/** `writeCsv` puts an apostrophe before what programs for tables would take for a formula; one that was there is doubled. */
const safe = /^'(?='*(?:[\t\r\n]|\s*[=+\-@\uff1d\uff0b\uff0d\uff20]))/;
const kept = (cell: string) => (safe.test(cell) ? `'${cell}` : cell);
const asItWas = (cell: string) => cell.replace(safe, '');

/** The rows of a style; the first names the columns. */
export const styleRows = ({ rules }: Pick<HouseStyle, 'rules'>): string[][] => [
  [...styleColumns],
  ...rules.map(({ kind, write, not, example, note, source }) =>
    [kind, write, not.join(between), example, note, source].map(kept),
  ),
];

/** The file is no house style; the message says why. */
export class UnreadableStyle extends Error {}

const string = (value: unknown): string => (typeof value === 'string' ? asText(value) : '');

function ruleFrom(row: Readonly<Record<string, unknown>>, n: number): Rule {
  const kind = string(row.kind).trim() as RuleKind;
  if (!ruleKinds.includes(kind))
    throw new UnreadableStyle(
      `Row ${n}: “${String(kind).slice(0, 40)}” is no kind of rule. The kinds are ${ruleKinds.join(', ')}.`,
    );
  const not = Array.isArray(row.not) ? row.not.map(string) : string(row.not).split(between).filter(Boolean);
  return {
    kind,
    write: string(row.write),
    not,
    example: string(row.example),
    note: string(row.note),
    source: string(row.source),
  };
}

/**
 * The rules in the rows of a table.
 * @param rows the first names the columns; columns that are not known are passed over
 * @throws UnreadableStyle
 */
export function rulesFromRows(rows: readonly (readonly string[])[]): Rule[] {
  const names = rows[0]?.map((name) => name.trim().toLowerCase()) ?? [];
  if (!names.includes('kind') || !names.includes('write'))
    throw new UnreadableStyle(`The first row has to name the columns: ${styleColumns.join(', ')}.`);
  return rows
    .slice(1)
    .map((row, i) => ruleFrom(Object.fromEntries(names.map((name, j) => [name, asItWas(row[j] ?? '')])), i + 2));
}

/** The style in a JSON file. @throws UnreadableStyle */
export function styleFromJson(text: string): HouseStyle {
  let found: unknown;
  try {
    found = JSON.parse(text);
  } catch {
    throw new UnreadableStyle('This file is no JSON.');
  }
  const { name, language, rules } = (found ?? {}) as Record<string, unknown>;
  if (!Array.isArray(rules)) throw new UnreadableStyle('This file holds no list of rules.');
  return {
    name: string(name).slice(0, 120),
    language: isLanguage(language) ? language : 'en-GB',
    rules: rules.map((row: unknown, i) => ruleFrom((row ?? {}) as Record<string, unknown>, i + 1)),
  };
}
