import type { Change, Hue } from '@tea-pencil/core';

/** Style sheets that follow what is in the text. */

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
