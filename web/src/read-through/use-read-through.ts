import { useCallback, useEffect, useMemo, useState } from 'react';
import { lastOf, type Change, type Verdict } from '@tea-pencil/core';
import type { LeftAt, Order } from '@tea-pencil/wire';

/** Changes in the order in which they are gone through. */
export function inOrder(changes: readonly Change[], order: Order, nameOf: (author: string) => string): Change[] {
  const by: Record<Order, ((change: Change) => string) | null> = {
    place: null,
    author: ({ author }) => nameOf(author),
    oldest: ({ date }) => date,
  };
  const key = by[order];
  if (!key) return [...changes];
  // Sorting keeps the order of the text among those that are alike in this (ECMA-262, Array.prototype.sort).
  return [...changes].sort((a, b) => (key(a) < key(b) ? -1 : key(a) > key(b) ? 1 : 0));
}

/** Where one is: at a change, and where in the order it stood, should it go. */
interface At {
  change: string | null;
  index: number;
}

/** A decision of this going through, and where it was made. */
interface Act {
  under: Promise<string | null>;
  /** Known once the server has made it. */
  decision: string | null;
  change: string;
  many: number;
}

interface Wanted {
  /** The changes of the lens that wait for a decision, in the order of the text. */
  changes: readonly Change[];
  left: LeftAt | null | undefined;
  /** Keeps where one is, for another day and machine. */
  onKeep(left: LeftAt): void;
  nameOf(author: string): string;
  /** Where the caret is. */
  caret(): number;
  /** @returns the act under which it can be taken back */
  onDecide(verdict: Verdict, ids: string[]): Promise<string | null>;
  /** @returns whether it was taken back */
  onTakeBack(decision: string): Promise<boolean>;
  /** Whether a decision of this window stands still. */
  stands(decision: string): boolean;
  say(sentence: string): void;
}

export interface ReadThrough {
  active: boolean;
  order: Order;
  /** The change one is at; null when none is left. */
  current: Change | null;
  /** Its number, and how many there are, those that have been decided in this going through included. */
  number: number;
  total: number;
  left: number;
  skipped: number;
  done: number;
  mayTakeBack: boolean;
  begin(): void;
  leave(): void;
  setOrder(order: Order): void;
  goTo(change: string): void;
  next(): void;
  previous(): void;
  skip(): void;
  decide(verdict: Verdict, ids?: string[]): void;
  takeBack(): void;
}

/** The same going through, of which every step first does something else. */
export const stepping = (through: ReadThrough, first: () => void): ReadThrough => ({
  ...through,
  next: () => (first(), through.next()),
  previous: () => (first(), through.previous()),
  skip: () => (first(), through.skip()),
  decide: (verdict, ids) => (first(), through.decide(verdict, ids)),
  takeBack: () => (first(), through.takeBack()),
});

const nothing: readonly Change[] = [];

/** Going from change to change and deciding each. It can be left, and taken up where it was. */
export function useReadThrough(wanted: Wanted): ReadThrough {
  const { changes, left, onKeep, nameOf, onDecide, onTakeBack, say } = wanted;
  const [active, setActive] = useState(false);
  const [order, setOrder] = useState<Order>('place');
  const [at, setAt] = useState<At>({ change: null, index: 0 });
  const [skipped, setSkipped] = useState<ReadonlySet<string>>(new Set());
  const [done, setDone] = useState(0);
  const [acts, setActs] = useState<readonly Act[]>([]);

  // What was undone by key meanwhile has not been done either.
  const standing = acts.filter(({ decision }) => decision === null || wanted.stands(decision));
  const undone = acts.reduce((n, { many }) => n + many, 0) - standing.reduce((n, { many }) => n + many, 0);

  const sorted = useMemo(() => (active ? inOrder(changes, order, nameOf) : nothing), [active, changes, order, nameOf]);
  const found = sorted.findIndex(({ id }) => id === at.change);
  // What others decide above it moves its place up.
  if (found >= 0 && found !== at.index) setAt({ ...at, index: found });
  // One that has gone meanwhile, by whoever's decision, leaves its place to the one after it.
  const index = found >= 0 ? found : Math.max(0, Math.min(at.index, sorted.length - 1));
  const current = sorted[index] ?? null;
  const stillSkipped = useMemo(() => sorted.filter(({ id }) => skipped.has(id)).length, [sorted, skipped]);

  const begin = () => {
    const resumed = !active && left ? left : null;
    const sequence = inOrder(changes, resumed?.order ?? order, nameOf);
    const from = resumed ? resumed.at : wanted.caret();
    const known = sequence.findIndex(({ id }) => id === resumed?.change);
    const after = sequence.findIndex(({ ranges }) => lastOf(ranges).to >= from);
    const start = known >= 0 ? known : Math.max(0, after);
    if (resumed) {
      setOrder(resumed.order);
      setSkipped(new Set(resumed.skipped));
      // Where nothing is left of what was being gone through, it is a new beginning.
      const goesOn = known >= 0 || sequence.some(({ id }) => resumed.skipped.includes(id));
      setDone(goesOn ? resumed.done : 0);
    }
    setAt({ change: sequence[start]?.id ?? null, index: start });
    setActive(true);
  };

  /** On to the change at an index; behind the last one it goes on from the top, with a word. */
  const onward = (to: number, sequence: readonly Change[], skippedNow: ReadonlySet<string>) => {
    if (!sequence.length) return setAt({ change: null, index: 0 });
    if (to >= sequence.length) {
      const waiting = sequence.filter(({ id }) => skippedNow.has(id)).length;
      say(waiting ? `From the top: ${waiting} were skipped.` : 'From the top again.');
      to = 0;
    } else if (to < 0) to = sequence.length - 1;
    setAt({ change: sequence[to]!.id, index: to });
  };

  const next = () => onward(index + 1, sorted, skipped);
  const previous = () => onward(index - 1, sorted, skipped);
  const skip = () => {
    if (!current) return;
    const more = new Set(skipped).add(current.id);
    setSkipped(more);
    onward(index + 1, sorted, more);
  };
  const decide = (verdict: Verdict, ids = current ? [current.id] : []) => {
    if (!current || !ids.length) return;
    const gone = new Set(ids);
    const rest = sorted.filter(({ id }) => !gone.has(id));
    const before = sorted.slice(0, index).filter(({ id }) => !gone.has(id)).length;
    const under = onDecide(verdict, ids);
    const act: Act = { under, decision: null, change: current.id, many: ids.length };
    setActs((all) => [...all, act]);
    void under.then((decision) => {
      // What was refused has not been done.
      if (!decision) setDone((n) => Math.max(0, n - ids.length));
      setActs((all) => all.flatMap((one) => (one.under !== under ? one : decision ? { ...one, decision } : [])));
    });
    setDone(done + ids.length);
    onward(before, rest, skipped);
  };
  const takeBack = () => {
    const act = standing.at(-1);
    if (!act) return;
    setActs(standing.slice(0, -1));
    setDone((n) => Math.max(0, n - undone - act.many));
    void act.under.then(async (decision) => {
      if (!decision) return;
      if (await onTakeBack(decision)) return setAt((now) => ({ change: act.change, index: now.index }));
      setActs((all) => [...all, { ...act, decision }]);
      setDone((n) => n + act.many);
    });
  };
  const leave = useCallback(() => setActive(false), []);
  const goTo = (change: string) =>
    setAt({
      change,
      index: Math.max(
        0,
        sorted.findIndex(({ id }) => id === change),
      ),
    });

  useEffect(() => {
    if (!active) return;
    const place = current?.ranges[0]?.from ?? 0;
    onKeep({ order, change: current?.id ?? null, at: place, skipped: [...skipped].slice(-20_000), done });
    // Where the change stands moves with every letter that others write; that alone is not worth keeping.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [active, order, current?.id, skipped, done, onKeep]);

  return {
    active,
    order,
    current,
    number: sorted.length ? done - undone + index + 1 : done - undone,
    total: done - undone + sorted.length,
    left: sorted.length,
    skipped: stillSkipped,
    done: done - undone,
    mayTakeBack: standing.length > 0,
    begin,
    leave,
    setOrder: (to) => setOrder(to),
    goTo,
    next,
    previous,
    skip,
    decide,
    takeBack,
  };
}
