import { listChanges, plainText, readDocx, type Manuscript } from '@tea-pencil/core';

/** A copy that is not what it should be; it is not given out. */
export class NotProved extends Error {}

/**
 * Reads a fair copy again before anyone gets it: no change, only the comments that should be in it, and the words of the
 * fair reading exactly.
 * @throws NotProved with what is otherwise
 */
export async function proveFair({ doc, threads }: Manuscript, bytes: Uint8Array): Promise<void> {
  const { manuscript } = await readDocx(bytes);
  const pending = listChanges(manuscript.doc).length;
  if (pending) throw new NotProved(`${pending} changes would still be pending in it`);
  const meant = threads.filter(({ toSelf }) => !toSelf).length;
  if (manuscript.threads.length !== meant) throw new NotProved('its comments are not those it should have');
  if (plainText(manuscript.doc) !== plainText(doc)) throw new NotProved('its words are not those of the fair reading');
}
