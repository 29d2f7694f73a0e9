import type { PersonId } from '../manuscript/people.js';
import { counted } from '../manuscript/counted.js';
import type { Fate } from './remaining.js';

/** What is known of a fair copy, as a record says it. */
export interface Recorded {
  at: string;
  madeBy: PersonId;
  version: number;
  fates: Readonly<Record<Fate, number>>;
  deciders: readonly { person: PersonId; accepted: number; rejected: number; first: string; last: string }[];
  words: number;
  threads: number;
  open: number;
  queries: number;
  inside: number;
  clean: { name: string; sha256: string };
  marked: { name: string; sha256: string };
  takenBack: { by: PersonId; at: string } | null;
}

const moment = (iso: string) => `${iso.slice(0, 16).replace('T', ' ')} UTC`;
const day = (iso: string) => iso.slice(0, 10);

/**
 * The record of a fair copy as plain text: who decided how many changes and when, and the hashes of both files, as lines
 * that `sha256sum --check` reads (GNU coreutils; of what it does not know it says so and goes on).
 * @param nameOf how a person is called
 */
export function recordOf(title: string, copy: Recorded, nameOf: (person: PersonId) => string): string {
  const { fates, deciders, clean, marked, takenBack } = copy;
  const decided = deciders.map(({ person, accepted, rejected, first, last }) => {
    const when = day(first) === day(last) ? `on ${day(first)}` : `from ${day(first)} to ${day(last)}`;
    return `  ${nameOf(person)}: ${accepted} accepted, ${rejected} rejected, ${when}`;
  });
  const lines = [
    `Fair copy of “${title}”`,
    '',
    `Made by ${nameOf(copy.madeBy)}, ${moment(copy.at)}, of version ${copy.version}; ${counted(copy.words, 'word')}.`,
    takenBack && `Taken back by ${nameOf(takenBack.by)}, ${moment(takenBack.at)}; the files are as they were made.`,
    '',
    'What became of the changes that were pending:',
    `  ${fates.accept} accepted, ${fates.reject} rejected, ${fates.keep} kept pending in the marked copy (the clean file reads as if they were accepted)`,
    '',
    deciders.length ? 'Who decided in this manuscript:' : 'Nobody has decided anything in this manuscript.',
    ...decided,
    '',
    `In the marked copy: ${counted(copy.threads, 'thread')}, ${copy.open} open; ${counted(copy.queries, 'query', 'queries')} without an answer.`,
    copy.inside > 0 &&
      `In both files: ${counted(copy.inside, 'change')} inside things that only their own program can decide, such as text boxes.`,
    '',
    'SHA-256:',
    `${clean.sha256}  ${clean.name}`,
    `${marked.sha256}  ${marked.name}`,
    '',
  ];
  return lines.filter((line) => line !== false && line !== null).join('\n');
}
