import { changeKinds, type ChangeKind, type Chosen, type Fate, type Remaining } from '@tea-pencil/core';

/** What somebody has chosen to become of what is pending, until it is done. */

/** By what it is brought together. */
export type By = 'kind' | 'person';

/** Which fate each group has, by `groupKey`. The others stay pending: nothing is decided that nobody has chosen. */
export type Fates = ReadonlyMap<string, Fate>;

/** A line of what remains: a kind, or a person, with what it is made of. */
export interface FateLine {
  key: string;
  kind: ChangeKind | null;
  person: string | null;
  many: number;
  groups: readonly Remaining[];
}

export const groupKey = ({ author, kind }: Pick<Remaining, 'author' | 'kind'>): string => `${kind} ${author}`;

/** What remains, as lines: of each kind, whoever made them, or of each person, of whatever kind. */
export function linesOf(remaining: readonly Remaining[], by: By, is: (author: string) => string): FateLine[] {
  const lines = new Map<string, Remaining[]>();
  for (const group of remaining) {
    const key = by === 'kind' ? group.kind : is(group.author);
    lines.set(key, [...(lines.get(key) ?? []), group]);
  }
  const all = [...lines].map(([key, groups]) => ({
    key,
    kind: by === 'kind' ? groups[0]!.kind : null,
    person: by === 'person' ? key : null,
    many: groups.reduce((n, { many }) => n + many, 0),
    groups,
  }));
  return by === 'kind'
    ? all.sort((a, b) => changeKinds.indexOf(a.kind!) - changeKinds.indexOf(b.kind!))
    : all.sort((a, b) => b.many - a.many);
}

export const fateOf = (fates: Fates, group: Remaining): Fate => fates.get(groupKey(group)) ?? 'keep';

/** The one fate of a line; null where its parts have several. */
export function fateOfLine(fates: Fates, { groups }: FateLine): Fate | null {
  const first = fateOf(fates, groups[0]!);
  return groups.every((group) => fateOf(fates, group) === first) ? first : null;
}

export const withFate = (fates: Fates, groups: readonly Remaining[], fate: Fate): Fates =>
  new Map([...fates, ...groups.map((group): [string, Fate] => [groupKey(group), fate])]);

export const chosenOf = (remaining: readonly Remaining[], fates: Fates): Chosen[] =>
  remaining.map((group) => ({ ...group, fate: fateOf(fates, group) }));

/** How many changes have each fate. */
export function countFates(chosen: readonly Chosen[]): Record<Fate, number> {
  const counts: Record<Fate, number> = { accept: 0, reject: 0, keep: 0 };
  for (const { fate, many } of chosen) counts[fate] += many;
  return counts;
}
