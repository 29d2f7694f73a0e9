import type { Node } from 'prosemirror-model';
import type { EntityManager } from 'typeorm';
import { searchablePieces, wordsToSearch } from './searchable.js';
import { listChanges, type Change, type ChangeId, type ChangeKind } from '@tea-pencil/core';

/** A text as the database keeps it, with what can be told of it without reading it. Made wherever the text is at hand. */

/** In how many equal parts the strip of the desk tells where changes wait. */
export const parts = 140;

/** What the desk tells of a manuscript’s changes. */
export interface Summary {
  pending: number;
  kinds: Partial<Record<ChangeKind, number>>;
  authors: Record<string, number>;
  /** For each part of the text in which changes wait, the author of most of them. */
  spine: [part: number, author: string][];
}

export function summaryOf(doc: Node, changes: readonly Change[] = listChanges(doc)): Summary {
  const kinds: Summary['kinds'] = {};
  const authors: Summary['authors'] = {};
  const size = Math.max(1, doc.content.size);
  const cells = new Map<number, Map<string, number>>();
  for (const { kind, author, ranges } of changes) {
    kinds[kind] = (kinds[kind] ?? 0) + 1;
    authors[author] = (authors[author] ?? 0) + 1;
    const part = Math.min(parts - 1, Math.floor(((ranges[0]?.from ?? 0) / size) * parts));
    const cell = cells.get(part) ?? new Map<string, number>();
    cells.set(part, cell.set(author, (cell.get(author) ?? 0) + 1));
  }
  const most = (cell: Map<string, number>) => [...cell].reduce((a, b) => (b[1] > a[1] ? b : a))[0];
  const spine = [...cells].sort(([a], [b]) => a - b).map(([part, cell]): [number, string] => [part, most(cell)]);
  return { pending: changes.length, kinds, authors, spine };
}

export interface KeptText {
  /** The document as JSON. */
  json: string;
  /** Every change in it, with its author and date. */
  changes: [id: ChangeId, author: string, date: string][];
  summary: Summary;
  /** Its words, by which it is found. */
  searchable: string[];
}

export function keptText(doc: Node): KeptText {
  const changes = listChanges(doc);
  return {
    json: JSON.stringify(doc.toJSON()),
    changes: changes.map(({ id, author, date }) => [id, author, date]),
    summary: summaryOf(doc, changes),
    searchable: searchablePieces(wordsToSearch(doc)),
  };
}

/** Keeps what the desk tells of a manuscript, unless something newer is kept already. */
export async function keepSummary(
  manager: EntityManager,
  manuscript: string,
  version: number,
  summary: Summary,
): Promise<void> {
  await manager.query(
    `INSERT INTO summaries (manuscript_id, version, summary) VALUES ($1, $2, $3)
     ON CONFLICT (manuscript_id) DO UPDATE SET version = excluded.version, summary = excluded.summary
     WHERE summaries.version <= excluded.version`,
    [manuscript, version, JSON.stringify(summary)],
  );
}
