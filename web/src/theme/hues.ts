import { authorHues, changeKinds, type ChangeKind, type Hue } from '@tea-pencil/core';
import type { Mode } from './theme';

/** How many hues people can have. */
export const howManyHues = authorHues.light.length;

export const hueOf = (index: number, mode: Mode): Hue => authorHues[mode][index % howManyHues]!;

/** What a viewer has chosen for their own eyes: other hues for some people, or hues that say the kind. */
export interface OwnHues {
  says: 'who' | 'kind';
  /** By person. */
  people: Readonly<Record<string, number>>;
}

export const everyonesHues: OwnHues = { says: 'who', people: {} };

/** The hue of each kind, where hues say the kind. */
const hueOfKind: Record<ChangeKind, number> = {
  insertion: 0,
  deletion: 1,
  replacement: 5,
  move: 4,
  formatting: 3,
  paragraph: 6,
  table: 7,
};
export const kindHue = (kind: ChangeKind, mode: Mode): Hue => hueOf(hueOfKind[kind], mode);

/** From the sixth person on a pattern of the rule helps the hue: under inserted words, and through deleted ones. */
const patterns: readonly string[] = [
  '--under: var(--under-double); --through: double;',
  '--under: none; --dots: var(--under-dotted); --through: dotted;',
  '--under: none; --dots: var(--under-broken); --through: wavy;',
];
const firstFew = 5;
const patternOf = (index: number): string => patterns[(index % howManyHues) - firstFew] ?? '';

const variables = ({ line, wash }: Hue, pattern = '') => `{ --line: ${line}; --wash: ${wash}; ${pattern}}`;

/** The elements of the sheet by the kind they show of a change. */
const kindMarks: [selector: string, kind: ChangeKind][] = [
  ['.insertion, .block-insertion, .break-sign.inserted, .notch', 'insertion'],
  ['.deletion, .block-deletion, .break-sign.deleted', 'deletion'],
  ['.formatting', 'formatting'],
  ['.restyled', 'paragraph'],
];

/** A style sheet that gives everything marked as a person's the person's hue; or what shows a kind the hue of the kind. */
export function hueSheet(people: readonly { id: string; hue: number }[], mode: Mode, own = everyonesHues): string {
  const ofPeople = people.map(
    ({ id, hue }) =>
      `[data-author="${id}"] ${variables(hueOf(own.people[id] ?? hue, mode), patternOf(own.people[id] ?? hue))}`,
  );
  if (own.says === 'who') return ofPeople.join('\n');
  const marks = kindMarks.map(([of, kind]) => `.sheet :is(${of})[data-author] ${variables(kindHue(kind, mode))}`);
  const told = changeKinds.map((kind) => `[data-kind="${kind}"][data-author] ${variables(kindHue(kind, mode))}`);
  return [...ofPeople, ...marks, ...told].join('\n');
}
