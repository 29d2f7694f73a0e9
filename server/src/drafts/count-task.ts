import { nanoid } from 'nanoid';
import type { Node } from 'prosemirror-model';
import { changeIds, countWords, fairReading, listChanges, noDate, plainText, revised } from '@tea-pencil/core';
import type { DraftFacts } from '@tea-pencil/wire';
import { pastText } from '../live/past-text.js';
import { ask, database } from '../work/database.js';

/** Counts what drafts hold, and what came and went between them. */

const stamp = () => ({ author: 'nobody', date: noDate, newChange: () => nanoid(12) });

/** How many words are in one text and not in the other. */
export function wordsBetween(before: Node, after: Node): { come: number; gone: number } {
  const sum = { come: 0, gone: 0 };
  for (const { kind, before: was, after: now } of listChanges(revised(before, after, stamp()))) {
    if (kind === 'formatting' || kind === 'paragraph' || kind === 'move') continue;
    sum.come += countWords(now);
    sum.gone += countWords(was);
  }
  return sum;
}

export async function countDrafts(manuscript: string): Promise<void> {
  const drafts = await ask<{ id: string; version: number; counted: boolean }>(
    `SELECT id, version, facts IS NOT NULL AS counted FROM drafts WHERE manuscript_id = $1 ORDER BY version, at`,
    [manuscript],
  );
  let earlier: { version: number; fair: Node; ids: Set<string> } | null = null;
  for (const [i, { id, version, counted }] of drafts.entries()) {
    // A counted one is read only for the next.
    if (counted && (drafts[i + 1]?.counted ?? true)) continue;
    const doc = await pastText(ask, manuscript, version);
    const now = { version, fair: fairReading(doc), ids: new Set(changeIds(doc).keys()) };
    if (!counted) {
      const { come, gone } = earlier ? wordsBetween(earlier.fair, now.fair) : { come: 0, gone: 0 };
      const authors = await ask<{ author: string }>(
        `SELECT DISTINCT author FROM steps WHERE manuscript_id = $1 AND version >= $2 AND version < $3
           AND author IS NOT NULL AND intent IN ('pencil', 'ink', 'decision')`,
        [manuscript, earlier?.version ?? version, version],
      );
      const facts: DraftFacts = {
        words: countWords(plainText(now.fair)),
        pending: now.ids.size,
        wordsCome: come,
        wordsGone: gone,
        changesCome: earlier ? [...now.ids].filter((one) => !earlier!.ids.has(one)).length : 0,
        changesGone: earlier ? [...earlier.ids].filter((one) => !now.ids.has(one)).length : 0,
        authors: authors.map(({ author }) => author),
      };
      await database().query('UPDATE drafts SET facts = $2 WHERE id = $1', [id, JSON.stringify(facts)]);
    }
    earlier = now;
  }
}
