import type { Change, Hue, Thread } from '@tea-pencil/core';
import type { ManuscriptInfo } from '../api/queries';
import { hueOf } from '../theme/hues';
import type { Mode } from '../theme/theme';

/** Style sheets that follow what is in the text and what is in focus. */

/** What is in focus, and where it was pointed at. */
export interface Focus {
  change: string | null;
  thread: string | null;
  at: number | null;
}

/**
 * A moved passage is dashed at both ends.
 * @param hue of moves, where hues say the kind
 */
export function moveSheet(changes: readonly Change[], hue: Hue | null): string {
  const own = hue ? `--line: ${hue.line}; --wash: ${hue.wash};` : '';
  return changes
    .filter(({ kind }) => kind === 'move')
    .map(({ id }) => {
      const of = `[data-change="${CSS.escape(id)}"]`;
      return (
        `.sheet ins${of}${of} { box-shadow: none; border-bottom: 2px dashed var(--line); padding-bottom: 0; ${own} }\n` +
        `.sheet del${of}${of} { text-decoration-style: dashed; ${own} }`
      );
    })
    .join('\n');
}

/** Outlines commented words in the hue of who began the thread; those of threads that are resolved not at all. */
export function anchorSheet(threads: readonly Thread[], info: ManuscriptInfo, mode: Mode): string {
  const rule = ({ id, comments }: Thread) => {
    const person = info.people.find((one) => one.id === comments[0]?.author);
    return `.sheet [data-thread="${CSS.escape(id)}"] { outline: 1px solid ${hueOf(person?.hue ?? 0, mode).line}; }`;
  };
  return threads.map(rule).join('\n');
}

/** Lights the words of the thread in focus; no line is drawn to them. */
export const focusSheet = ({ thread }: Focus): string =>
  thread === null
    ? ''
    : `.sheet [data-thread="${CSS.escape(thread)}"] { outline: 2px solid var(--plum); background: var(--plumTint); }`;
