import type { IncomingMessage } from 'node:http';
import connectPgSimple from 'connect-pg-simple';
import type { NextFunction, Request, Response } from 'express';
import session from 'express-session';
import { poolOf } from '../database/pool.js';

declare module 'express-session' {
  interface SessionData {
    personId: string;
    /** Which browser, and since when. ISO 8601. */
    browser: string;
    begunAt: string;
    /** What a sign-in with a work account must come back with. */
    work: { verifier: string; state: string; nonce: string; to: string };
  }
}

/** How long a session lasts that nobody uses, in milliseconds. */
export const fortnight = 14 * 24 * 3600 * 1000;

/**
 * Sessions in PostgreSQL, named by an httpOnly cookie; used by requests and by live connections alike.
 * @param secure whether the pages are behind TLS: then the cookie goes over nothing else
 */
export function sessions(databaseUrl: string, secret: string, secure: boolean) {
  const Store = connectPgSimple(session);
  const pool = poolOf(databaseUrl, 4);
  return session({
    name: 'tea-pencil',
    store: new Store({ pool, tableName: 'sessions', createTableIfMissing: false, errorLog: () => undefined }),
    secret,
    resave: false,
    saveUninitialized: false,
    rolling: true,
    ...(secure && { proxy: true }),
    cookie: { httpOnly: true, sameSite: 'lax', maxAge: fortnight, secure },
  });
}

/** Whether a request comes from a page of this server, or from no page at all. */
export function fromOwnPage(request: IncomingMessage): boolean {
  const { origin, host } = request.headers;
  if (!origin) return true;
  try {
    return new URL(origin).host === host;
  } catch {
    return false;
  }
}

/** Refuses whatever another site's page sends in a visitor's name. */
export function sameOrigin(request: Request, response: Response, next: NextFunction): void {
  if (fromOwnPage(request)) next();
  else response.status(403).json({ statusCode: 403, message: 'This request came from another site.' });
}

/** What is answered is for whoever asked, now; a route whose answers may be kept says so itself (RFC 9111, 5.2.2.5). */
export function noStore(_: Request, response: Response, next: NextFunction): void {
  response.set('Cache-Control', 'no-store');
  next();
}
