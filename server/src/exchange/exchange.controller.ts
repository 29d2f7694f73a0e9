import {
  BadRequestException,
  Controller,
  Get,
  NotFoundException,
  Param,
  Post,
  Res,
  UploadedFile,
  UseFilters,
  UseInterceptors,
} from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { ApiBody, ApiConsumes, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import Joi from 'joi';
import { fairReading, largestFile, writeAnnotations, writeDocx, writeText, type Manuscript } from '@tea-pencil/core';
import type { Node } from 'prosemirror-model';
import { ManuscriptsService } from '../documents/manuscripts.service.js';
import { Me } from '../http/access.js';
import { nameOf, noteName, TooLarge, type Upload } from '../http/upload.js';
import { JoiPipe, ValidId } from '../http/validation.js';
import { ExchangeService, taken } from './exchange.service.js';

const docxType = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document';

interface Copy {
  ending: string;
  type: string;
  read: (doc: Node) => Node;
  write: (manuscript: Manuscript, about: { id: string; title: string }) => Promise<Uint8Array>;
  /** Whether threads go with it. */
  threads: boolean;
}

function annotations(manuscript: Manuscript, { id, title }: { id: string; title: string }): Promise<Uint8Array> {
  const collection = writeAnnotations(manuscript, `urn:tea-pencil:manuscript:${id}`, title);
  return Promise.resolve(new TextEncoder().encode(JSON.stringify(collection, null, 1)));
}

/** The copies that can be taken away; none holds notes to oneself. */
const copies: Record<string, Copy> = {
  'marked.docx': { ending: ' (marked).docx', type: docxType, read: (doc) => doc, write: writeDocx, threads: true },
  'fair.docx': { ending: ' (fair copy).docx', type: docxType, read: fairReading, write: writeDocx, threads: false },
  'threads.jsonld': {
    ending: ' (threads).jsonld',
    type: 'application/ld+json',
    read: (doc) => doc,
    write: annotations,
    threads: true,
  },
  'fair.txt': {
    ending: ' (fair copy).txt',
    type: 'text/plain; charset=utf-8',
    read: fairReading,
    write: writeText,
    threads: false,
  },
};
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
  @ApiConsumes('multipart/form-data')
  @ApiBody({ schema: { type: 'object', properties: { file: { type: 'string', format: 'binary' } } } })
  @UseInterceptors(FileInterceptor('file', { limits: { fileSize: largestFile, files: 1 }, fileFilter: noteName }))
  @UseFilters(new TooLarge('50 MB', taken))
  async bringIn(
    @Me() me: string,
    @UploadedFile() file: Upload | undefined,
    @Res({ passthrough: true }) response: Response,
  ) {
    if (!file) throw new BadRequestException('No file came with this request.');
    const stop = new AbortController();
    // Someone who goes away before the answer has stopped it.
    response.once('close', () => response.writableEnded || stop.abort());
    return this.exchange.bringIn(me, nameOf(file), file.buffer, stop.signal);
  }

  @Get(':id/copies/:copy')
  async takeAway(
    @ValidId('id') id: string,
    @Me() me: string,
    @Param('copy', copyPipe) kind: string,
    @Res() response: Response,
  ): Promise<void> {
    const copy = copies[kind]!;
    const whole = await this.manuscripts.whole(id, me, copy.read);
    if (!whole) throw new NotFoundException('There is no text to take away.');
    const { title } = await this.manuscripts.get(id);
    const bytes = await copy.write(copy.threads ? whole : { ...whole, threads: [] }, { id, title });
    response.attachment(title.replace(/[\\/:*?"<>|]/g, '-') + copy.ending);
    response.type(copy.type).send(Buffer.from(bytes));
  }
}
