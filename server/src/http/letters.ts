import { isText } from '@tea-pencil/core';

export const noLetters = 'There are characters in it that no text can hold. Nothing was kept.';

/** Whether every text in something that came as JSON, names included, is one that can be kept. */
export function isLegible(value: unknown): boolean {
  const waiting: object[] = [];
  // Thousands of steps have the same few names.
  const names = new Set<string>();
  const isRight = (one: unknown): boolean => {
    if (typeof one === 'object' && one !== null && !ArrayBuffer.isView(one)) waiting.push(one);
    return typeof one !== 'string' || isText(one);
  };
  if (!isRight(value)) return false;
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    if (Array.isArray(next)) {
      if (!next.every(isRight)) return false;
      continue;
    }
    for (const name of Object.keys(next)) {
      if ((!names.has(name) && !isText(name)) || !isRight((next as Record<string, unknown>)[name])) return false;
      names.add(name);
    }
  }
  return true;
}
