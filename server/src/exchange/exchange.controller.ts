import { BadRequestException, Controller, Get, Param, Post, Res, UploadedFile } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import Joi from 'joi';
import type { BroughtIn, Waiting } from '@tea-pencil/wire';
import { goneAway } from '../http/gone-away.js';
import { Me } from '../policy/guard.js';
import { ManuscriptsService } from '../manuscripts/manuscripts.service.js';
import { nameOf, type Upload } from '../http/upload.js';
import { JoiPipe, ValidId } from '../http/validation.js';
import { copies, fileName, type CopyName } from './copies.js';
import { ExchangeService } from './exchange.service.js';
import { TakesFile } from './takes-file.js';

const versionPipe = new JoiPipe(Joi.string().pattern(/^\d{1,9}$/));
const copyPipe = new JoiPipe(
  Joi.string()
    .valid(...Object.keys(copies))
    .required(),
);

@ApiTags('exchange')
@Controller('api/manuscripts')
export class ExchangeController {
  constructor(
    private readonly exchange: ExchangeService,
    private readonly manuscripts: ManuscriptsService,
  ) {}

  @Post('import')
  @TakesFile()
  async bringIn(
    @Me() me: string,
    @UploadedFile() file: Upload | undefined,
    @Res({ passthrough: true }) response: Response,
  ): Promise<BroughtIn> {
    if (!file) throw new BadRequestException('No file came with this request.');
    return this.exchange.bringIn(me, nameOf(file), file.buffer, goneAway(response));
  }

  /** Where in the queue one's file is, for one who waits. */
  @Get('import/waiting')
  waiting(@Me() me: string): Waiting {
    return { ahead: this.exchange.ahead(me), part: this.exchange.part(me), changes: this.exchange.changes(me) };
  }

  /** A copy that stays in the house. */
  @Post(':id/copy')
  copy(
    @ValidId('id') id: string,
    @Me() me: string,
    @Res({ passthrough: true }) response: Response,
  ): Promise<{ id: string }> {
    return this.exchange.copy(id, me, goneAway(response));
  }

  /** An earlier draft as a manuscript of its own. */
  @Post(':id/versions/:version/copy')
  copyThen(
    @ValidId('id') id: string,
    @Me() me: string,
    @Param('version', versionPipe) version: string,
    @Res({ passthrough: true }) response: Response,
  ): Promise<{ id: string }> {
    return this.exchange.copy(id, me, goneAway(response), Number(version));
  }

  @Get(':id/copies/:copy')
  takeAway(
    @ValidId('id') id: string,
    @Me() me: string,
    @Param('copy', copyPipe) kind: CopyName,
    @Res() response: Response,
  ): Promise<void> {
    return this.#send(id, me, kind, response);
  }

  /** The same of an earlier draft. */
  @Get(':id/versions/:version/copies/:copy')
  takeAwayThen(
    @ValidId('id') id: string,
    @Me() me: string,
    @Param('version', versionPipe) version: string,
    @Param('copy', copyPipe) kind: CopyName,
    @Res() response: Response,
  ): Promise<void> {
    return this.#send(id, me, kind, response, Number(version));
  }

  async #send(id: string, me: string, kind: CopyName, response: Response, version?: number): Promise<void> {
    const { ending, type } = copies[kind];
    const { title } = await this.manuscripts.get(id);
    const bytes = await this.exchange.takeAway(id, me, kind, goneAway(response), version);
    const then = version === undefined ? '' : ' (earlier draft)';
    response.attachment(fileName(title + then + ending));
    response.type(type).send(Buffer.from(bytes));
  }
}
