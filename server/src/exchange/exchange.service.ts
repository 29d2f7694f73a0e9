import { BadRequestException, Injectable } from '@nestjs/common';
import { Worker } from 'node:worker_threads';
import { Node } from 'prosemirror-model';
import { schema, type Reading } from '@tea-pencil/core';
import { ManuscriptsService } from '../documents/manuscripts.service.js';

/** The end of every refusal. */
export const taken = 'Tea Pencil takes DOCX files and plain text (TXT).';
const longest = 120_000;

type Answer =
  { reason: string } | { manuscript: Omit<Reading['manuscript'], 'doc'> & { doc: object }; losses: Reading['losses'] };

@Injectable()
export class ExchangeService {
  constructor(private readonly manuscripts: ManuscriptsService) {}

  /**
   * Brings a file in as a new manuscript.
   * @throws BadRequestException that names the file, the reason and what is taken; nothing of the file is kept then
   */
  async bringIn(owner: string, name: string, bytes: Uint8Array, stop: AbortSignal) {
    const ending = /\.(\w+)$/.exec(name)?.[1]?.toLowerCase();
    const refuse = (reason: string) => new BadRequestException(`“${name}” ${reason}. ${taken}`);
    if (ending !== 'docx' && ending !== 'txt') throw refuse('is of a kind that cannot be brought in yet');
    const answer = await this.#read(bytes, ending, stop);
    if ('reason' in answer) throw refuse(answer.reason);
    const { manuscript, losses } = answer;
    const doc = Node.fromJSON(schema, manuscript.doc);
    const title = name.replace(/\.\w+$/, '').slice(0, 200) || 'Untitled';
    const id = await this.manuscripts.addFromFile(owner, { title, losses }, { ...manuscript, doc });
    return { id, losses };
  }

  #read(bytes: Uint8Array, format: 'docx' | 'txt', stop: AbortSignal): Promise<Answer> {
    return new Promise((resolve) => {
      const worker = new Worker(new URL('./read-worker.js', import.meta.url), {
        workerData: { bytes, format },
        resourceLimits: { maxOldGenerationSizeMb: 2048 },
      });
      const end = (answer: Answer) => {
        clearTimeout(timer);
        resolve(answer);
        void worker.terminate();
      };
      const timer = setTimeout(() => end({ reason: 'takes longer than two minutes to read' }), longest);
      stop.addEventListener('abort', () => end({ reason: 'was not read: it was stopped' }));
      worker.once('message', end);
      worker.once('error', () => end({ reason: 'is too large or too tangled to be read' }));
    });
  }
}
