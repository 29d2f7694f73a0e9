import { createHash, randomBytes } from 'node:crypto';
import { isPassphrase, protectionOf, type Digest, type Protection } from '@tea-pencil/core';

/** The hashes that files carry, computed in a thread of its own: so many turns take longer than others should wait. */

/** How often ours is hashed again; as often as such files usually say (common practice, no published source). */
const spins = 100_000;

const digest: Digest = (algorithm, bytes) =>
  createHash(algorithm.toLowerCase().replace('-', '')).update(bytes).digest();

export const protect = (passphrase: string): Protection =>
  protectionOf(passphrase, { algorithm: 'SHA-512', salt: randomBytes(16).toString('base64'), spins }, digest);

export interface PassphraseToCheck {
  passphrase: string;
  protection: Protection;
}

export const isProtectedWith = ({ passphrase, protection }: PassphraseToCheck): boolean =>
  isPassphrase(passphrase, protection, digest);
