import { memo, useEffect, useState } from 'react';
import type { Change } from '@tea-pencil/core';
import type { LiveText } from '../live/live-text';
import { useOthers } from './use-others';

interface Props {
  text: LiveText;
  changes: readonly Change[];
  size: number;
  scroller: HTMLElement | null;
  me: string;
  nameOf(person: string): string;
  onGoTo(pos: number): void;
}

/** The part of the text in the window, as parts of the text's height; what is empty below it does not count. */
function useWindow(scroller: HTMLElement | null): { top: number; height: number } {
  const [shown, setShown] = useState({ top: 0, height: 1 });
  useEffect(() => {
    if (!scroller) return;
    const look = () => {
      const text = scroller.querySelector('.ProseMirror')?.getBoundingClientRect();
      if (!text?.height) return;
      const { top, bottom } = scroller.getBoundingClientRect();
      const part = (y: number) => Math.min(1, Math.max(0, (y - text.top) / text.height));
      setShown({ top: part(top), height: part(bottom) - part(top) });
    };
    look();
    scroller.addEventListener('scroll', look, { passive: true });
    const resized = new ResizeObserver(look);
    resized.observe(scroller);
    for (const child of scroller.children) resized.observe(child);
    return () => {
      scroller.removeEventListener('scroll', look);
      resized.disconnect();
    };
  }, [scroller]);
  return shown;
}

const percent = (part: number) => `${(part * 100).toFixed(2)}%`;

/** The changes of the whole text by the hue of who made them, drawn once for many. */
const Strokes = memo(function Strokes({ changes, size }: { changes: readonly Change[]; size: number }) {
  const seen = new Set<string>();
  return changes.map(({ id, author, ranges }) => {
    const at = Math.round((ranges[0]!.from / size) * 1000);
    const key = `${author} ${at}`;
    if (seen.has(key)) return null;
    seen.add(key);
    return <span key={id} className="spine-stroke" data-author={author} style={{ top: percent(at / 1000) }} />;
  });
});

/** The whole manuscript as a thin strip: where changes are, what is in the window, and where the others are. */
export function Spine({ text, changes, size, scroller, me, nameOf, onGoTo }: Props) {
  const shown = useWindow(scroller);
  const others = useOthers(text).filter(({ person }) => person !== me);
  const go = (event: React.MouseEvent<HTMLElement>) => {
    const { top, height } = event.currentTarget.getBoundingClientRect();
    onGoTo(Math.round(((event.clientY - top) / height) * size));
  };
  return (
    <nav className="spine" aria-label="Spine: the whole manuscript" onClick={go}>
      <Strokes changes={changes} size={size} />
      <span className="spine-window" style={{ top: percent(shown.top), height: percent(shown.height) }} />
      {others.map(({ client, person, head }) => (
        <button
          key={client}
          type="button"
          className="spine-person"
          data-author={person}
          title={`${nameOf(person)} is here`}
          aria-label={`Go where ${nameOf(person)} is`}
          style={{ top: percent(head / size) }}
          onClick={(event) => {
            event.stopPropagation();
            onGoTo(head);
          }}
        />
      ))}
    </nav>
  );
}
