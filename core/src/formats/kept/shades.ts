import type { wordColours } from '../../manuscript/values.js';

/** Shades on white paper of the colours that go by name (sRGB, RRGGBB). */
export const shades: Readonly<Record<(typeof wordColours)[number], string>> = {
  tea: '83500f',
  plum: '5b2546',
  sea: '1f5c7a',
  moss: '4b5d16',
  grey: '5f6068',
};
