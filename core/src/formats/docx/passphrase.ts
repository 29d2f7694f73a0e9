import { fromByteArray, toByteArray } from 'base64-js';
import type { HashName, Protection } from '../../manuscript/manuscript.js';

/**
 * Passphrases as WordprocessingML keeps them (ISO/IEC 29500-1, 17.15.1.29): salt and passphrase are hashed, and the hash
 * is hashed again as often as is said, each time with the number of the turn behind it.
 */

/** Hashes bytes. Whoever asks for one brings it: what computes fast enough differs from place to place. */
export type Digest = (algorithm: HashName, bytes: Uint8Array) => Uint8Array;

/** How often a hash may be hashed again at most, so that a file cannot keep anybody waiting. */
export const mostSpins = 1_000_000;

/** In UTF-16, the low byte first. */
function wide(text: string): Uint8Array {
  const bytes = new Uint8Array(2 * text.length);
  for (let i = 0; i < text.length; i++) {
    bytes[2 * i] = text.charCodeAt(i) & 0xff;
    bytes[2 * i + 1] = text.charCodeAt(i) >> 8;
  }
  return bytes;
}

function joined(first: Uint8Array, second: Uint8Array): Uint8Array {
  const all = new Uint8Array(first.length + second.length);
  all.set(first);
  all.set(second, first.length);
  return all;
}

function spun(secret: string, { algorithm, salt, spins }: Omit<Protection, 'hash'>, digest: Digest): Uint8Array {
  let hash = digest(algorithm, joined(toByteArray(salt), wide(secret)));
  const turn = new Uint8Array(hash.length + 4);
  const number = new DataView(turn.buffer, hash.length);
  for (let i = 0; i < spins; i++) {
    turn.set(hash);
    number.setUint32(0, i, true);
    hash = digest(algorithm, turn);
  }
  return hash;
}

/** Sixteen bits, turned once by the polynomial of ITU-T V.41. */
const feedback = 0x1021;
const turned = (bits: number) => ((bits << 1) & 0xffff) ^ (bits & 0x8000 ? feedback : 0);

/** Fifteen bits, each moved up by one. */
const rolled = (bits: number) => ((bits >> 14) & 1) | ((bits << 1) & 0x7fff);

/**
 * What files of the transitional class hash instead of the passphrase: 32 bits made of its first fifteen letters, written
 * as hexadecimal digits, the last byte first (ISO/IEC 29500-4, 14.8.1; from memory. That its two tables of numbers are
 * what the polynomial gives from its beginning on, bit after bit, is how they were checked).
 */
export function olderSecret(passphrase: string): string {
  const letters = [...passphrase.slice(0, 15)].map((letter) => {
    const code = letter.charCodeAt(0);
    return code & 0xff ? code & 0xff : code >> 8;
  });
  if (!letters.length) return '00000000';
  const backwards = letters.toReversed();
  let high = 0xffff;
  for (let turn = 0; turn < 8 * letters.length; turn++) high = turned(high);
  // Of the eight numbers that a letter has, its lower seven bits take the first seven.
  let number = feedback;
  for (const letter of backwards)
    for (let bit = 0; bit < 8; bit++) {
      if (bit < 7 && letter & (1 << bit)) high ^= number;
      number = turned(number);
    }
  const low = rolled(backwards.reduce((bits, letter) => rolled(bits) ^ letter, 0)) ^ letters.length ^ 0xce4b;
  const digits = [low & 0xff, low >> 8, high & 0xff, high >> 8];
  return digits.map((byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join('');
}

/**
 * Whether a passphrase is the one a file is protected with.
 * @param digest must know the algorithm that is named
 */
export function isPassphrase(passphrase: string, { hash, ...how }: Protection, digest: Digest): boolean {
  return [passphrase, olderSecret(passphrase)].some((secret) => fromByteArray(spun(secret, how, digest)) === hash);
}

/** The hash of a passphrase, to be put into files. */
export function protectionOf(passphrase: string, how: Omit<Protection, 'hash'>, digest: Digest): Protection {
  return { ...how, hash: fromByteArray(spun(passphrase, how, digest)) };
}
