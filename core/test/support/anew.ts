import type { Manuscript } from '../../src/index.js';

/** A manuscript whose file is known, and of which no block is known again: all of its text is written anew. */
export function anew(manuscript: Manuscript): Manuscript {
  const { origin } = manuscript;
  const blind = <T extends { print: string }>(sources: readonly T[]) => sources.map((one) => ({ ...one, print: '' }));
  if (origin?.format === 'docx') {
    const { memo } = origin;
    return { ...manuscript, origin: { ...origin, memo: { ...memo, blocks: blind(memo.blocks), inner: [] } } };
  }
  if (origin?.format !== 'odt' && origin?.format !== 'fodt') throw new Error('No file is known.');
  const { memo } = origin;
  return {
    ...manuscript,
    origin: { ...origin, memo: { ...memo, whole: null, blocks: blind(memo.blocks), inner: [] } },
  };
}
