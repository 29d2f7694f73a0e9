import {
  BadRequestException,
  ConflictException,
  Injectable,
  NotFoundException,
  ServiceUnavailableException,
} from '@nestjs/common';
import { filesTaken, kindOf, type FormatName } from '@tea-pencil/core';
import type { BroughtIn } from '@tea-pencil/wire';
import { lineFromFile } from '../http/validation.js';
import { ManuscriptsService, type NewManuscript } from '../manuscripts/manuscripts.service.js';
import { NotTakenOn } from '../work/queue.js';
import { GivenUp, said, Workers } from '../work/workers.js';
import { copies, type Copy, type CopyName, type Titled } from './copies.js';
import type { CopiedText } from './copy-task.js';
import type { FileToRead, ReadFile, ReadFileMade } from './read-task.js';
import type { CopyToWrite, WrittenCopy } from './write-task.js';

/** The end of every refusal. */
export const taken = `Tea Pencil takes ${filesTaken()}.`;

const reasons: Record<GivenUp['because'], string> = {
  stopped: 'was not read: it was stopped',
  'too long': 'takes longer than two minutes to read',
  'too large': 'is too large or too tangled to be read',
};

/** What a manuscript is set to whose file lets nobody edit unrecorded. */
function sealOf(protection: ReadFileMade['protection']): Partial<NewManuscript> {
  if (!protection) return {};
  if (protection === 'without passphrase') return { everyoneInPencil: true };
  return { seal: { sealedBy: null, mayWithdraw: true, hash: null, standard: protection } };
}

/** What a marked copy as DOCX says; undefined: what its file said stays. */
function protectionIn({ seal, everyoneInPencil }: NewManuscript, cameAs: FormatName | undefined): Titled['protection'] {
  if (seal) return seal.standard;
  return everyoneInPencil && cameAs === 'docx' ? undefined : null;
}

/** What a copy is told of its manuscript. */
export const titled = (id: string, about: NewManuscript, cameAs: FormatName | undefined): Titled => ({
  id,
  title: about.title,
  protection: protectionIn(about, cameAs),
  inside: (about.carried ?? [])
    .filter(({ what }) => what.startsWith('change inside'))
    .reduce((n, { howMany }) => n + howMany, 0),
});

/** An earlier state, where one is asked for. */
const at = (version: number | undefined) => (version === undefined ? {} : { version });

/** Files come in and go out; reading and writing them is done elsewhere. */
@Injectable()
export class ExchangeService {
  constructor(
    private readonly manuscripts: ManuscriptsService,
    private readonly workers: Workers,
  ) {}

  /**
   * Brings a file in as a new manuscript.
   * @throws BadRequestException that names the file, the reason and what is taken; nothing of the file is kept then
   */
  async bringIn(owner: string, name: string, bytes: Uint8Array, stop: AbortSignal): Promise<BroughtIn> {
    const kind = kindOf(name);
    const refuse = (reason: string) => new BadRequestException(`“${name}” ${reason}. ${taken}`);
    if (!kind) throw refuse('is of a kind that cannot be brought in');
    const read = await this.#read({ bytes, format: kind.name }, owner, stop);
    if ('reason' in read) throw refuse(read.reason);
    const { outside, losses, carried, protection, title: own, ...made } = read;
    // Its own title, else its first heading, else the name of the file.
    const title = lineFromFile(own ?? name.replace(/\.\w+$/, '')).slice(0, 200) || 'Untitled';
    const about = { title, losses, carried, ...sealOf(protection) };
    const id = await this.manuscripts.add(owner, about, made, outside);
    return { id, losses, carried };
  }

  /** A copy of a manuscript with all that it holds, or as it was at a version, on the desk of who asks for it alone. */
  async copy(id: string, me: string, stop: AbortSignal, version?: number): Promise<{ id: string }> {
    const task = async () => {
      const whole = await this.manuscripts.whole(id, me, { origin: 'any', pictures: true, ...at(version) });
      if (!whole) throw new NotFoundException('There is no text to copy.');
      return whole;
    };
    try {
      const made = await this.workers.run<CopiedText>('copyText', task, { of: me, stop });
      const about = await this.manuscripts.about(id);
      const title = `${about.title.slice(0, 180)} (${version === undefined ? 'copy' : 'earlier draft'})`;
      return { id: await this.manuscripts.add(me, { ...about, title }, made) };
    } catch (problem) {
      if (problem instanceof GivenUp)
        throw new ServiceUnavailableException('The copy took too long, or was stopped. Nothing was changed.');
      throw said(problem);
    }
  }

  /** How far the file is that each person brings in, told from the thread that reads it. */
  readonly #progress = new Map<string, Int32Array>();

  async #read(given: Omit<FileToRead, 'progress'>, of: string, stop: AbortSignal): Promise<ReadFile> {
    const progress = new Int32Array(new SharedArrayBuffer(12));
    const file: FileToRead = { ...given, progress };
    this.#progress.set(of, progress);
    try {
      return await this.workers.run<ReadFile>('readFile', () => Promise.resolve(file), { of, stop });
    } catch (problem) {
      if (problem instanceof NotTakenOn && !stop.aborted) throw said(problem);
      return { reason: problem instanceof GivenUp ? reasons[problem.because] : reasons['too large'] };
    } finally {
      if (this.#progress.get(of) === progress) this.#progress.delete(of);
    }
  }

  /** How much of the file that this person brings in has been read, from 0 to 1; null where that is not known yet. */
  part(me: string): number | null {
    const progress = this.#progress.get(me);
    const thousandths = progress ? Atomics.load(progress, 0) : 0;
    return thousandths ? thousandths / 1000 : null;
  }

  /** How many changes of it have been read, and how many there are; null where that is not known. */
  changes(me: string): { done: number; of: number } | null {
    const progress = this.#progress.get(me);
    const of = progress ? Atomics.load(progress, 2) : 0;
    return of ? { done: Atomics.load(progress!, 1), of } : null;
  }

  /** How many files of others are read or written before the one this person has waiting. */
  ahead = (me: string): number | null => this.workers.ahead(me);

  /** A copy of a manuscript, for a person to take away: as it stands, or as it was at a version. */
  async takeAway(id: string, me: string, kind: CopyName, stop: AbortSignal, version?: number): Promise<Uint8Array> {
    const task = async (): Promise<CopyToWrite> => {
      const { format, pictures }: Copy = copies[kind];
      const whole = await this.manuscripts.whole(id, me, { origin: format, pictures, ...at(version) });
      if (!whole) throw new NotFoundException('There is no text to take away.');
      const about = await this.manuscripts.about(id);
      return { kind, about: titled(id, about, whole.origin?.format), whole };
    };
    try {
      const copy = await this.workers.run<WrittenCopy>('writeCopy', task, { of: me, stop });
      if ('bytes' in copy) return copy.bytes;
      throw new ConflictException(`The copy was written and not given out, for read again, ${copy.reason}.`);
    } catch (problem) {
      if (problem instanceof GivenUp && problem.because === 'stopped')
        throw new ServiceUnavailableException('The copy was not written: it was stopped.');
      if (problem instanceof GivenUp)
        throw new ServiceUnavailableException('The copy took too long to write. Nothing was changed; try again later.');
      throw said(problem);
    }
  }
}
