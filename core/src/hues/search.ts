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

/** Least contrast of text and of lines (WCAG 2.2, success criteria 1.4.3 and 1.4.11), and least distance of two hues. */
export const leastContrast = { text: 4.5, line: 3 };
export const leastDistance = 15;
/** The least distance from plain ink: enough not to be taken for it, and little enough that dark hues are left. */
const leastFromInk = 13;

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

const leastChroma = 0.04;

function candidate(l: number, c: number, h: number, ground: Ground): Candidate | null {
  const [least, greatest] = ground.lightness;
  const colour = { mode: 'oklch' as const, l, c, h };
  if (c < leastChroma || l < least || l > greatest || !displayable(colour)) return null;
  const line = formatHex(colour);
  return isLegible(line, ground) ? { line, l, c, h, seen: seen(line) } : null;
}

function grid(ground: Ground): Candidate[] {
  const all: Candidate[] = [];
  const [least, greatest] = ground.lightness;
  for (let l = least; l <= greatest; l += (greatest - least) / 4)
    for (const c of [0.05, 0.09, 0.14, 0.19])
      for (let h = 0; h < 360; h += 20) {
        const one = candidate(l, c, h, ground);
        if (one) all.push(one);
      }
  return all;
}

/** How near the nearest of the others is to a colour that would take place `k`. */
const nearest = (chosen: readonly Candidate[], k: number, one: Candidate): number =>
  Math.min(...chosen.map((other, i) => (i === k ? Infinity : apart(one.seen, other.seen))));

/** Puts in each place the candidate that is farthest from the others, until no exchange helps. */
function exchange(chosen: Candidate[], all: readonly Candidate[]): void {
  for (let moved = true, round = 0; moved && round < 30; round++) {
    moved = false;
    for (let k = 1; k < chosen.length; k++) {
      let best = nearest(chosen, k, chosen[k]!);
      for (const one of all) {
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
        const one = candidate(l + dl * 0.02 * step, c + dc * 0.02 * step, h + dh * 10 * step, ground);
        const far = one ? nearest(chosen, k, one) : 0;
        if (far > best) [best, chosen[k], moved] = [far, one!, true];
      }
    }
    if (!moved) step /= 2;
  }
}

/** The colours in an order in which each is as far as can be from those before it. */
function spread(chosen: readonly Candidate[]): Candidate[] {
  const [first, ...left] = chosen;
  const ordered = [first!];
  while (left.length) {
    const far = left.map((one) => Math.min(...ordered.map((other) => apart(one.seen, other.seen))));
    ordered.push(...left.splice(far.indexOf(Math.max(...far)), 1));
  }
  return ordered;
}

/** How many sets are tried; of those that can be told apart the most colourful is taken. */
const attempts = 60;

/**
 * Author hues for a theme, each at least `leastDistance` from every other for every kind of eye.
 * @param howMany of them, the first being the ground's
 * @throws Error when none are found
 */
export function searchHues(ground: Ground, howMany: number): Hue[] {
  const all = grid(ground);
  const next = numbers(7);
  const { l, c, h = 0 } = oklch(ground.first)!;
  const first: Candidate = { line: ground.first, l, c, h, seen: seen(ground.first) };
  let best: { chosen: Candidate[]; colour: number } | null = null;
  for (let attempt = 0; attempt < attempts; attempt++) {
    const chosen = [first];
    while (chosen.length < howMany) chosen.push(all[Math.floor(next() * all.length)]!);
    exchange(chosen, all);
    refine(chosen, ground);
    const least = Math.min(...chosen.map((one, k) => nearest(chosen, k, one)));
    const colour = chosen.reduce((sum, { c: chroma }) => sum + chroma, 0);
    if (least >= leastDistance && (!best || colour > best.colour)) best = { chosen, colour };
  }
  if (!best) throw new Error('No hues were found that everyone can tell apart.');
  return spread(best.chosen).map(({ line }) => ({
    line: line.toUpperCase(),
    wash: washOf(line, ground.wash).toUpperCase(),
  }));
}

/** The hues of one theme in the order that keeps each person's as alike as can be to theirs in the other theme. */
export function inOrderOf(model: readonly Hue[], hues: readonly Hue[]): Hue[] {
  const hue = ({ line }: Hue) => oklch(line)!.h ?? 0;
  const turn = (a: number, b: number) => Math.min(Math.abs(a - b), 360 - Math.abs(a - b));
  let best: { order: readonly Hue[]; cost: number } = { order: hues, cost: Infinity };
  const visit = (order: readonly Hue[], left: readonly Hue[], cost: number) => {
    if (cost >= best.cost) return;
    if (!left.length) return void (best = { order, cost });
    for (const one of left)
      visit(
        [...order, one],
        left.filter((other) => other !== one),
        cost + turn(hue(one), hue(model[order.length]!)),
      );
  };
  visit([hues[0]!], hues.slice(1), 0);
  return [...best.order];
}
