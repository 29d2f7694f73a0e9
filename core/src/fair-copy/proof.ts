import type { Node } from 'prosemirror-model';
import { listChanges } from '../changes/list.js';
import { formats } from '../formats/formats.js';
import { kinds, type FormatName } from '../formats/kinds.js';
import { counted } from '../manuscript/counted.js';
import type { Manuscript } from '../manuscript/manuscript.js';
import { schema } from '../manuscript/schema.js';
import { beforeReading, fairReading, plainText } from '../reading/readings.js';
import { isActive, isOfProperties, tracesIn, type Trace } from './traces.js';

/** A copy that is not what it should be; it is not given out. */
export class NotProved extends Error {}

/** What is known of a copy that may explain what stands in it. */
export interface Excuses {
  /** How many changes stand inside things that only their own program can decide, such as text boxes. */
  inside: number;
  /** Whether nothing in it is to name people. */
  nameless?: boolean;
  /** Whether nothing in it is to run or reach outside. */
  inert?: boolean;
}

/** Reads a copy again before anybody gets it. */
export type Proof = (manuscript: Manuscript, bytes: Uint8Array, excuses: Excuses) => Promise<void>;

/** The words of a text, without the spaces between them and what stands in brackets in the place of something else. */
const bare = (text: string) => text.replace(/\s|\[[^\]\n]*\]/g, '');

/** Whether something in a text is known by its file only. */
function hasThings(doc: Node): boolean {
  let found = false;
  doc.descendants(({ type }) => void (found ||= type === schema.nodes.carried_thing));
  return found;
}

/**
 * What the file itself tells, whoever made it: no change, no comment, nobody’s name, where no comment is to be in it; and
 * nothing that runs, where that is asked for.
 */
function proveUntold(
  format: FormatName,
  bytes: Uint8Array,
  commented: boolean,
  { inside, nameless = false, inert = false }: Excuses,
): void {
  const isBad = (trace: Trace) =>
    isActive(trace) ? inert : !commented && (isOfProperties(trace) ? nameless : inside === 0);
  const bad = tracesIn(format, bytes).filter(isBad);
  if (!bad.length) return;
  const [{ part, where }] = bad as [Trace];
  if (bad.every(isActive))
    throw new NotProved(`${counted(bad.length, 'thing')} in it would still run or reach outside (${where})`);
  throw new NotProved(
    `it would still tell of changes or people in ${counted(bad.length, 'place')} (${[part, where].filter(Boolean).join(', ')})`,
  );
}

/** Whether the words of a text may stand otherwise in a copy: in another file than it came in things stand by their words. */
const mayDiffer = (format: FormatName, { origin, doc }: Manuscript) =>
  // Markdown has its own ways with white space.
  format === 'md' || (origin?.format !== format && hasThings(doc));

function proveWords(isOther: boolean, meant: Node, read: Node, which: string): void {
  const [meantWords, words] = [plainText(meant), plainText(read)];
  if (isOther ? bare(words) !== bare(meantWords) : words !== meantWords)
    throw new NotProved(`its words are not those of the ${which}`);
}

function proveThreads(meantFor: Manuscript, { threads }: Manuscript): void {
  const meant = meantFor.threads.filter(({ toSelf }) => !toSelf).length;
  if (threads.length !== meant) throw new NotProved('its comments are not those it should have');
}

/**
 * The proof of a fair copy: no change, only the comments that should be in it, and the words of the fair reading exactly;
 * one without comments tells of nobody. What another format carries stands in this one by its words, in brackets.
 * @throws NotProved with what is otherwise
 */
export const proveFair =
  (format: FormatName): Proof =>
  async (meantFor, bytes, excuses) => {
    const { manuscript } = await formats[format].read(bytes);
    const pending = listChanges(manuscript.doc).length;
    if (pending) throw new NotProved(`${counted(pending, 'change')} would still be pending in it`);
    proveThreads(meantFor, manuscript);
    proveUntold(format, bytes, manuscript.threads.length > 0, excuses);
    proveWords(mayDiffer(format, meantFor), meantFor.doc, manuscript.doc, 'fair reading');
  };

/**
 * The proof of a marked copy: the words of both readings, so that no decision made on it can give other words than one
 * made here; every change, where the format holds all of them; and the comments that should be in it.
 * @throws NotProved with what is otherwise
 */
export const proveMarked =
  (format: FormatName): Proof =>
  async (meantFor, bytes) => {
    const { manuscript } = await formats[format].read(bytes);
    const isOther = mayDiffer(format, meantFor);
    const [meant, read] = [meantFor.doc, manuscript.doc];
    // Of a change that the format cannot hold, and says so, the words stand in the copy as they do in the text.
    const holdsAll = !formats[format].leaves?.(meantFor).some(({ where }) => where === 'changes');
    if (holdsAll) {
      proveWords(isOther, fairReading(meant), fairReading(read), 'fair reading');
      proveWords(isOther, beforeReading(meant), beforeReading(read), 'before reading');
    } else proveWords(isOther, meant, read, 'text');
    if (kinds[format].holds.threads) proveThreads(meantFor, manuscript);
    const missing = listChanges(meant).length - listChanges(read).length;
    if (!isOther && missing > 0) throw new NotProved(`${counted(missing, 'change')} would be missing in it`);
  };
