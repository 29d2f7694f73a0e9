import type { Node } from 'prosemirror-model';
import type { EntityManager } from 'typeorm';
import { fairReading, plainText } from '@tea-pencil/core';

/** The words of a text by which it is found on the desk. */

/** As it reads when all is accepted. */
export const wordsToSearch = (doc: Node): string => plainText(fairReading(doc));

/** No piece is longer, in letters: what PostgreSQL keeps of the words of one has a limit (tsvector, 1 MB). */
const longest = 60_000;

/** A text in pieces, cut between words where there are any. */
export function searchablePieces(text: string): string[] {
  const pieces: string[] = [];
  for (let at = 0; at < text.length;) {
    const end = at + longest;
    const cut = end >= text.length ? text.length : Math.max(text.lastIndexOf(' ', end), text.lastIndexOf('\n', end));
    // No letter is cut in two.
    const to = cut > at ? cut : end - Number(/[\udc00-\udfff]/.test(text[end]!));
    pieces.push(text.slice(at, to));
    at = to;
  }
  return pieces.length ? pieces : [''];
}

/** Keeps the words of a new text. */
export async function keepSearchable(
  manager: EntityManager,
  manuscript: string,
  pieces: readonly string[],
): Promise<void> {
  await manager.query(
    `INSERT INTO searchable (manuscript_id, piece, body, words)
     SELECT $1, n - 1, body, to_tsvector('simple', body) FROM unnest($2::text[]) WITH ORDINALITY AS one (body, n)`,
    [manuscript, pieces],
  );
}
