import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { NextFunction, Request, RequestHandler, Response } from 'express';
import helmet from 'helmet';

/** What a page of ours may load and run: its own files, and styles that bear the number of this very answer. */

const nonceOf = (_: IncomingMessage, response: ServerResponse): string =>
  `'nonce-${(response as Response).locals.nonce as string}'`;

type Styles = ("'unsafe-inline'" | typeof nonceOf)[];
const policy = (styles: Styles, secure: boolean): RequestHandler =>
  helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'"],
        styleSrc: ["'self'", ...styles],
        imgSrc: ["'self'", 'data:', 'blob:'],
        connectSrc: ["'self'"],
        objectSrc: ["'none'"],
        frameAncestors: ["'none'"],
        formAction: ["'self'"],
        baseUri: ["'self'"],
      },
    },
    // Only behind TLS; without it the header means nothing (RFC 6797, section 7.2).
    strictTransportSecurity: secure && { maxAge: 180 * 24 * 3600, includeSubDomains: false },
  });

/**
 * Sets the headers that keep foreign content from running.
 * @param secure whether the pages are behind TLS
 */
export function contentPolicy(secure: boolean): RequestHandler {
  const own = policy([nonceOf], secure);
  // The pages that document the interface bring styles of their own in their markup.
  const documentation = policy(["'unsafe-inline'"], secure);
  return (request: Request, response: Response, next: NextFunction) => {
    response.locals.nonce = randomBytes(16).toString('base64');
    (request.path.startsWith('/api/docs') ? documentation : own)(request, response, next);
  };
}

/** Answers every address that is a screen of the app with its page. */
export function screens(file: string): RequestHandler {
  const page = readFileSync(file, 'utf8');
  return (request, response, next) => {
    if (request.method !== 'GET' || request.path.startsWith('/api')) return next();
    const html = page.replaceAll('NONCE-OF-THIS-ANSWER', response.locals.nonce as string);
    response.set('Cache-Control', 'no-store').type('html').send(html);
  };
}
