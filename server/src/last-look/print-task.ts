import { passagesOf, printOf } from '@tea-pencil/core';
import { pastText } from '../live/past-text.js';
import { ask } from '../work/database.js';

/** The prints of the blocks of a text at a version. */
export async function printBlocks({ manuscript, version }: { manuscript: string; version: number }): Promise<string[]> {
  const doc = await pastText(ask, manuscript, version);
  return doc.children.map((block) => printOf(passagesOf(block)));
}
