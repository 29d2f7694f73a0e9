import type { Response } from 'express';

/** Told when somebody goes away before the answer: they have stopped it. */
export function goneAway(response: Response): AbortSignal {
  const stop = new AbortController();
  response.once('close', () => response.writableEnded || stop.abort());
  return stop.signal;
}
