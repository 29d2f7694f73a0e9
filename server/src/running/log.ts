import type { LoggerService } from '@nestjs/common';
import pino, { type Logger as Pino } from 'pino';

/**
 * What the server says of itself: a JSON object a line, to be rotated and searched by whoever runs it. It holds no text,
 * name or address: what a failure says of itself may quote a manuscript, so only its kind and where it came up are told.
 */

/** What may be told of a failure: its name, what PostgreSQL calls it, and where it came up. */
export function traceOf(problem: unknown): object {
  if (!(problem instanceof Error)) return { failure: typeof problem };
  const { driverError = problem } = problem as { driverError?: unknown };
  const { code, constraint, table } = driverError as Record<'code' | 'constraint' | 'table', string | undefined>;
  // The stack begins with the message, whose lines could look like places.
  const { stack = '', message } = problem;
  const places = stack.slice(stack.indexOf(message) + message.length);
  const frames = places.split('\n').filter((line) => /^\s+at /.test(line));
  return { failure: problem.name, code, constraint, table, at: frames.slice(0, 12).map((line) => line.trim()) };
}

/** Something that went wrong, with what may be told of it: for the loggers of the parts. */
export const wentWrong = (what: string, problem: unknown): object => ({ what, ...traceOf(problem) });

/** The lines of one process. */
export class Log implements LoggerService {
  readonly #out: Pino;

  /** @param level from which on something is said */
  constructor(level: string, out: pino.DestinationStream = pino.destination({ fd: 2, sync: true })) {
    this.#out = pino({ level, base: { process: process.pid }, timestamp: pino.stdTimeFunctions.isoTime }, out);
  }

  #say(level: 'fatal' | 'error' | 'warn' | 'info' | 'debug', message: unknown, more: readonly unknown[]): void {
    const part = more.findLast((one) => typeof one === 'string');
    const line =
      message instanceof Error ? traceOf(message) : typeof message === 'string' ? { what: message } : message;
    this.#out[level]({ part, ...(line as object) });
  }

  fatal = (message: unknown, ...more: unknown[]) => this.#say('fatal', message, more);
  error = (message: unknown, ...more: unknown[]) => this.#say('error', message, more);
  warn = (message: unknown, ...more: unknown[]) => this.#say('warn', message, more);
  log = (message: unknown, ...more: unknown[]) => this.#say('info', message, more);
  debug = (message: unknown, ...more: unknown[]) => this.#say('debug', message, more);
}
