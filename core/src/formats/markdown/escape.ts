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
    .replace(/\t/g, '&#9;');
}

/** A whole line with spaces that would be taken for none written out. */
export const spaced = (line: string): string =>
  line
    .replace(/ {2,}/g, (spaces) => ` ${'&#32;'.repeat(spaces.length - 1)}`)
    .replace(/^ | $| (?=\\?\n)|(?<=\n) /g, '&#32;');

/** A line with what would begin something else at its beginning taken for words. */
export function lineStart(line: string): string {
  return line
    .replace(/^(#{1,6})(?=\s|$)/, '\\$1')
    .replace(/^([-+])(?=\s|$|&#)/, '\\$1')
    .replace(/^(=+|-+)\s*$/, '\\$1')
    .replace(/^([%:|])/, '\\$1')
    .replace(/^(\(?)([\p{L}\p{N}#]{1,9})([.)])(?=\s|$|&#)/u, '$1$2\\$3')
    .replace(/^(\(?@)/, '\\$1');
}
