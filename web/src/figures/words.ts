import { format } from 'date-fns';
import { changeKinds, type ChangeKind, type FigureName, type FigureRow } from '@tea-pencil/core';
import { kindNames } from '../reviewing/words';

/** How figures are called. */

export interface Words {
  title: string;
  says: string;
  /** What its rows are. */
  of: string;
}

export const figureWords: Readonly<Record<FigureName, Words>> = {
  authors: { title: 'By author', says: 'How many changes each has made, and what became of them.', of: 'Author' },
  kinds: { title: 'By kind', says: 'Which kinds of changes there are, and what became of them.', of: 'Kind' },
  sections: { title: 'By section', says: 'Where the changes stand, by the nearest heading above.', of: 'Section' },
  words: {
    title: 'Words in and out',
    says: 'The words that the changes of each bring and take away, whatever became of them.',
    of: 'Author',
  },
  verdicts: {
    title: 'Accepted against rejected',
    says: 'Of what has been decided, how much of each author’s was accepted. The table has the numbers.',
    of: 'Author',
  },
  work: {
    title: 'Written and struck out',
    says: 'Letters that were put in and struck out over time, in pencil or in ink, decisions included.',
    of: 'Until',
  },
  growth: {
    title: 'How the text grew',
    says: 'Words of the fair reading, and changes that waited, in each draft that was kept and now.',
    of: 'When',
  },
  waiting: {
    title: 'From change to decision',
    says: 'How long changes waited until they were decided.',
    of: 'Within',
  },
  talk: {
    title: 'Threads and answers',
    says: 'Who began, answered and asked. Notes to yourself are not counted.',
    of: 'Person',
  },
};

const isKind = (name: string): name is ChangeKind => (changeKinds as readonly string[]).includes(name);

/** A row as a chart calls it. */
export function labelOf({ name, at, person }: FigureRow): string {
  if (at) return format(new Date(at), 'd MMM HH:mm');
  if (!person && isKind(name)) return kindNames[name];
  return name.length > 34 ? `${name.slice(0, 33)}…` : name;
}
