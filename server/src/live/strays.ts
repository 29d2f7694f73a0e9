import type { Transform } from 'prosemirror-transform';
import { strays } from '@tea-pencil/core';
import type { EntityManager } from 'typeorm';

/** Threads that an edit takes the words from are kept with the place where their words were. */

export interface StrayAt {
  thread: string;
  version: number;
  at: number;
}

/** @param version the one that the edit leads to */
export const straysAt = (edit: Transform, version: number): StrayAt[] =>
  strays(edit).map(({ thread, at }) => ({ thread, version, at }));

export async function keepStrays(manager: EntityManager, manuscript: string, found: readonly StrayAt[]): Promise<void> {
  for (const { thread, version, at } of found)
    await manager.query('UPDATE threads SET place = $3 WHERE manuscript_id = $1 AND id = $2', [
      manuscript,
      thread,
      JSON.stringify({ version, from: at, to: at }),
    ]);
}
