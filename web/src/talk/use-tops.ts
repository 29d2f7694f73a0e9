import { useLayoutEffect, useState, type RefObject } from 'react';
import { placeNotes } from '@tea-pencil/core';

/**
 * Where the notes of the margin stand, so that none lies over another. Heights are known only once drawn, so they are
 * placed after each drawing and whenever one grows.
 * @param wanted a line for each note from top to bottom: where it would stand, in pixels, and its name
 * @param front the name of the note that stands where it would, as far as it can
 */
export function useTops(
  margin: RefObject<HTMLElement | null>,
  wanted: string,
  front: string | null,
): ReadonlyMap<string, number> {
  const [tops, setTops] = useState<ReadonlyMap<string, number>>(new Map());
  useLayoutEffect(() => {
    const notes = wanted ? wanted.split('\n').map((line) => line.split(' ') as [string, string]) : [];
    const drawn = new Map<string, HTMLElement>();
    margin.current!.querySelectorAll<HTMLElement>('[data-note]').forEach((note) => drawn.set(note.dataset.note!, note));
    const place = () => {
      const placed = placeNotes(
        notes.map(([y, id]) => ({
          wanted: Number(y),
          height: drawn.get(id)?.offsetHeight ?? 0,
          weight: id === front ? 100 : 1,
        })),
        10,
      );
      const next = new Map(notes.map(([, id], i) => [id, placed[i]!]));
      setTops((before) =>
        before.size === next.size && [...next].every(([id, y]) => before.get(id) === y) ? before : next,
      );
    };
    const growing = new ResizeObserver(place);
    drawn.forEach((note) => growing.observe(note));
    place();
    return () => growing.disconnect();
  }, [margin, wanted, front]);
  return tops;
}
