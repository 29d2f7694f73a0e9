import { BadRequestException, Controller, Post, Query, Res, UploadedFile } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import Joi from 'joi';
import type { ReturnedFile } from '@tea-pencil/wire';
import { goneAway } from '../http/gone-away.js';
import { nameOf, type Upload } from '../http/upload.js';
import { idSchema, JoiPipe } from '../http/validation.js';
import { Member } from '../policy/guard.js';
import type { Member as Membership } from '../policy/may.js';
import { ReturnedService } from './returned.service.js';
import { TakesFile } from './takes-file.js';

const versionPipe = new JoiPipe(Joi.string().pattern(/^\d{1,9}$/));
const anywayPipe = new JoiPipe(Joi.string().valid('', 'yes'));
const senderPipe = new JoiPipe(idSchema.allow(''));

@ApiTags('exchange')
@Controller('api/manuscripts/:id/returned')
export class ReturnedController {
  constructor(private readonly returned: ReturnedService) {}

  /** A file that has come back of a draft, as a new state of the manuscript. */
  @Post()
  @TakesFile()
  takeIn(
    @Member() member: Membership,
    @UploadedFile() file: Upload | undefined,
    @Query('version', versionPipe) version: string,
    @Query('sender', senderPipe) sender: string,
    @Query('anyway', anywayPipe) anyway: string,
    @Res({ passthrough: true }) response: Response,
  ): Promise<ReturnedFile> {
    if (!file) throw new BadRequestException('No file came with this request.');
    const about = {
      name: nameOf(file),
      bytes: file.buffer,
      version: Number(version),
      sender: sender || null,
      anyway: anyway === 'yes',
    };
    return this.returned.takeIn(member, about, goneAway(response));
  }
}
