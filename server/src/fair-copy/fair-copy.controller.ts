import { Controller, Get, HttpCode, Param, Post, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import Joi from 'joi';
import { changeKinds, fates, kinds, recordOf } from '@tea-pencil/core';
import type { FairCopy, FairCopyAsked, FairCopyFile } from '@tea-pencil/wire';
import { fileName } from '../exchange/copies.js';
import { goneAway } from '../http/gone-away.js';
import { Describes, JoiPipe, ValidBody, ValidId } from '../http/validation.js';
import { ManuscriptsService } from '../manuscripts/manuscripts.service.js';
import { Member } from '../policy/guard.js';
import type { Member as Membership } from '../policy/may.js';
import { FairCopyService } from './fair-copy.service.js';

const holding = Object.values(kinds)
  .filter(({ holds }) => holds.changes)
  .map(({ name }) => name);

const askedSchema = Joi.object({
  chosen: Joi.array()
    .items(
      Joi.object({
        author: Joi.string().max(64).required(),
        kind: Joi.string()
          .valid(...changeKinds)
          .required(),
        many: Joi.number().integer().min(1).max(10_000_000).required(),
        fate: Joi.string()
          .valid(...fates)
          .required(),
      }),
    )
    .unique((a: FairCopyAsked['chosen'][number], b: typeof a) => a.author === b.author && a.kind === b.kind)
    .max(5000)
    .required(),
  format: Joi.string()
    .valid(...holding)
    .required(),
  nameless: Joi.boolean().required(),
  inert: Joi.boolean().required(),
});
const filePipe = new JoiPipe(Joi.string().valid('clean', 'marked', 'record'));

@ApiTags('fair copies')
@Controller('api/manuscripts/:id/fair-copies')
export class FairCopyController {
  constructor(
    private readonly fairCopies: FairCopyService,
    private readonly manuscripts: ManuscriptsService,
  ) {}

  /** The fair copies that were made, the newest first. */
  @Get()
  list(@ValidId('id') id: string): Promise<FairCopy[]> {
    return this.fairCopies.list(id);
  }

  /** Decides what is pending, and makes the clean file and the marked copy, in one act. */
  @Post()
  @Describes(askedSchema)
  make(
    @Member() member: Membership,
    @ValidBody(askedSchema) asked: FairCopyAsked,
    @Res({ passthrough: true }) response: Response,
  ): Promise<FairCopy> {
    return this.fairCopies.make(member, asked, goneAway(response));
  }

  /** One of its files as it was made, or what is known of it in words. */
  @Get(':copy/files/:file')
  async file(
    @ValidId('id') id: string,
    @ValidId('copy') copy: string,
    @Param('file', filePipe) file: FairCopyFile | 'record',
    @Res() response: Response,
  ): Promise<void> {
    const found = await this.fairCopies.file(id, copy, file === 'record' ? 'clean' : file);
    if (file !== 'record') {
      const { name } = found.copy[file];
      response.attachment(name).type(kinds[found.copy.format].type).send(found.bytes);
      return;
    }
    const { title, people } = await this.manuscripts.get(id);
    const nameOf = (person: string) => people.find((one) => one.id === person)?.name ?? 'someone';
    response
      .attachment(fileName(`${title} (fair copy).record.txt`))
      .type('text/plain; charset=utf-8')
      .send(recordOf(title, found.copy, nameOf));
  }

  /** Takes back what was decided for it. */
  @Post(':copy/back')
  @HttpCode(204)
  takeBack(@Member() member: Membership, @ValidId('copy') copy: string): Promise<void> {
    return this.fairCopies.takeBack(member, copy);
  }
}
