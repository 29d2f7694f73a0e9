import { Controller, Get, Param, Query, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import Joi from 'joi';
import type { HowPrinted, Printed } from '@tea-pencil/wire';
import { fileName } from '../exchange/copies.js';
import { goneAway } from '../http/gone-away.js';
import { JoiPipe, ValidId } from '../http/validation.js';
import { Me } from '../policy/guard.js';
import { PrintingService } from './printing.service.js';

const whatPipe = new JoiPipe(Joi.string().valid('clean', 'marked', 'ledger', 'talk').required());
const yes = Joi.string().valid('true', 'false').default('false');
const howPipe = new JoiPipe(
  Joi.object({
    paper: Joi.string().valid('a4', 'letter').default('a4'),
    notes: Joi.string().valid('none', 'foot', 'side').default('none'),
    large: yes,
    lineNumbers: yes,
    hues: yes,
  }).unknown(), // the lens stands in the address too, and is of no concern here
);

interface Asked extends Pick<HowPrinted, 'paper' | 'notes'> {
  large: string;
  lineNumbers: string;
  hues: string;
}

@ApiTags('printing')
@Controller('api/manuscripts/:id/pages')
export class PrintingController {
  constructor(private readonly printing: PrintingService) {}

  /** The pages of a manuscript as PDF. */
  @Get(':printed')
  async print(
    @ValidId('id') id: string,
    @Me() me: string,
    @Param('printed', whatPipe) what: Printed,
    @Query(howPipe) { paper, notes, large, lineNumbers, hues }: Asked,
    @Res() response: Response,
  ): Promise<void> {
    const how: HowPrinted = {
      ...{ paper, notes },
      large: large === 'true',
      lineNumbers: lineNumbers === 'true',
      hues: hues === 'true',
    };
    const { name, pdf } = await this.printing.print(id, me, what, how, goneAway(response));
    response.attachment(fileName(name)).type('application/pdf').send(pdf);
  }
}
