import { Controller, Get, NotFoundException, Param } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { ChangeEvent, LastDecision, Ledger } from '@tea-pencil/wire';
import { changeSchema, JoiPipe, ValidId } from '../http/validation.js';
import { Me } from '../policy/guard.js';
import { LedgerService } from './ledger.service.js';

@ApiTags('ledger')
@Controller('api/manuscripts/:id/ledger')
export class LedgerController {
  constructor(private readonly ledger: LedgerService) {}

  @Get()
  list(@ValidId('id') id: string): Promise<Ledger> {
    return this.ledger.list(id);
  }

  /** One’s own last decision that stands. */
  @Get('last')
  async last(@ValidId('id') id: string, @Me() me: string): Promise<{ last: LastDecision | null }> {
    return { last: await this.ledger.last(id, me) };
  }

  /** What has happened to a change. */
  @Get(':change/events')
  events(
    @ValidId('id') id: string,
    @Param('change', new JoiPipe(changeSchema)) change: string,
  ): Promise<ChangeEvent[]> {
    return this.ledger.events(id, change);
  }

  /** Where the words of a decided change stood, in the text as it is now. */
  @Get(':change/place')
  async place(
    @ValidId('id') id: string,
    @Param('change', new JoiPipe(changeSchema)) change: string,
  ): Promise<{ at: number }> {
    const at = await this.ledger.place(id, change);
    if (at === null) throw new NotFoundException('No such change has been decided in this manuscript.');
    return { at };
  }
}
