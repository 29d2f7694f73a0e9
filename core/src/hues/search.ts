import {
  differenceCiede2000,
  displayable,
  filterDeficiencyDeuter,
  filterDeficiencyProt,
  filterDeficiencyTrit,
  formatHex,
  lab65,
  oklch,
  rgb,
  wcagContrast,
  type Lab65,
  type Rgb,
} from 'culori';
import type { Hue } from './table.js';

/**
 * The search for author hues: colours that can be read on the theme's grounds and told apart by everyone. It takes some
 * seconds, so its result is kept (table.ts) and `npm run hues` makes it anew.
 */

/** What the hues of a theme stand on and beside. */
export interface Ground {
  sheet: string;
  mist: string;
  ink: string;
  /** Lightness (OKLCH, 0 to 1) of the lines, least and greatest, and of the washes. */
  lightness: readonly [least: number, greatest: number];
  wash: number;
  /** The first hue, from which the others are told. */
  first: string;
}

/** Least contrast of text and of lines (WCAG 2.2, success criteria 1.4.3 and 1.4.11). */
export const leastContrast = { text: 4.5, line: 3 };
/** How far the hues of the first five are from one another at least, and any two; the others have a pattern besides. */
export const leastDistance = { ofFirst: 12, ofAny: 6.5 };
export const firstFew = 5;
/** Quiet, as inks on paper are (OKLCH). */
export const greatestChroma = 0.12;
/** Of what its family may have, the part it has at least: a hue is not taken for grey. */
const leastPart = 0.72;
/** The least distance from plain ink: enough not to be taken for it, and little enough that dark hues are left. */
const leastFromInk = 15;

/**
 * Which hues are whose, by what one calls them, as angles (OKLCH, degrees) from..to. None is a red that would look like
 * an error, and the green is a quiet one: what one person deletes and another inserts never looks like wrong and right.
 */
export const families: readonly [name: string, from: number, to: number, greatestChroma: number][] = [
  ['blue', 245, 268, greatestChroma],
  ['ochre', 68, 96, greatestChroma],
  ['green', 145, 172, 0.085],
  ['violet', 290, 316, greatestChroma],
  ['rose', 345, 366, greatestChroma],
  ['teal', 190, 222, 0.1],
  ['sepia', 40, 62, 0.075],
  ['plum', 322, 340, 0.09],
];

/** The distance of two colours (CIEDE2000; Sharma, Wu and Dalal 2005). */
export const distance: (a: string | Lab65, b: string | Lab65) => number = differenceCiede2000();

/** Eyes that see all colours, and those that lack one kind of cone (as culori simulates them, after Viénot et al. and Machado et al.). */
const eyes = [
  (colour: Rgb) => colour,
  filterDeficiencyProt(1),
  filterDeficiencyDeuter(1),
  filterDeficiencyTrit(1),
] as ((colour: Rgb) => Rgb)[];

/** A colour as each kind of eye sees it. */
export const seen = (colour: string): Lab65[] => eyes.map((eye) => lab65(eye(rgb(colour)!)));

/** How far two colours are apart for whom they are closest. */
export const apart = (a: readonly Lab65[], b: readonly Lab65[]): number =>
  Math.min(...a.map((colour, eye) => distance(colour, b[eye]!)));

/** The faint ground of inserted words that goes with a line. */
export function washOf(line: string, lightness: number): string {
  const { c, h } = oklch(line)!;
  return formatHex({ mode: 'oklch', l: lightness, c: Math.min(c, lightness > 0.5 ? 0.025 : 0.045), h: h ?? 0 });
}

/** Whether a colour can be a hue: text and lines in it can be read on every ground, and it is not taken for plain ink. */
export function isLegible(line: string, { sheet, mist, ink, wash }: Ground): boolean {
  const { text, line: least } = leastContrast;
  return (
    wcagContrast(line, sheet) >= text &&
    wcagContrast(line, washOf(line, wash)) >= text &&
    wcagContrast(line, mist) >= least &&
    distance(line, ink) >= leastFromInk
  );
}

interface Candidate {
  line: string;
  l: number;
  c: number;
  h: number;
  seen: readonly Lab65[];
}

/** Numbers from 0 to 1 that are the same at every run (Numerical Recipes, section 7.1: a linear congruential generator). */
function numbers(seed: number): () => number {
  let state = seed;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}

function candidate(place: number, l: number, c: number, h: number, ground: Ground): Candidate | null {
  const [least, greatest] = ground.lightness;
  const [, from, to, most] = families[place]!;
  const colour = { mode: 'oklch' as const, l, c, h };
  const within = c >= most * leastPart && c <= most && h >= from && h <= to && l >= least && l <= greatest;
  if (!within || !displayable(colour)) return null;
  const line = formatHex(colour);
  return isLegible(line, ground) ? { line, l, c, h, seen: seen(line) } : null;
}

/** What can take each place. */
function grid(ground: Ground): Candidate[][] {
  const [least, greatest] = ground.lightness;
  return families.map(([, from, to, most], place) => {
    const all: Candidate[] = [];
    for (let l = least; l <= greatest + 0.001; l += (greatest - least) / 8)
      for (const part of [leastPart, 0.86, 1])
        for (let k = 0; k <= 3; k++) {
          const one = candidate(place, Math.min(l, greatest), most * part, from + ((to - from) * k) / 3, ground);
          if (one) all.push(one);
        }
    return all;
  });
}

/** How far two places have to be apart. */
export const neededBetween = (a: number, b: number): number =>
  a < firstFew && b < firstFew ? leastDistance.ofFirst : leastDistance.ofAny;

/** How near the nearest of the others is to a colour that would take place `k`, in parts of what is needed. */
const nearest = (chosen: readonly Candidate[], k: number, one: Candidate): number =>
  Math.min(...chosen.map((other, i) => (i === k ? Infinity : apart(one.seen, other.seen) / neededBetween(i, k))));

/** Puts in each place the candidate that is farthest from the others, until no exchange helps. */
function exchange(chosen: Candidate[], all: readonly (readonly Candidate[])[]): void {
  for (let moved = true, round = 0; moved && round < 30; round++) {
    moved = false;
    for (let k = 1; k < chosen.length; k++) {
      let best = nearest(chosen, k, chosen[k]!);
      for (const one of all[k]!) {
        const far = nearest(chosen, k, one);
        if (far > best) [best, chosen[k], moved] = [far, one, true];
      }
    }
  }
}

const directions = [
  [1, 0, 0],
  [-1, 0, 0],
  [0, 1, 0],
  [0, -1, 0],
  [0, 0, 1],
  [0, 0, -1],
] as const;

/** Moves each colour by ever smaller steps away from the one nearest to it. */
function refine(chosen: Candidate[], ground: Ground): void {
  for (let step = 1; step > 0.05;) {
    let moved = false;
    for (let k = 1; k < chosen.length; k++) {
      const { l, c, h } = chosen[k]!;
      let best = nearest(chosen, k, chosen[k]!);
      for (const [dl, dc, dh] of directions) {
        const one = candidate(k, l + dl * 0.02 * step, c + dc * 0.02 * step, h + dh * 10 * step, ground);
        const far = one ? nearest(chosen, k, one) : 0;
        if (far > best) [best, chosen[k], moved] = [far, one!, true];
      }
    }
    if (!moved) step /= 2;
  }
}

/** How many sets are tried; that which is farthest apart is taken. */
const attempts = 40;

/**
 * Author hues for a theme, each of its family, apart from one another for every kind of eye.
 * @throws Error when none are found
 */
export function searchHues(ground: Ground): Hue[] {
  const all = grid(ground);
  const next = numbers(7);
  const { l, c, h = 0 } = oklch(ground.first)!;
  const first: Candidate = { line: ground.first, l, c, h, seen: seen(ground.first) };
  let best: { chosen: Candidate[]; least: number } | null = null;
  for (let attempt = 0; attempt < attempts; attempt++) {
    const chosen = all.map((some, place) => (place ? some[Math.floor(next() * some.length)]! : first));
    exchange(chosen, all);
    refine(chosen, ground);
    const least = Math.min(...chosen.map((one, k) => nearest(chosen, k, one)));
    if (!best || least > best.least) best = { chosen, least };
  }
  if (!best || best.least < 1)
    throw new Error(`No hues were found that everyone can tell apart; the best reach ${best?.least.toFixed(2)}.`);
  return best.chosen.map(({ line }) => ({
    line: line.toUpperCase(),
    wash: washOf(line, ground.wash).toUpperCase(),
  }));
}
