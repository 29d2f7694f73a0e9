import type { NextFunction, Request, RequestHandler, Response } from 'express';
import type { Asker } from '../running/asker.js';

/** How many requests of one person are answered side by side, and how many more wait; a page asks six at once. */
const together = 6;
const waiting = 200;

const tooMany = 'Too many requests come from you just now. Nothing was changed; try again in a minute.';
const tooMuch = 'Very much has come from you in the last hour. Nothing was changed; try again when that has passed.';
const refuse = (response: Response, message = tooMany): void =>
  void response.status(429).set('Retry-After', '60').json({ statusCode: 429, message });

/** Says whether somebody may ask once more, and bring more. */
interface Rates {
  mayAsk(who: Asker): Promise<boolean>;
  mayBringMore(person: string): Promise<boolean>;
  bring(person: string, bytes: number): void;
}

const whoAsks = (request: Request): Asker => {
  const { session, ip } = request as Request & { session: { personId?: string } };
  return session.personId ? { person: session.personId } : { address: ip ?? '' };
};
const keyOf = (asker: Asker): string => JSON.stringify(asker);

/**
 * Of one person only so many requests are answered side by side, the others in their turn: however many come at once,
 * those of other people go in between.
 */
export function fewAtOnce(): RequestHandler {
  const lines = new Map<string, { under: number; line: (() => void)[] }>();
  return (request: Request, response: Response, next: NextFunction) => {
    const who = keyOf(whoAsks(request));
    const theirs = lines.get(who) ?? { under: 0, line: [] };
    lines.set(who, theirs);
    const begin = () => {
      theirs.under++;
      response.once('close', () => {
        theirs.under--;
        theirs.line.shift()?.();
        if (!theirs.under) lines.delete(who);
      });
      // Who has gone away meanwhile is not answered.
      if (response.destroyed) response.emit('close');
      else next();
    };
    if (theirs.under < together) begin();
    else if (theirs.line.length < waiting) theirs.line.push(begin);
    else refuse(response);
  };
}

/** So many requests a minute of one person, or of an address where nobody is signed in, whichever process is asked. */
export function notTooOften(limits: Rates): RequestHandler {
  return (request, response, next) => {
    limits.mayAsk(whoAsks(request)).then((may) => (may ? next() : refuse(response)), next);
  };
}

/** So many bytes an hour of one person that are to be kept. What only asks, and what takes away, always may. */
export function notTooMuch(limits: Pick<Rates, 'mayBringMore' | 'bring'>): RequestHandler {
  return (request, response, next) => {
    const who = whoAsks(request);
    if (!('person' in who) || !['POST', 'PUT', 'PATCH'].includes(request.method)) return next();
    const before = request.socket.bytesRead;
    const said = Number(request.headers['content-length']) || 0;
    // Without a length it is known when all has come.
    response.once('close', () => limits.bring(who.person, Math.max(said, request.socket.bytesRead - before)));
    limits.mayBringMore(who.person).then((may) => (may ? next() : refuse(response, tooMuch)), next);
  };
}
