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

/** What goes wrong again is said once in so long, in milliseconds, with how often it was: a house may be without its database for a night. */
const pause = 60_000;

/** The lines of one process. */
export class Log implements LoggerService {
  readonly #out: Pino;
  /** What went wrong lately, when that was said, and how often it has been since. */
  readonly #said = new Map<string, { at: number; again: number }>();

  /** @param level from which on something is said */
  constructor(level: string, out: pino.DestinationStream = pino.destination({ fd: 2, sync: true })) {
    this.#out = pino({ level, base: { process: process.pid }, timestamp: pino.stdTimeFunctions.isoTime }, out);
  }

  #say(level: 'fatal' | 'error' | 'warn' | 'info' | 'debug', message: unknown, more: readonly unknown[]): void {
    const part = more.findLast((one) => typeof one === 'string');
    const line =
      message instanceof Error ? traceOf(message) : typeof message === 'string' ? { what: message } : message;
    const again = this.#again(part, line as Record<string, unknown>);
    if (again !== null) this.#out[level]({ part, ...(line as object), ...(again && { again }) });
  }

  /** How often the same has gone wrong since it was last said; null where that was just now. */
  #again(part: unknown, { what, at, failure, code }: Record<string, unknown>): number | null {
    if (!what || !at) return 0; // a line of its own
    const key = JSON.stringify([part, what, failure, code]);
    const now = Date.now();
    const last = this.#said.get(key);
    if (last && now - last.at < pause) {
      last.again++;
      return null;
    }
    if (this.#said.size > 200) this.#said.clear();
    this.#said.set(key, { at: now, again: 0 });
    return last?.again ?? 0;
  }

  fatal = (message: unknown, ...more: unknown[]) => this.#say('fatal', message, more);
  error = (message: unknown, ...more: unknown[]) => this.#say('error', message, more);
  warn = (message: unknown, ...more: unknown[]) => this.#say('warn', message, more);
  log = (message: unknown, ...more: unknown[]) => this.#say('info', message, more);
  debug = (message: unknown, ...more: unknown[]) => this.#say('debug', message, more);
}
