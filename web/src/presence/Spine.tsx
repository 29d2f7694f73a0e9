import { memo, useEffect, useMemo, useRef, useState } from 'react';
import { countChanges, outline as headingsOf, type Change, type Range, type Thread, counted } from '@tea-pencil/core';
import type { Colleague } from '../api/queries';
import { useSoon } from '../kit/soon';
import { useStore } from '../kit/store';
import { useHandler } from '../kit/use-handler';
import { useDrawn, useLooking, useOpened } from '../opened/opened';
import { useReviewed } from '../reviewing/use-reviewing';
import { useMode } from '../theme/mode';
import { hueOf, kindHue, type OwnHues } from '../theme/hues';
import type { Mode } from '../theme/theme';
import { Outline } from './Outline';
import { useOthers } from './use-others';

interface Props {
  threads: readonly Thread[];
  /** Where threads are. */
  places: ReadonlyMap<string, readonly Range[]>;
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

/** How long the strip waits before it is drawn again, and at most; whoever types waits for nothing of it, in milliseconds. */
const pause = 150;
const longest = 600;
const width = 16;

interface Drawn extends Props {
  changes: readonly Change[];
  people: readonly Colleague[];
  ownHues: OwnHues;
  size: number;
}

/** The line of every person and kind as the viewer sees it. */
function linesOf({ people, ownHues }: Drawn, mode: Mode) {
  const hues = new Map(people.map(({ id, hue }) => [id, hueOf(ownHues.people[id] ?? hue, mode).line]));
  const ofPerson = (person: string) => hues.get(person) ?? 'gray';
  const ofChange = ({ author, kind }: Change) =>
    ownHues.says === 'kind' ? kindHue(kind, mode).line : ofPerson(author);
  return { ofPerson, ofChange };
}

/** Changes and threads of the whole text by hue. Thousands are drawn as a picture, not as elements. */
const Strokes = memo(function Strokes(drawn: Drawn) {
  const { changes, threads, places, people, ownHues, size } = drawn;
  const canvas = useRef<HTMLCanvasElement>(null);
  const { mode } = useMode();
  const draw = useHandler(() => {
    const place = canvas.current;
    const pen = place?.getContext('2d');
    if (!place || !pen) return;
    const scale = devicePixelRatio;
    const height = place.clientHeight;
    place.width = width * scale;
    place.height = height * scale;
    pen.scale(scale, scale);
    const { ofPerson, ofChange } = linesOf(drawn, mode);
    const y = (pos: number) => Math.round((pos / size) * height);
    for (const change of changes) {
      pen.fillStyle = ofChange(change);
      pen.fillRect(2, y(change.ranges[0].from), 8, 2);
    }
    for (const { id, author, comments } of threads) {
      const [range] = places.get(id) ?? [];
      if (!range) continue;
      pen.strokeStyle = ofPerson(comments[0]?.author ?? author);
      pen.strokeRect(11.5, y(range.from) - 1.5, 3, 3);
    }
  });
  const drawSoon = useSoon(draw, longest);
  useEffect(() => drawSoon(pause), [changes, threads, places, size, people, ownHues, mode, drawSoon]);
  useEffect(() => {
    const resized = new ResizeObserver(draw);
    resized.observe(canvas.current!);
    return () => resized.disconnect();
  }, [draw]);
  return <canvas ref={canvas} className="spine-strokes" aria-hidden="true" />;
});

/** How many pixels above and below the pointer belong to what it points at. */
const reach = 4;

/** The whole manuscript as a thin strip: where changes and threads are, what is in the window, where the others are. */
export const Spine = memo(function Spine({ threads, places }: Props) {
  const { info, me, sheet, nameOf, goTo } = useOpened();
  const { look, setLook, ownHues } = useLooking();
  const { inLens: changes } = useReviewed();
  const { doc } = useDrawn();
  const { people } = info;
  const { outline } = look;
  const { size } = doc.content;
  const shown = useWindow(useStore(sheet, ({ scroller }) => scroller));
  const others = useOthers().filter(({ person }) => person !== me.id);
  const headings = useMemo(() => (outline ? headingsOf(doc) : []), [outline, doc]);
  const [pointed, setPointed] = useState<{ y: number; words: string } | null>(null);

  const placeOf = (event: React.MouseEvent<HTMLElement>) => {
    const { top, height } = event.currentTarget.getBoundingClientRect();
    const y = event.clientY - top;
    const pos = (at: number) => (at / height) * size;
    return { y, pos: pos(y), from: pos(y - reach), to: pos(y + reach) };
  };
  const go = (event: React.MouseEvent<HTMLElement>) => {
    const { pos, from, to } = placeOf(event);
    const near = changes.filter(({ ranges }) => ranges[0].from >= from && ranges[0].from <= to);
    const distance = ({ ranges }: Change) => Math.abs(ranges[0].from - pos);
    const nearest = near.sort((a, b) => distance(a) - distance(b))[0];
    goTo(nearest ? nearest.ranges[0].from : Math.round(pos));
  };
  const point = (event: React.MouseEvent<HTMLElement>) => {
    const { y, from, to } = placeOf(event);
    const near = changes.filter(({ ranges }) => ranges[0].from >= from && ranges[0].from <= to);
    const talked = threads.filter(({ id }) => places.get(id)?.some((range) => range.from >= from && range.from <= to));
    const { byAuthor } = countChanges(near);
    const words = [
      ...[...byAuthor].map(([author, n]) => `${nameOf(author)} ${counted(n, 'change')}`),
      ...talked.map(({ author, tint, comments }) =>
        comments.length
          ? `${nameOf(comments[0]!.author)}: a comment`
          : `${nameOf(author)}: ${tint ? 'highlighted' : ''}`,
      ),
    ];
    const place = near[0]?.whereabouts;
    const where = place ? `¶ ${place.paragraph}${place.heading ? `, ${place.heading}` : ''}` : '';
    setPointed(words.length ? { y, words: [where, ...words].filter(Boolean).join(' · ') } : null);
  };
  return (
    <>
      {outline && <Outline headings={headings} changes={changes} />}
      <div className="spine-column">
        <button
          type="button"
          className="spine-headings"
          aria-expanded={outline}
          aria-label="Outline: the headings of the text"
          title="The headings of the text, beside the spine"
          onClick={() => setLook({ ...look, outline: !outline })}
        >
          ¶
        </button>
        <nav
          className="spine"
          aria-label="Spine: the whole manuscript"
          onClick={go}
          onMouseMove={point}
          onMouseLeave={() => setPointed(null)}
        >
          <Strokes changes={changes} threads={threads} places={places} size={size} people={people} ownHues={ownHues} />
          <span className="spine-window" style={{ top: percent(shown.top), height: percent(shown.height) }} />
          {pointed && (
            <span role="tooltip" className="spine-pointed" style={{ top: pointed.y }}>
              {pointed.words}
            </span>
          )}
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
                goTo(head);
              }}
            />
          ))}
        </nav>
      </div>
    </>
  );
});
