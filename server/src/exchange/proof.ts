import { formats, listChanges, plainText, type FormatName, type Manuscript } from '@tea-pencil/core';

/** A copy that is not what it should be; it is not given out. */
export class NotProved extends Error {}

export type Proof = (manuscript: Manuscript, bytes: Uint8Array) => Promise<void>;

/** The words of a text; Markdown says white space, empty lines and what it cannot hold in its own way. */
const wordsOf = (format: FormatName, { doc }: Pick<Manuscript, 'doc'>): string =>
  format === 'md' ? plainText(doc).replace(/\s|\[[^\]]*\]/g, '') : plainText(doc);

/**
 * Reads a fair copy again before anyone gets it: no change, only the comments that should be in it, and the words of the
 * fair reading exactly. What another format carries stands in this one by its words, in brackets.
 * @throws NotProved with what is otherwise
 */
export const proveFair =
  (format: FormatName): Proof =>
  async (meantFor, bytes) => {
    const { manuscript } = await formats[format].read(bytes);
    const pending = listChanges(manuscript.doc).length;
    if (pending) throw new NotProved(`${pending} changes would still be pending in it`);
    const meant = meantFor.threads.filter(({ toSelf }) => !toSelf).length;
    if (manuscript.threads.length !== meant) throw new NotProved('its comments are not those it should have');
    const isOther = meantFor.origin?.format !== format;
    const bare = (text: string) => (isOther ? text.replace(/ ?\[[^\]\n]*\]/g, '') : text);
    if (bare(wordsOf(format, manuscript)) !== bare(wordsOf(format, meantFor)))
      throw new NotProved('its words are not those of the fair reading');
  };
