import {
  BadRequestException,
  Controller,
  Get,
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
import type { AddedPicture } from '@tea-pencil/wire';
import { FewUploads, nameOf, noteName, TooLarge, type Upload } from '../http/upload.js';
import { Describes, idSchema, ValidBody, ValidId } from '../http/validation.js';
import { largestPicture } from '../images/picture-file.js';
import { Me } from '../policy/guard.js';
import { PicturesService } from './pictures.service.js';

const copySchema = Joi.object({ asset: idSchema.required() });

@ApiTags('pictures')
@Controller('api')
export class PicturesController {
  constructor(private readonly pictures: PicturesService) {}

  @Post('manuscripts/:id/pictures')
  @ApiConsumes('multipart/form-data')
  @ApiBody({ schema: { type: 'object', properties: { file: { type: 'string', format: 'binary' } } } })
  @UseInterceptors(
    FewUploads,
    FileInterceptor('file', { limits: { fileSize: largestPicture, files: 1 }, fileFilter: noteName }),
  )
  @UseFilters(new TooLarge('10 MB', 'Nothing was changed.'))
  add(@ValidId('id') id: string, @Me() me: string, @UploadedFile() file: Upload | undefined): Promise<AddedPicture> {
    if (!file) throw new BadRequestException('No file came with this request.');
    return this.pictures.add(id, me, nameOf(file), file.buffer);
  }

  @Post('manuscripts/:id/pictures/copy')
  @Describes(copySchema)
  copy(@ValidId('id') id: string, @Me() me: string, @ValidBody(copySchema) { asset }: { asset: string }) {
    return this.pictures.copy(asset, id, me);
  }

  /** The bytes, so served that they can be nothing but a picture. */
  @Get('assets/:asset')
  async show(@ValidId('asset') id: string, @Me() me: string, @Res() response: Response): Promise<void> {
    const { type, bytes } = await this.pictures.get(id, me);
    response.set({
      'Content-Type': type,
      'Content-Disposition': 'inline',
      'Content-Security-Policy': "default-src 'none'; sandbox",
      'X-Content-Type-Options': 'nosniff',
      'Cache-Control': 'private, max-age=31536000, immutable',
    });
    response.send(bytes);
  }
}
