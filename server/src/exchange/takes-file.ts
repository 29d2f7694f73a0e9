import { applyDecorators, UseFilters, UseInterceptors } from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { ApiBody, ApiConsumes } from '@nestjs/swagger';
import { largestFile } from '@tea-pencil/core';
import { FewUploads, noteName, TooLarge } from '../http/upload.js';
import { taken } from './exchange.service.js';

/** A route that takes one file of a text, under `file`. */
export const TakesFile = () =>
  applyDecorators(
    ApiConsumes('multipart/form-data'),
    ApiBody({ schema: { type: 'object', properties: { file: { type: 'string', format: 'binary' } } } }),
    UseInterceptors(
      FewUploads,
      FileInterceptor('file', { limits: { fileSize: largestFile, files: 1 }, fileFilter: noteName }),
    ),
    UseFilters(new TooLarge('50 MB', taken)),
  );
