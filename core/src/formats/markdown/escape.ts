/**
 * Words as Markdown that says just them: to CommonMark, and to pandoc, which takes more signs for its own (straight
 * quotation marks, dashes, dots, citations, formulas).
 */

const always = /[\\`*_[\]<>~^$"']/g;

/** @param inTable whether it stands in a cell, which a bar would end */
export function escaped(text: string, inTable: boolean): string {
  return text
    .replace(always, '\\$&')
    .replace(/&(?=#?\w+;)/g, '\\&')
    .replace(/\{/g, '\\{')
    .replace(/!(?=\\\[)/g, '\\!')
    .replace(/@(?=[\w{])/g, '\\@')
    .replace(/-(?=-)/g, '\\-')
    .replace(/(?<=-)-/g, '\\-')
    .replace(/\.(?=\.\.)/g, '\\.')
    .replace(inTable ? /\|/g : /(?!)/g, '\\|')
    .replace(/\u00a0/g, '&#160;')
    .replace(/\t/g, '&#9;')
    .replace(/\n/g, '&#10;');
}

/** A whole line with spaces that would be taken for none written out. */
export const spaced = (line: string): string =>
  line
    .replace(/ {2,}/g, (spaces) => ` ${'&#32;'.repeat(spaces.length - 1)}`)
    .replace(/^ | $| (?=\\?\n)|(?<=\n) /g, '&#32;');

/** What stands at the beginning of a line and would begin something else, taken for words; in each line of a paragraph. */
export const lineStarts = (text: string): string => text.split('\n').map(lineStart).join('\n');

function lineStart(line: string): string {
  return line
    .replace(/^(#{1,6})(?=\s|$)/, '\\$1')
    .replace(/^([-+])(?=\s|$|&#)/, '\\$1')
    .replace(/^(=+|-+)\s*$/, '\\$1')
    .replace(/^([%:|])/, '\\$1')
    .replace(/^(\(?)(\d{1,9}|[A-Za-z]|[ivxlcdm]+|[IVXLCDM]+|#)([.)])(?=\s|$|&#)/, '$1$2\\$3')
    .replace(/^(\(?@)/, '\\$1');
}
