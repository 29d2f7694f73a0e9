import {
  Catch,
  HttpException,
  HttpStatus,
  Injectable,
  PayloadTooLargeException,
  type ArgumentsHost,
  type CallHandler,
  type ExceptionFilter,
  type ExecutionContext,
  type NestInterceptor,
} from '@nestjs/common';
import type { Request, Response } from 'express';
import { finalize, type Observable } from 'rxjs';
import { asText } from '@tea-pencil/core';

/** Files that come with a request. */

/** What the upload middleware hands over. */
export interface Upload {
  originalname: string;
  buffer: Buffer;
}

interface NamedRequest extends Request {
  personId?: string;
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

/** How many uploads are taken at once, of one person and of all: each is held in memory. */
const ofOne = 4;
const ofAll = 20;

/** Takes only so many uploads at once; what is not taken is not read at all. */
@Injectable()
export class FewUploads implements NestInterceptor {
  readonly #under = new Map<string, number>();

  intercept(context: ExecutionContext, next: CallHandler): Observable<unknown> {
    const { personId = '' } = context.switchToHttp().getRequest<NamedRequest>();
    const theirs = this.#under.get(personId) ?? 0;
    const all = [...this.#under.values()].reduce((sum, n) => sum + n, 0);
    if (theirs >= ofOne || all >= ofAll)
      throw new HttpException(
        'Too many files are on their way just now. Try again when they are done.',
        HttpStatus.TOO_MANY_REQUESTS,
      );
    this.#under.set(personId, theirs + 1);
    return next.handle().pipe(finalize(() => this.#leave(personId)));
  }

  #leave(person: string): void {
    const left = (this.#under.get(person) ?? 1) - 1;
    if (left) this.#under.set(person, left);
    else this.#under.delete(person);
  }
}

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
