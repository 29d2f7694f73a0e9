import type { Node } from 'prosemirror-model';
import { formats, listChanges, plainText, schema, type FormatName, type Manuscript } from '@tea-pencil/core';

/** A copy that is not what it should be; it is not given out. */
export class NotProved extends Error {}

export type Proof = (manuscript: Manuscript, bytes: Uint8Array) => Promise<void>;

/** The words of a text, without the spaces between them and what stands in brackets in the place of something else. */
const bare = (text: string) => text.replace(/\s|\[[^\]\n]*\]/g, '');

/** Whether something in a text is known by its file only. */
function hasThings(doc: Node): boolean {
  let found = false;
  doc.descendants(({ type }) => void (found ||= type === schema.nodes.carried_thing));
  return found;
}

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
    // In another file than it came in things stand by their words, and Markdown has its own ways with white space.
    const isOther = format === 'md' || (meantFor.origin?.format !== format && hasThings(meantFor.doc));
    const [meantWords, words] = [plainText(meantFor.doc), plainText(manuscript.doc)];
    if (isOther ? bare(words) !== bare(meantWords) : words !== meantWords)
      throw new NotProved('its words are not those of the fair reading');
  };
