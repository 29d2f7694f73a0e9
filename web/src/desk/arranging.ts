import type { DeskLine } from '@tea-pencil/wire';

/** How a desk is arranged: which manuscripts are shown, and in what order. */

export type Order = 'waits' | 'touched' | 'title';
export const orders: [order: Order, words: string][] = [
  ['waits', 'what waits for me first'],
  ['touched', 'last touched first'],
  ['title', 'by title'],
];

export interface Arrangement {
  order: Order;
  /** Only those with this label; null for all. */
  label: string | null;
  /** What was put away, instead of what lies on the desk. */
  archived: boolean;
}
export const usual: Arrangement = { order: 'waits', label: null, archived: false };

const decides = ({ role, sealed }: DeskLine) => !sealed && (role === 'decider' || role === 'keeper');

/** How many answers somebody owes in a manuscript. */
export const owedBy = ({ owed }: DeskLine, me: string): number =>
  owed.find(({ person }) => person === me)?.answers ?? 0;

/** What waits for somebody in a manuscript: answers before changes to decide, each the more the sooner. */
function waiting(line: DeskLine, me: string): [answers: number, changes: number] {
  return [owedBy(line, me), decides(line) ? line.pending : 0];
}

const byTitle = new Intl.Collator(undefined, { numeric: true, sensitivity: 'base' });

/** Of two lines the one that comes first; negative where it is the first. */
function compare(a: DeskLine, b: DeskLine, order: Order, me: string): number {
  if (order === 'title') return byTitle.compare(a.title, b.title);
  if (order === 'waits') {
    const [mine, others] = [waiting(a, me), waiting(b, me)];
    // Whoever owes an answer is waited for by somebody; what waits to be decided comes after that, then the rest.
    if (mine[0] !== others[0]) return others[0] - mine[0];
    if (!!mine[1] !== !!others[1]) return mine[1] ? -1 : 1;
  }
  return b.touchedAt < a.touchedAt ? -1 : b.touchedAt > a.touchedAt ? 1 : byTitle.compare(a.title, b.title);
}

/**
 * The lines that are shown, in their order.
 * @param found only these, in the order in which they were found; null where nothing is looked for
 */
export function arranged(
  lines: readonly DeskLine[],
  { order, label, archived }: Arrangement,
  me: string,
  found: readonly string[] | null = null,
): DeskLine[] {
  if (found) {
    const place = new Map(found.map((id, i) => [id, i]));
    return lines.filter(({ id }) => place.has(id)).sort((a, b) => place.get(a.id)! - place.get(b.id)!);
  }
  return lines
    .filter((line) => line.archived === archived && (label === null || line.labels.includes(label)))
    .sort((a, b) => compare(a, b, order, me));
}

/** All labels on a desk, in their order, with how many manuscripts bear them. */
export function labelsOf(lines: readonly DeskLine[]): [label: string, howMany: number][] {
  const count = new Map<string, number>();
  for (const { labels, archived } of lines)
    if (!archived) for (const label of labels) count.set(label, (count.get(label) ?? 0) + 1);
  return [...count].sort(([a], [b]) => byTitle.compare(a, b));
}
