import { nanoid } from 'nanoid';
import {
  changeIds,
  limits,
  overLimit,
  readDocx,
  readText,
  TooMuch,
  UnreadableFile,
  type Loss,
  type Person,
  type Thread,
} from '@tea-pencil/core';
import { keptText, type KeptText } from '../database/kept-text.js';
import { initialsFromFile, nameFromFile } from '../names/names.js';
import { withIds } from './ids.js';

/** Reads a file in a thread of its own, so that a large or hostile one never stops the server. */

export interface FileToRead {
  bytes: Uint8Array;
  format: 'docx' | 'txt';
}

/** What came of it: why it cannot be read, or the text ready to be kept, with the people and threads it brings. */
export type ReadFile =
  { reason: string } | { text: KeptText; people: Person[]; outside: Person[]; threads: Thread[]; losses: Loss[] };

export async function readFile({ bytes, format }: FileToRead): Promise<ReadFile> {
  const read = format === 'docx' ? readDocx : readText;
  try {
    const { manuscript, losses } = await read(bytes);
    const over = changeIds(manuscript.doc).size > limits.changes ? 'changes' : overLimit(null, manuscript.doc);
    if (over) throw new TooMuch(over);
    // Nobody a file names is ever taken for someone with an account.
    const outside: Person[] = [];
    const { doc, people, threads } = withIds(manuscript, (person) => {
      const name = nameFromFile(person.name);
      const added = { name, initials: initialsFromFile(person.initials, name), id: nanoid(12) };
      outside.push(added);
      return added.id;
    });
    return { text: keptText(doc), people, outside, threads, losses };
  } catch (problem) {
    return {
      reason: problem instanceof UnreadableFile ? problem.reason : 'is damaged: it does not keep to its format',
    };
  }
}
