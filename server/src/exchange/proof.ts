import type { Node } from 'prosemirror-model';
import {
  counted,
  formats,
  isOfProperties,
  listChanges,
  plainText,
  schema,
  tracesIn,
  type FormatName,
  type Manuscript,
} from '@tea-pencil/core';

/** A copy that is not what it should be; it is not given out. */
export class NotProved extends Error {}

/** What is known of a copy that may explain what stands in it. */
export interface Excuses {
  /** How many changes stand inside things that only their own program can decide, such as text boxes. */
  inside: number;
  /** Whether its properties are to name nobody. */
  nameless?: boolean;
}

export type Proof = (manuscript: Manuscript, bytes: Uint8Array, excuses: Excuses) => Promise<void>;

/** The words of a text, without the spaces between them and what stands in brackets in the place of something else. */
const bare = (text: string) => text.replace(/\s|\[[^\]\n]*\]/g, '');

/** Whether something in a text is known by its file only. */
function hasThings(doc: Node): boolean {
  let found = false;
  doc.descendants(({ type }) => void (found ||= type === schema.nodes.carried_thing));
  return found;
}

/** What marks in the file itself tell, whoever made them: no change, no comment, nobody’s name. */
function proveUntold(format: FormatName, bytes: Uint8Array, { inside, nameless = false }: Excuses): void {
  const traces = tracesIn(format, bytes);
  const bad = traces.filter((trace) => (isOfProperties(trace) ? nameless : inside === 0));
  if (!bad.length) return;
  const [{ part, where }] = bad as [(typeof bad)[number]];
  throw new NotProved(
    `it would still tell of changes or people in ${counted(bad.length, 'place')} (${[part, where].filter(Boolean).join(', ')})`,
  );
}

/**
 * Reads a fair copy again before anyone gets it: no change, only the comments that should be in it, and the words of the
 * fair reading exactly; one without comments tells of nobody. What another format carries stands in this one by its words,
 * in brackets.
 * @throws NotProved with what is otherwise
 */
export const proveFair =
  (format: FormatName): Proof =>
  async (meantFor, bytes, excuses) => {
    const { manuscript } = await formats[format].read(bytes);
    const pending = listChanges(manuscript.doc).length;
    if (pending) throw new NotProved(`${pending} changes would still be pending in it`);
    const meant = meantFor.threads.filter(({ toSelf }) => !toSelf).length;
    if (manuscript.threads.length !== meant) throw new NotProved('its comments are not those it should have');
    if (!meant) proveUntold(format, bytes, excuses);
    // In another file than it came in things stand by their words, and Markdown has its own ways with white space.
    const isOther = format === 'md' || (meantFor.origin?.format !== format && hasThings(meantFor.doc));
    const [meantWords, words] = [plainText(meantFor.doc), plainText(manuscript.doc)];
    if (isOther ? bare(words) !== bare(meantWords) : words !== meantWords)
      throw new NotProved('its words are not those of the fair reading');
  };
