import { memo, useEffect, useEffectEvent, useRef, useState } from 'react';
import type { Change } from '@tea-pencil/core';
import type { Colleague } from '../api/queries';
import { useMode } from '../app/App';
import type { LiveText } from '../live/live-text';
import { hueOf } from '../theme/hues';
import { useOthers } from './use-others';

interface Props {
  text: LiveText;
  changes: readonly Change[];
  size: number;
  scroller: HTMLElement | null;
  people: readonly Colleague[];
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

/** How long the strip waits before it is drawn again; whoever types waits for nothing of it, in milliseconds. */
const pause = 150;
const width = 16;

/** The changes of the whole text by the hue of who made them. Thousands are drawn as a picture, not as elements. */
const Strokes = memo(function Strokes({ changes, size, people }: Pick<Props, 'changes' | 'size' | 'people'>) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { mode } = useMode();
  const draw = useEffectEvent(() => {
    const place = canvas.current;
    const pen = place?.getContext('2d');
    if (!place || !pen) return;
    const scale = devicePixelRatio;
    const height = place.clientHeight;
    place.width = width * scale;
    place.height = height * scale;
    pen.scale(scale, scale);
    const hues = new Map(people.map(({ id, hue }) => [id, hueOf(hue, mode).line]));
    for (const { author, ranges } of changes) {
      pen.fillStyle = hues.get(author) ?? 'gray';
      pen.fillRect(3, Math.round((ranges[0]!.from / size) * height), width - 7, 2);
    }
  });
  useEffect(() => {
    const timer = setTimeout(() => draw(), pause);
    return () => clearTimeout(timer);
  }, [changes, size, people, mode]);
  useEffect(() => {
    const resized = new ResizeObserver(() => draw());
    resized.observe(canvas.current!);
    return () => resized.disconnect();
  }, []);
  return <canvas ref={canvas} className="spine-strokes" aria-hidden="true" />;
});

/** The whole manuscript as a thin strip: where changes are, what is in the window, and where the others are. */
export function Spine({ text, changes, size, scroller, people, me, nameOf, onGoTo }: Props) {
  const shown = useWindow(scroller);
  const others = useOthers(text).filter(({ person }) => person !== me);
  const go = (event: React.MouseEvent<HTMLElement>) => {
    const { top, height } = event.currentTarget.getBoundingClientRect();
    onGoTo(Math.round(((event.clientY - top) / height) * size));
  };
  return (
    <nav className="spine" aria-label="Spine: the whole manuscript" onClick={go}>
      <Strokes changes={changes} size={size} people={people} />
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
