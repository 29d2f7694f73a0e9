import type { ChangeId } from '../manuscript/signature.js';

/**
 * A sweep replaces something throughout. Each hit is a change of its own, so that it can be decided alone; what they have
 * in common is the beginning of their ids: `sweep.1`, `sweep.2` and so on.
 */
export const hitId = (sweep: string, n: number): ChangeId => `${sweep}.${n}`;

/** The sweep that a change belongs to, or null. */
export function sweepOf(id: ChangeId): string | null {
  const dot = id.indexOf('.');
  return dot > 0 ? id.slice(0, dot) : null;
}
