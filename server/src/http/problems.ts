import { randomUUID } from 'node:crypto';
import { Catch, HttpException, Logger, type ArgumentsHost, type ExceptionFilter } from '@nestjs/common';
import { BaseWsExceptionFilter } from '@nestjs/websockets';
import type { ErrorRequestHandler, NextFunction, Request, RequestHandler, Response } from 'express';
import { QueryFailedError } from 'typeorm';
import { isAway } from '../database/violations.js';
import { traceOf } from '../running/log.js';

/** Every request is answered with a sentence, whatever went wrong. */

interface Answer {
  status: number;
  message: string;
}
const later = 'The database does not answer just now. Nothing was changed; try again in a moment.';
const notUnderstood = 'This request cannot be understood';

/** What a request may be that never reached a route of ours, as its parsers name it. */
const unread: Record<string, Answer> = {
  'entity.parse.failed': { status: 400, message: `${notUnderstood}: what it brings is no JSON.` },
  'entity.verify.failed': { status: 400, message: `${notUnderstood}.` },
  'request.size.invalid': { status: 400, message: `${notUnderstood}: it is not as long as it says.` },
  'entity.too.large': { status: 413, message: 'This is too large: a request may bring 1 MB.' },
  'encoding.unsupported': { status: 415, message: `${notUnderstood}: its encoding is not known here.` },
  'charset.unsupported': { status: 415, message: `${notUnderstood}: its character set is not known here.` },
};

/** What PostgreSQL says, by the class of its SQLSTATE (PostgreSQL documentation, appendix A). */
function ofDatabase(code: string): Answer | null {
  if (code === '23505') return { status: 409, message: 'This is there already. Nothing was changed.' };
  if (code === '23503') return { status: 409, message: 'Something this belongs to is not there any more.' };
  if (/^2[23]/.test(code)) return { status: 400, message: `${notUnderstood}: something in it is out of range.` };
  return null;
}

function answerTo(problem: unknown): Answer | null {
  if (problem instanceof HttpException) {
    const status = problem.getStatus();
    // The framework's own words, where an address leads nowhere or cannot be decoded.
    if (/^Cannot [A-Z]+ /.test(problem.message)) return { status, message: 'There is nothing at this address.' };
    if (/^Failed to decode param /.test(problem.message)) return { status, message: 'This address cannot be read.' };
    return { status, message: problem.message };
  }
  if (isAway(problem)) return { status: 503, message: later };
  const { type, status } = problem as { type: string; status?: number };
  if (problem instanceof QueryFailedError) {
    const { code: state } = problem.driverError as { code?: string };
    return state ? ofDatabase(state) : null;
  }
  if (unread[type]) return unread[type];
  if (status !== undefined && status >= 400 && status < 500) return { status, message: `${notUnderstood}.` };
  return null;
}

const logger = new Logger('Requests');

/** What the log says of a request: no address as it was asked, which may hold a name. */
const asked = ({ method, route }: Request, { locals }: Response) => ({
  request: String(locals.number),
  method,
  route: (route as { path?: string } | undefined)?.path,
});

@Catch()
export class Problems implements ExceptionFilter {
  catch(problem: unknown, host: ArgumentsHost): void {
    if (host.getType() !== 'http') return new BaseWsExceptionFilter().catch(problem, host);
    const http = host.switchToHttp();
    const response = http.getResponse<Response>();
    if (response.locals.tooLate && (problem as { code?: string } | null)?.code === 'ERR_HTTP_HEADERS_SENT') return;
    const number = String(response.locals.number);
    const { status, message } = answerTo(problem) ?? {
      status: 500,
      message: `This could not be done, and nothing was changed. If it stays so, tell whoever runs this place: ${number}`,
    };
    if (status >= 500 || problem instanceof QueryFailedError) {
      const line = { ...asked(http.getRequest<Request>(), response), status, ...traceOf(problem) };
      if (status === 500) logger.error(line);
      else logger.warn(line);
    }
    if (response.headersSent) response.destroy();
    else response.status(status).json({ statusCode: status, message });
  }
}

/** Answers where what a request brings cannot be read, before it reaches a route. */
export const unreadable: ErrorRequestHandler = (problem: unknown, _, response, next) => {
  const answer = answerTo(problem);
  if (!answer || response.headersSent) return next(problem);
  response.status(answer.status).json({ statusCode: answer.status, message: answer.message });
};

/** Gives each request a number, under which the log speaks of it. */
export function numbered(_: Request, response: Response, next: NextFunction): void {
  response.locals.number = randomUUID();
  response.set('X-Request-Id', response.locals.number as string);
  next();
}

/**
 * A request that is not answered in time is answered with a sentence; what it began goes on. Nobody is left waiting
 * without end. Longer than any act may take: reading a file has two minutes.
 * @param deadline in seconds
 */
export const within =
  (deadline: number): RequestHandler =>
  (request, response, next) => {
    const late = setTimeout(() => {
      if (response.headersSent) return;
      // What it comes to in the end cannot be sent any more, and is no failure.
      response.locals.tooLate = true;
      logger.warn({ ...asked(request, response), what: 'not answered in time' });
      response.status(503).json({
        statusCode: 503,
        message: 'This takes too long. It may still be done: look before you try once more.',
      });
    }, deadline * 1000).unref();
    response.once('close', () => clearTimeout(late));
    next();
  };
