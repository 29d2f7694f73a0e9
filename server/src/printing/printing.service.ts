import { Injectable, NotFoundException, ServiceUnavailableException } from '@nestjs/common';
import type { HowPrinted, Printed } from '@tea-pencil/wire';
import { LedgerService } from '../decisions/ledger.service.js';
import { ManuscriptsService } from '../manuscripts/manuscripts.service.js';
import { saysBusy, Workers } from '../work/workers.js';
import { printedKinds, type ManuscriptToPrint, type PrintedFile } from './print-task.js';

/** Manuscripts on paper. */
@Injectable()
export class PrintingService {
  constructor(
    private readonly manuscripts: ManuscriptsService,
    private readonly ledgers: LedgerService,
    private readonly workers: Workers,
  ) {}

  /**
   * The pages of a manuscript as PDF.
   * @throws ServiceUnavailableException with the reason
   */
  async print(
    id: string,
    me: string,
    what: Printed,
    how: HowPrinted,
    stop: AbortSignal,
  ): Promise<{ name: string; pdf: Buffer }> {
    const { title, language, people } = await this.manuscripts.get(id);
    const task = async (): Promise<ManuscriptToPrint> => {
      const whole = await this.manuscripts.whole(id, me, { origin: null, pictures: true });
      if (!whole) throw new NotFoundException('There is no text to print.');
      const ledger = what === 'ledger' ? await this.ledgers.list(id) : null;
      const named = people.map(({ id: person, name, initials, hue }) => ({ id: person, name, initials, hue }));
      return { what, how, whole, title, language, people: named, ledger };
    };
    const made = await saysBusy(this.workers.run<PrintedFile>('printManuscript', task, { of: me, stop }));
    if ('reason' in made) throw new ServiceUnavailableException(made.reason);
    return { name: `${title} (${printedKinds[what]}).pdf`, pdf: Buffer.from(made.pdf) };
  }
}
