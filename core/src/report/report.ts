import type { Node } from 'prosemirror-model';
import { changeKinds, type ChangeKind } from '../changes/list.js';
import { counted, plural } from '../manuscript/counted.js';
import type { PersonId } from '../manuscript/people.js';
import type { Thread } from '../manuscript/threads.js';
import { openQueries } from '../threads/queries.js';
import { remarkText } from '../threads/remark.js';
import { countChanges } from '../figures/counts.js';
import type { Counted } from '../figures/figures.js';
import { heading, item, markedSentence, paragraph, tableOf, text, textOfBlocks } from './text.js';
import { frequentEdits, frequentWords, type Edited, type Frequent } from './frequent.js';

/** One page about a text, to be handed to whoever wrote it: what was changed, what to learn, what is asked, what is praised. */

/** What a report is made of. */
export interface ToReport {
  title: string;
  /** ISO 8601, of today. */
  date: string;
  changes: readonly (Counted & Edited)[];
  threads: readonly Thread[];
  /** The threads that praise. */
  praise: ReadonlySet<string>;
  /** Under which id all that a person wrote is brought together, and how they are called. */
  is(author: PersonId): PersonId;
  nameOf(person: PersonId): string;
}

/** Threads that praise unless somebody says otherwise: a highlight in sage that asks and proposes nothing. */
export const praises = ({ tint, toSelf, comments }: Thread): boolean =>
  tint === 'sage' && !toSelf && comments.every(({ query, proposal }) => !query && !proposal);

const days = new Intl.DateTimeFormat('en-GB', { dateStyle: 'long', timeZone: 'UTC' });

const kindWords: Readonly<Record<ChangeKind, [one: string, more: string]>> = {
  insertion: ['insertion', 'insertions'],
  deletion: ['deletion', 'deletions'],
  replacement: ['replacement', 'replacements'],
  move: ['move', 'moves'],
  formatting: ['change of formatting', 'changes of formatting'],
  paragraph: ['change of a paragraph', 'changes of paragraphs'],
  table: ['change of a table', 'changes of tables'],
};

function summary({ changes, is, nameOf }: ToReport): Node[] {
  if (!changes.length) return [paragraph(text('Nothing has been changed in this text.'))];
  const { wordsAdded, wordsRemoved, byAuthor } = countChanges(changes, is);
  const people = [...byAuthor]
    .sort((a, b) => b[1] - a[1])
    .map(([person, many]) => `${nameOf(person)} ${many.toLocaleString('en')}`);
  const of = (state: Counted['state']) => changes.filter((change) => change.state === state).length;
  const stood = [
    of('accepted') && `${of('accepted').toLocaleString('en')} accepted`,
    of('rejected') && `${of('rejected').toLocaleString('en')} rejected`,
    of('pending') && `${of('pending').toLocaleString('en')} to decide`,
  ].filter(Boolean);
  return [
    paragraph(
      text(
        `${counted(changes.length, 'change')} by ${people.join(', ')}: ${counted(wordsAdded, 'word')} in, ` +
          `${wordsRemoved.toLocaleString('en')} out. ${stood.join(', ')}.`,
      ),
    ),
    tableOf(
      ['What', 'How many'],
      changeKinds.flatMap((kind) => {
        const many = changes.filter((change) => change.kind === kind).length;
        return many ? [[text(plural(many, ...kindWords[kind])), text(many.toLocaleString('en'))]] : [];
      }),
    ),
  ];
}

function again(frequent: readonly Frequent[]): Node[] {
  if (!frequent.length) return [];
  return [
    heading('Made again and again'),
    tableOf(
      ['How often', 'What', 'Such as'],
      frequent.map((one) => [
        text(one.many.toLocaleString('en')),
        text(frequentWords(one)),
        one.examples[0] ? markedSentence(one.examples[0]) : [],
      ]),
    ),
  ];
}

function queries({ threads, nameOf }: ToReport): Node[] {
  const open = threads
    .filter(({ toSelf }) => !toSelf)
    .flatMap((thread) => openQueries(thread).map((comment) => ({ thread, comment })));
  if (!open.length) return [];
  return [
    heading('Queries to answer'),
    ...open.map(({ thread, comment }) =>
      item([
        ...text(thread.quote.trim() ? `“${thread.quote.trim().slice(0, 160)}” ` : ''),
        ...text(`${nameOf(comment.author)} asks ${nameOf(comment.query.to)}: `, 'italic'),
        ...text(remarkText(comment.body, nameOf).replace(/\s+/g, ' ').trim()),
      ]),
    ),
  ];
}

function praised({ threads, praise, nameOf }: ToReport): Node[] {
  const all = threads.filter(({ id, toSelf }) => praise.has(id) && !toSelf);
  if (!all.length) return [];
  return [
    heading('Well done'),
    ...all.map(({ quote, author, comments }) => {
      const said = comments
        .filter(({ deleted }) => !deleted)
        .map(({ body }) => remarkText(body, nameOf).replace(/\s+/g, ' ').trim())
        .filter(Boolean);
      return item([
        ...text(quote.trim() ? `“${quote.trim().slice(0, 240)}”` : 'The whole text.'),
        ...text(said.length ? ` ${said.join(' ')}` : ''),
        ...text(` (${nameOf(author)})`, 'italic'),
      ]);
    }),
  ];
}

/** A report as a text of its own: it can be read, printed and written as any other. */
export function reportOf(report: ToReport): Node {
  const { title, date, changes } = report;
  const blocks = [
    paragraph(text(`Report on “${title}”`), { style: 'title' }),
    paragraph(text(days.format(new Date(date)), 'italic')),
    ...summary(report),
    ...again(frequentEdits(changes)),
    ...queries(report),
    ...praised(report),
  ];
  return textOfBlocks(blocks);
}
