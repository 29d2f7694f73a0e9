import { Catch, PayloadTooLargeException, type ArgumentsHost, type ExceptionFilter } from '@nestjs/common';
import type { Request, Response } from 'express';
import { asText } from '@tea-pencil/core';

/** Files that come with a request. */

/** What the upload middleware hands over. */
export interface Upload {
  originalname: string;
  buffer: Buffer;
}

interface NamedRequest extends Request {
  fileName?: string;
}

/** The name comes in the bytes of UTF-8, read as if they were Latin-1 (RFC 7578, section 5.1). */
export const nameOf = (file: { originalname: string }) =>
  asText(Buffer.from(file.originalname, 'latin1').toString('utf8'));

/** Only notes the name, for the answer to a file that turns out too large to be read at all. */
export const noteName = (
  request: NamedRequest,
  file: { originalname: string },
  go: (e: null, take: boolean) => void,
) => {
  request.fileName = nameOf(file);
  go(null, true);
};

/** A file that is too large, said in the same words as any other refusal. */
@Catch(PayloadTooLargeException)
export class TooLarge implements ExceptionFilter {
  constructor(
    private readonly largest: string,
    private readonly safe: string,
  ) {}

  catch(_: unknown, host: ArgumentsHost): void {
    const { fileName } = host.switchToHttp().getRequest<NamedRequest>();
    const message = `“${fileName ?? 'The file'}” is larger than ${this.largest}. ${this.safe}`;
    host.switchToHttp().getResponse<Response>().status(413).json({ statusCode: 413, message });
  }
}
