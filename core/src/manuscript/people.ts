/** Who someone is, as an identifier. Names are kept beside the text, so that a new name shows everywhere at once. */
export type PersonId = string;

export interface Person {
  id: PersonId;
  name: string;
  initials: string;
}

/** The initials a name suggests: the first letters of its first and last words. */
export function initialsOf(name: string): string {
  const words = name.trim().split(/\s+/).filter(Boolean);
  const letters = words.length > 1 ? [words[0], words.at(-1)] : words;
  return letters.map((word = '') => ([...word][0] ?? '').toUpperCase()).join('') || '?';
}

/** How someone is called whom a file does not name. */
export const unnamed = 'Unnamed';

/**
 * The client under which what somebody's window sends is kept and told. It begins with the person, so that nobody can send
 * in the name of another's window, which would take it for its own.
 */
export const clientOf = (person: PersonId, window: string): string => `${person}.${window}`;
