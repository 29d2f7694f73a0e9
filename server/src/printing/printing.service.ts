import { HttpException, HttpStatus, Injectable, NotFoundException, ServiceUnavailableException } from '@nestjs/common';
import { Node } from 'prosemirror-model';
import {
  describeChange,
  fairReading,
  inSentence,
  ledgerText,
  listChanges,
  schema,
  talkText,
  type LedgerLine,
} from '@tea-pencil/core';
import type { HowPrinted, Printed, PrintJob } from '@tea-pencil/wire';
import { LedgerService } from '../decisions/ledger.service.js';
import { ManuscriptsService, type WholeManuscript } from '../manuscripts/manuscripts.service.js';
import { NotTakenOn, Queue } from '../work/queue.js';
import { addressOfPicture, NotPrinted, printPages } from './press.js';

const kinds: Readonly<Record<Printed, string>> = {
  clean: 'clean',
  marked: 'marked',
  ledger: 'ledger',
  talk: 'threads',
};
/** How long a book may take, in milliseconds. */
const longest = 150_000;

/** Manuscripts on paper: pages as PDF, one at a time. */
@Injectable()
export class PrintingService {
  readonly #queue = new Queue({ together: 1, ofOne: 2, ofAll: 12, patience: 60_000 });

  constructor(
    private readonly manuscripts: ManuscriptsService,
    private readonly ledgers: LedgerService,
  ) {}

  /**
   * The pages of a manuscript.
   * @throws ServiceUnavailableException with the reason
   */
  async print(
    id: string,
    me: string,
    what: Printed,
    how: HowPrinted,
    stop: AbortSignal,
  ): Promise<{ name: string; pdf: Buffer }> {
    const work = async () => {
      const whole = await this.manuscripts.whole(id, me, { origin: null, pictures: true });
      if (!whole) throw new NotFoundException('There is no text to print.');
      const { title, language, people } = await this.manuscripts.get(id);
      const doc = await this.#docOf(id, what, whole, title);
      const pictures = new Map(whole.assets.map(({ id: asset, type, bytes }) => [asset, { type, bytes }]));
      const job: PrintJob = {
        ...{ title, language, kind: kinds[what] },
        doc: doc.toJSON() as object,
        people: people.map(({ id: person, name, initials, hue }) => ({ id: person, name, initials, hue })),
        threads: what === 'marked' ? whole.threads : [],
        pictures: Object.fromEntries([...pictures.keys()].map((asset) => [asset, addressOfPicture(asset)])),
        how: what === 'marked' ? how : { ...how, notes: 'none' },
      };
      const { pdf } = await printPages(job, pictures, AbortSignal.any([stop, AbortSignal.timeout(longest)]));
      return { name: `${title} (${kinds[what]}).pdf`, pdf };
    };
    try {
      return await this.#queue.run(me, work, stop);
    } catch (problem) {
      if (problem instanceof NotTakenOn)
        throw new HttpException('Others are printing just now. Try again in a minute.', HttpStatus.TOO_MANY_REQUESTS);
      if (problem instanceof NotPrinted) throw new ServiceUnavailableException(problem.message);
      throw problem;
    }
  }

  async #docOf(id: string, what: Printed, whole: WholeManuscript, title: string): Promise<Node> {
    const doc = Node.fromJSON(schema, JSON.parse(whole.json));
    const nameOf = (person: string) => whole.people.find((one) => one.id === person)?.name ?? 'someone';
    if (what === 'clean') return fairReading(doc);
    if (what === 'talk') return talkText(title, whole.threads, nameOf);
    return what === 'ledger' ? ledgerText(title, await this.#lines(id, doc, nameOf), nameOf) : doc;
  }

  /** Every change, pending and decided, in the order of the text. */
  async #lines(id: string, doc: Node, nameOf: (person: string) => string): Promise<LedgerLine[]> {
    const { numbers, decided } = await this.ledgers.list(id);
    const numberOf = new Map(numbers);
    const pending = listChanges(doc).map((change) => ({
      at: change.ranges[0].from,
      line: {
        number: numberOf.get(change.id) ?? 0,
        heading: change.whereabouts.heading,
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
        heading: entry.whereabouts.heading,
        said: describeChange(entry),
        sentence: entry.sentence,
        author: entry.author,
        date: entry.date,
        state: entry.verdict
          ? `${entry.verdict === 'accept' ? 'accepted' : 'rejected'} by ${nameOf(entry.decidedBy)}`
          : 'went with another',
      },
    }));
    return [...pending, ...past].sort((a, b) => a.at - b.at).map(({ line }) => line);
  }
}
