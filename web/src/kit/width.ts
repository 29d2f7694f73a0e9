import { useSyncExternalStore } from 'react';

/**
 * How much room a window has, in CSS pixels; a page at 200 % has half. What stands beside the sheet when it is wide goes
 * away in this order as it narrows: notes of the edit margin, readings and flow (behind one button), the talk margin (a
 * sheet from below), pages, post and oneself (behind the button), the spine. The style sheet `theme/narrow.css` has the
 * same borders.
 */
export type Width = 'phone' | 'narrow' | 'middle' | 'wide';

const borders: [Width, number][] = [
  ['wide', 1200],
  ['middle', 1000],
  ['narrow', 700],
];
const queries = borders.map(([width, least]) => [width, matchMedia(`(min-width: ${least}px)`)] as const);

const now = (): Width => queries.find(([, query]) => query.matches)?.[0] ?? 'phone';

function subscribe(listener: () => void): () => void {
  for (const [, query] of queries) query.addEventListener('change', listener);
  return () => {
    for (const [, query] of queries) query.removeEventListener('change', listener);
  };
}

export const useWidth = (): Width => useSyncExternalStore(subscribe, now);

/** Whether a window is at least so wide. */
export const isAtLeast = (width: Width, least: Exclude<Width, 'phone'>): boolean => {
  const order: Width[] = ['phone', 'narrow', 'middle', 'wide'];
  return order.indexOf(width) >= order.indexOf(least);
};
