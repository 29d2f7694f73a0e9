import { asText } from '../../manuscript/values.js';

/** The title that a file gives itself, on one line; undefined where that is no more than white space. */
export const titleSaid = (said: string): string | undefined =>
  asText(said).replace(/\s+/gu, ' ').trim().slice(0, 200).trim() || undefined;
