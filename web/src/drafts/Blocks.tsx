import { DOMSerializer, Fragment, Node } from 'prosemirror-model';
import { memo, useLayoutEffect, useRef } from 'react';
import { schema } from '@tea-pencil/core';

/** Blocks of a text to be read and nothing else. */

const serializer = DOMSerializer.fromSchema(schema);

interface Props {
  blocks: readonly object[];
  /** Whose a change is, where that is known better than the blocks say; null for nobody. */
  authorOf?: ((change: string) => string | null) | undefined;
  /** Which change is in focus. */
  lit?: string | null;
}

export const Blocks = memo(function Blocks({ blocks, authorOf, lit }: Props) {
  const place = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    const { current: element } = place;
    if (!element) return;
    const content = Fragment.fromArray(blocks.map((json) => Node.fromJSON(schema, json)));
    element.replaceChildren(serializer.serializeFragment(content));
    if (!authorOf) return;
    for (const marked of element.querySelectorAll<HTMLElement>('[data-change]')) {
      const author = authorOf(marked.dataset.change ?? '');
      if (author) marked.dataset.author = author;
      else delete marked.dataset.author;
    }
  }, [blocks, authorOf]);
  useLayoutEffect(() => {
    for (const marked of place.current?.querySelectorAll<HTMLElement>('[data-change]') ?? [])
      marked.classList.toggle('lit', lit !== null && lit !== undefined && marked.dataset.change === lit);
  }, [lit, blocks]);
  return <div ref={place} className="blocks" />;
});
