import { isText } from '@tea-pencil/core';

export const noLetters = 'There are characters in it that no text can hold. Nothing was kept.';

/** Whether every text in something that came as JSON, names included, is one that can be kept. */
export function isLegible(value: unknown): boolean {
  const waiting = [value];
  while (waiting.length) {
    const next = waiting.pop();
    if (typeof next === 'string' && !isText(next)) return false;
    if (!next || typeof next !== 'object' || ArrayBuffer.isView(next)) continue;
    for (const [name, each] of Object.entries(next)) {
      if (!isText(name)) return false;
      waiting.push(each);
    }
  }
  return true;
}
