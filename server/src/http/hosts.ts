import { isIP } from 'node:net';
import type { IncomingMessage } from 'node:http';
import type { RequestHandler } from 'express';
import type { Environment } from '../settings/settings.js';

/**
 * The names this server is asked under. Under another name that leads here, a page of some other site could read what
 * this one answers (DNS rebinding); an address of numbers is no name.
 */
export function ownHosts({ TEA_PENCIL_HOST: host, TEA_PENCIL_URL: url }: Environment) {
  const names = new Set(['localhost', host.toLowerCase()]);
  if (url) names.add(new URL(url).hostname);
  return ({ headers }: Pick<IncomingMessage, 'headers'>): boolean => {
    if (headers.host === undefined) return false;
    try {
      const { hostname } = new URL(`http://${headers.host}`);
      return names.has(hostname) || isIP(hostname.replace(/^\[|\]$/g, '')) > 0;
    } catch {
      return false;
    }
  };
}

/** Answers under those names only (RFC 9110, section 15.5.20). */
export function underOwnNames(isOwn: ReturnType<typeof ownHosts>): RequestHandler {
  const message = 'This server is not known under that name. Whoever runs it can set TEA_PENCIL_URL to its address.';
  return (request, response, next) => {
    if (isOwn(request)) next();
    else response.status(421).json({ statusCode: 421, message });
  };
}
