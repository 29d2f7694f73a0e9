import { Node } from 'prosemirror-model';
import {
  describeChange,
  endedWords,
  fairReading,
  inSentence,
  ledgerText,
  listChanges,
  schema,
  talkText,
  type LedgerLine,
} from '@tea-pencil/core';
import type { HowPrinted, Ledger, Printed, PrintedPerson, PrintJob } from '@tea-pencil/wire';
import type { WholeManuscript } from '../manuscripts/manuscripts.service.js';
import { addressOfPicture, NotPrinted, printPages } from './press.js';

/** Prints a manuscript in a thread of its own: making its pages ready takes as long as reading a file. */

export interface ManuscriptToPrint {
  what: Printed;
  how: HowPrinted;
  whole: WholeManuscript;
  title: string;
  language: string;
  people: PrintedPerson[];
  /** What was decided, where that is printed. */
  ledger: Ledger | null;
}

/** What is printed, as the name of the file says it. */
export const printedKinds: Readonly<Record<Printed, string>> = {
  clean: 'clean',
  marked: 'marked',
  ledger: 'ledger',
  talk: 'threads',
};

/** The file, or why there is none. */
export type PrintedFile = { pdf: Uint8Array } | { reason: string };

export async function printManuscript(task: ManuscriptToPrint): Promise<PrintedFile> {
  const { what, how, whole, title, language, people } = task;
  const pictures = new Map(whole.assets.map(({ id, type, bytes }) => [id, { type, bytes }]));
  const job: PrintJob = {
    ...{ title, language, people, kind: printedKinds[what] },
    doc: docOf(task).toJSON() as object,
    threads: what === 'marked' ? whole.threads : [],
    pictures: Object.fromEntries([...pictures.keys()].map((id) => [id, addressOfPicture(id)])),
    how: what === 'marked' ? how : { ...how, notes: 'none' },
  };
  try {
    return { pdf: (await printPages(job, pictures)).pdf };
  } catch (problem) {
    if (problem instanceof NotPrinted) return { reason: problem.message };
    throw problem;
  }
}

function docOf({ what, whole, title, people, ledger }: ManuscriptToPrint): Node {
  const doc = Node.fromJSON(schema, JSON.parse(whole.json));
  const nameOf = (person: string) => people.find((one) => one.id === person)?.name ?? 'someone';
  if (what === 'clean') return fairReading(doc);
  if (what === 'talk') return talkText(title, doc, whole.threads, nameOf);
  return ledger ? ledgerText(title, linesOf(doc, ledger, nameOf), nameOf) : doc;
}

/** Every change, pending and decided, in the order of the text. */
function linesOf(doc: Node, { numbers, decided }: Ledger, nameOf: (person: string) => string): LedgerLine[] {
  const numberOf = new Map(numbers);
  const pending = listChanges(doc).map((change) => ({
    at: change.ranges[0].from,
    line: {
      number: numberOf.get(change.id) ?? 0,
      said: describeChange(change),
      sentence: inSentence(doc, change),
      author: change.author,
      date: change.date,
      state: 'to decide',
    },
  }));
  const past = decided.map((entry) => ({
    at: entry.at,
    line: {
      number: entry.number,
      said: describeChange(entry),
      sentence: entry.sentence,
      author: entry.author,
      date: entry.date,
      state: endedWords(entry.state, entry.decidedBy && nameOf(entry.decidedBy)),
    },
  }));
  return [...pending, ...past].sort((a, b) => a.at - b.at).map(({ line }) => line);
}
