import {
  BadRequestException,
  Body,
  Controller,
  Post,
  Res,
  UploadedFiles,
  UseFilters,
  UseInterceptors,
} from '@nestjs/common';
import { FileFieldsInterceptor } from '@nestjs/platform-express';
import { ApiConsumes, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import Joi from 'joi';
import { largestFile, type Pending } from '@tea-pencil/core';
import type { CollatedTexts } from '@tea-pencil/wire';
import { goneAway } from '../http/gone-away.js';
import { FewUploads, nameOf, noteName, TooLarge, type Upload } from '../http/upload.js';
import { idSchema, JoiPipe } from '../http/validation.js';
import { Me } from '../policy/guard.js';
import { CollatingService, type Named } from './collating.service.js';
import { taken } from './exchange.service.js';

const places = ['before', 'after', 'other'] as const;
type Place = (typeof places)[number];

const name = Joi.string().allow('').max(120).default('');
const bodyPipe = new JoiPipe(
  Joi.object({
    // Of each a manuscript’s id, where no file comes in its place.
    before: idSchema,
    after: idSchema,
    other: idSchema,
    pending: Joi.string().valid('fair', 'before', 'kept').default('fair'),
    name,
    otherName: name,
    anyway: Joi.string().valid('yes'),
  }),
);
type Asked = Partial<Record<Place, string>> & { pending: Pending; name: string; otherName: string; anyway?: 'yes' };

@ApiTags('exchange')
@Controller('api/collations')
export class CollatingController {
  constructor(private readonly collating: CollatingService) {}

  /** Lays two texts together as a manuscript of its own; or two revisions of one. */
  @Post()
  @ApiConsumes('multipart/form-data')
  @UseInterceptors(
    FewUploads,
    FileFieldsInterceptor(
      places.map((place) => ({ name: place, maxCount: 1 })),
      { limits: { fileSize: largestFile, files: 3 }, fileFilter: noteName },
    ),
  )
  @UseFilters(new TooLarge('50 MB', taken))
  collate(
    @Me() me: string,
    @UploadedFiles() files: Partial<Record<Place, Upload[]>> | undefined,
    @Body(bodyPipe) asked: Asked,
    @Res({ passthrough: true }) response: Response,
  ): Promise<CollatedTexts> {
    const at = (place: Place): Named | null => {
      const file = files?.[place]?.[0];
      if (file) return { name: nameOf(file), bytes: file.buffer };
      const manuscript = asked[place];
      return manuscript === undefined ? null : { manuscript };
    };
    const [before, after] = [at('before'), at('after')];
    if (!before || !after) throw new BadRequestException('Two texts are needed, the one before and the one after.');
    const names: [string, string] = [asked.name || 'The later text', asked.otherName || 'The other revision'];
    const what = { before, after, other: at('other'), pending: asked.pending, names, anyway: asked.anyway === 'yes' };
    return this.collating.collate(me, what, goneAway(response));
  }
}
