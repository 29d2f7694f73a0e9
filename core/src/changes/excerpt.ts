/** A text that is longer than there is room for, cut between words; half a letter is never left. */

/** The end of a text. @param most how many letters (UTF-16) of it, at most @returns it whole where it is short, or "…" and its last words */
export const lastWords = (text: string, most: number): string =>
  text.length > most ? `…${text.slice(text.length - most).replace(/^(?:\S*\s|\p{Cs})/u, '')}` : text;

/** The beginning of a text. @param most how many letters (UTF-16) of it, at most @returns it whole where it is short, or its first words and "…" */
export const firstWords = (text: string, most: number): string =>
  text.length > most ? `${text.slice(0, most).replace(/(?:\s\S*|\p{Cs})$/u, '')}…` : text;
