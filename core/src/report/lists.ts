import type { Node } from 'prosemirror-model';
import { counted } from '../manuscript/counted.js';
import type { PersonId } from '../manuscript/people.js';
import type { Thread } from '../manuscript/threads.js';
import { anchors } from '../threads/anchors.js';
import { remarkText } from '../threads/remark.js';
import { heading, markedSentence, paragraph, tableOf, text, textOfBlocks, type Sentence } from './text.js';

/** The ledger and the talk as texts of their own, to be printed. */

/** A change as a line of a printed ledger. */
export interface LedgerLine {
  number: number;
  said: string;
  sentence: Sentence;
  author: PersonId;
  /** ISO 8601. */
  date: string;
  /** What became of it, in words. */
  state: string;
}

const days = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeZone: 'UTC' });
export const dayOf = (iso: string): string => (Number.isNaN(Date.parse(iso)) ? '' : days.format(new Date(iso)));

/** The ledger: every change with its sentence, in the order in which they are given. */
export function ledgerText(title: string, lines: readonly LedgerLine[], nameOf: (person: PersonId) => string): Node {
  const rows = lines.map(({ number, said, sentence, author, date, state }) => [
    text(String(number)),
    text(said),
    markedSentence(sentence),
    text(nameOf(author)),
    text(dayOf(date)),
    text(state),
  ]);
  return textOfBlocks([
    paragraph(text(`Ledger of “${title}”`), { style: 'title' }),
    paragraph(text(`${counted(lines.length, 'change')}.`)),
    ...(rows.length ? [tableOf(['No.', 'What', 'In its sentence', 'Author', 'Made', 'State'], rows)] : []),
  ]);
}

const said = (thread: Thread, nameOf: (person: PersonId) => string): Node[] =>
  thread.comments
    .filter(({ deleted }) => !deleted)
    .map(({ author, date, body, query }, i) =>
      paragraph(
        [
          ...text(nameOf(author), 'bold'),
          ...text(
            `, ${dayOf(date)}${query ? `, asks ${nameOf(query.to)}${query.settled ? ' (answered)' : ''}` : ''}: `,
          ),
          ...text(remarkText(body, nameOf).replace(/\s+/g, ' ').trim()),
        ],
        { indent: i ? 1 : 0 },
      ),
    );

/** Threads as their words stand in a text, those about the whole first; of one place the oldest first. */
function byPlace(threads: readonly Thread[], doc: Node): Thread[] {
  const places = anchors(doc);
  const at = ({ id }: Thread) => places.get(id)?.[0]?.from ?? 0;
  return [...threads].sort((a, b) => at(a) - at(b) || (a.date === b.date ? 0 : a.date < b.date ? -1 : 1));
}

/**
 * The talk: every thread with the words it is about, open ones first; notes to oneself are on no paper.
 * @param doc the text it is about
 */
export function talkText(
  title: string,
  doc: Node,
  threads: readonly Thread[],
  nameOf: (person: PersonId) => string,
): Node {
  const others = byPlace(threads, doc).filter(({ toSelf }) => !toSelf);
  const part = (name: string, all: readonly Thread[]) =>
    all.length
      ? [
          heading(`${name} (${all.length.toLocaleString('en')})`),
          ...all.flatMap((thread) => [
            paragraph(text(thread.quote.trim() ? `“${thread.quote.trim()}”` : 'On the whole', 'italic')),
            ...said(thread, nameOf),
          ]),
        ]
      : [];
  return textOfBlocks([
    paragraph(text(`Threads of “${title}”`), { style: 'title' }),
    ...(others.length ? [] : [paragraph(text('Nothing is said about this text.'))]),
    ...part(
      'Open',
      others.filter(({ resolved }) => !resolved),
    ),
    ...part(
      'Resolved',
      others.filter(({ resolved }) => resolved),
    ),
  ]);
}
