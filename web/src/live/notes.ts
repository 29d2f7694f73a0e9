/** What is written down on this machine, as JSON, in the browser's own store. */
export type Notes = Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>;

/** What was set down; null where there is nothing, or nothing that can be read. */
export function parsed<T>(text: string | null): T | null {
  try {
    return JSON.parse(text ?? 'null') as T | null;
  } catch {
    return null;
  }
}

/**
 * @param value null where nothing shall stay
 * @returns whether it is set down: a full or closed store keeps nothing, and what is written stays in the window
 */
export function setDown(notes: Notes, key: string, value: unknown): boolean {
  try {
    if (value !== null) notes.setItem(key, JSON.stringify(value));
    else if (notes.getItem(key) !== null) notes.removeItem(key);
    return true;
  } catch {
    return false;
  }
}
