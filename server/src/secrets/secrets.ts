import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import { nanoid } from 'nanoid';

/** Passwords, and what letters and links hold. What is kept of either is a hash; neither is ever logged. */

/** Argon2id with the least memory and turns that RFC 9106 and OWASP’s advice on storing passwords name. */
const effort = { memoryCost: 19 * 1024, timeCost: 2, parallelism: 1 };

/** As it is hashed: the same letters however they were typed (NIST SP 800-63B, 5.1.1.2). */
const asTyped = (secret: string) => secret.normalize('NFKC');

export const passwordHash = (secret: string): Promise<string> => hash(asTyped(secret), effort);

const nobodys = passwordHash(nanoid());

/** Whether a password is the one that was hashed; takes as long where there is none. */
export async function isPassword(secret: string, known: string | null | undefined): Promise<boolean> {
  const is = await verify(known ?? (await nobodys), asTyped(secret));
  return is && !!known;
}

/** The least and most letters of a password, and the most of a passphrase. */
export const shortest = 8;
export const longest = 200;

/** Why a password is none, in a sentence; null for one that will do. */
export function wrongWithPassword(password: string, ...obvious: (string | null)[]): string | null {
  const letters = asTyped(password);
  if ([...letters].length < shortest) return `A password has at least ${shortest} letters.`;
  if (new Set(letters).size < 4) return 'This password is one letter over and over. Please choose another.';
  if (obvious.some((one) => one && one.toLowerCase() === letters.toLowerCase()))
    return 'Your name or address is the first password that anybody would try. Please choose another.';
  return null;
}

/** What a letter or link holds: an id by which it is found, and 256 random bits. */
export interface Token {
  id: string;
  /** The whole, for the address. */
  token: string;
  hash: Buffer;
}

const hashOf = (secret: string) => createHash('sha256').update(secret).digest();

export function newToken(): Token {
  const id = nanoid(12);
  const secret = randomBytes(32).toString('base64url');
  return { id, token: `${id}.${secret}`, hash: hashOf(secret) };
}

/** The id in what came back. */
export const idIn = (token: string): string => token.slice(0, Math.max(0, token.indexOf('.')));

/** Whether what came back is what was sent; compared in constant time. */
export const isToken = (token: string, kept: Buffer): boolean =>
  timingSafeEqual(hashOf(token.slice(token.indexOf('.') + 1)), kept);
