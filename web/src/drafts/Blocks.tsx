import { DOMSerializer, Fragment, Node } from 'prosemirror-model';
import { memo, useLayoutEffect, useRef } from 'react';
import { isSmall, isUnseen, schema } from '@tea-pencil/core';
import { pictureAddress } from '../api/client';

/** Blocks of a text to be read and nothing else. */

const serializer = DOMSerializer.fromSchema(schema);

/** Frames edits of one character or two, as they are framed in the text: a space struck out would hardly be seen. */
function frameSmall(element: HTMLElement): void {
  const edits = [...element.querySelectorAll<HTMLElement>('ins[data-change], del[data-change]')];
  edits.forEach((edit, i) => {
    const words = edit.textContent;
    // What goes on in another look is longer than it.
    const goesOn = [edits[i - 1], edits[i + 1]].some(
      (other) => other?.dataset.change === edit.dataset.change && other?.tagName === edit.tagName,
    );
    if (isSmall(words) && !goesOn) edit.classList.add('small-edit', ...(isUnseen(words) ? ['of-space'] : []));
  });
}

interface Props {
  blocks: readonly object[];
  /** What number each block has as an item of a list that began in others. */
  numbers?: readonly (number | null)[] | undefined;
  /** Whose a change is, where that is known better than the blocks say; null for nobody. */
  authorOf?: ((change: string) => string | null) | undefined;
  /** Which change is in focus. */
  lit?: string | null;
}

export const Blocks = memo(function Blocks({ blocks, numbers, authorOf, lit }: Props) {
  const place = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    const { current: element } = place;
    if (!element) return;
    const content = Fragment.fromArray(blocks.map((json) => Node.fromJSON(schema, json)));
    element.replaceChildren(serializer.serializeFragment(content));
    frameSmall(element);
    for (const picture of element.querySelectorAll<HTMLImageElement>('img[data-asset]'))
      picture.src = pictureAddress(picture.dataset.asset!);
    numbers?.forEach((number, i) => {
      const block = element.children[i];
      const item = block?.matches('.list-number') ? block : block?.querySelector('.list-number');
      if (number !== null) item?.setAttribute('data-item', `${number}.`);
    });
    if (!authorOf) return;
    for (const marked of element.querySelectorAll<HTMLElement>('[data-change]')) {
      const author = authorOf(marked.dataset.change ?? '');
      if (author) marked.dataset.author = author;
      else delete marked.dataset.author;
    }
  }, [blocks, numbers, authorOf]);
  useLayoutEffect(() => {
    for (const marked of place.current?.querySelectorAll<HTMLElement>('[data-change]') ?? [])
      marked.classList.toggle('lit', lit !== null && lit !== undefined && marked.dataset.change === lit);
  }, [lit, blocks]);
  return <div ref={place} className="blocks" />;
});
