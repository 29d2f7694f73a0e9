import { Slider } from '@mui/material';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { Drafts, TimeLine as Line } from '@tea-pencil/wire';
import { useOpened } from '../opened/opened';
import { said } from '../kit/time';
import { barsOf, base, height, stopsOf, ticksOf } from './time-line';
import { nameOfDraft } from './words';
import type { Choice } from './use-choice';

interface Props {
  drafts: Drafts;
  line: Line;
  choice: Choice;
}

/** How long what comes about need not be what was chosen last: it may be passed on the way there, in milliseconds. */
const onTheWay = 1000;

/**
 * A choice that is there at once: what is looked at comes about in its own time, and a key that is pressed meanwhile goes
 * on from where the one before it led.
 */
function useAtOnce({ before, after, choose }: Choice): Pick<Choice, 'before' | 'after' | 'choose'> {
  const [shown, show] = useState({ before, after });
  const chosen = useRef<typeof shown | null>(null);
  useEffect(() => {
    const arrive = () => {
      chosen.current = null;
      show({ before, after });
    };
    const { current } = chosen;
    if (!current || (current.before === before && current.after === after)) return arrive();
    const timer = setTimeout(arrive, onTheWay);
    return () => clearTimeout(timer);
  }, [before, after]);
  const go = (one: number, other: number) => {
    chosen.current = { before: Math.min(one, other), after: Math.max(one, other) };
    show(chosen.current);
    choose(one, other);
  };
  return { ...shown, choose: go };
}

/** What a name on the line has at least, in hundredths of it. */
const least = 14;
const standsLeft = (x: number) => x > 100 - least;

/**
 * A name stands to the right of its place as far as the next one, at the end of the line to the left of it; two that stand
 * towards each other share what is between them.
 */
const roomFor = (x: number, before: number | undefined, next: number | undefined) => {
  if (standsLeft(x)) return { right: `${100 - x}%`, maxWidth: `${(x - (before ?? -x)) / 2}%` };
  const room = (next ?? 100) - x;
  return { left: `${x}%`, maxWidth: `${next !== undefined && standsLeft(next) ? room / 2 : room}%` };
};

/** Who wrote when: letters that came above the line, letters that went below it; drafts stand on it. */
export function TimeLine({ drafts, line, choice }: Props) {
  const { nameOf } = useOpened();
  const { before, after, choose } = useAtOnce(choice);
  const from = Date.parse(line.from);
  const whole = Math.max(1, Date.parse(line.to) - from, Date.parse(drafts.at) - from);
  const bars = useMemo(() => barsOf(line, whole), [line, whole]);
  const stops = useMemo(() => stopsOf(drafts, line, whole), [line, drafts, whole]);
  const placeOf = (version: number) => (stops.findLast((stop) => stop.version <= version) ?? stops[0]!).at;
  const versionAt = (at: number) => (stops.find((stop) => stop.at === at) ?? stops.at(-1)!).version;
  const label = (at: number) => {
    const version = versionAt(at);
    const draft = drafts.drafts.find((one) => one.version === version);
    if (version === drafts.version) return 'as it is now';
    return draft ? nameOfDraft(draft) : said(new Date(from + (at / 10_000) * whole).toISOString());
  };
  const labelled = drafts.drafts.filter(
    ({ name, reason }) => name !== null || reason === 'came' || reason === 'back' || reason === 'file',
  );
  const labels = labelled
    .map((draft) => ({ id: draft.id, words: nameOfDraft(draft), x: placeOf(draft.version) / 100 }))
    .sort((a, b) => a.x - b.x)
    // Those that would stand on another one are on the line all the same.
    .filter(({ x }, i, all) => i === 0 || x - all[i - 1]!.x > least);
  return (
    <div className="time-line">
      {labels.map(({ id, words, x }, i) => (
        <span key={id} className="time-line-label" style={roomFor(x, labels[i - 1]?.x, labels[i + 1]?.x)}>
          {words}
        </span>
      ))}
      <svg viewBox={`0 0 1000 ${height}`} preserveAspectRatio="none" aria-hidden>
        {labelled.map(({ id, version }) => (
          <line
            key={id}
            x1={placeOf(version) / 10}
            x2={placeOf(version) / 10}
            y1={14}
            y2={base + 14}
            className="time-line-draft"
          />
        ))}
        <line x1={0} x2={1000} y1={base} y2={base} className="time-line-base" />
        {bars.map(({ x, author, come, gone, ink }, i) => (
          <g key={i} data-author={author}>
            <rect x={x} y={base - come} width={4.4} height={come} className="time-line-come" />
            {ink && <rect x={x} y={base - come - 4} width={4.4} height={3} className="time-line-ink" />}
            {gone > 0 && <rect x={x} y={base} width={4.4} height={gone} className="time-line-gone" />}
          </g>
        ))}
      </svg>
      {ticksOf(from, whole).map(({ x, label: words }, i) => (
        <span
          key={x}
          className={`time-line-tick ${['first', 'between', '', 'between', 'last'][i]}`}
          style={{ left: `${x / 10}%` }}
        >
          {words}
        </span>
      ))}
      <Slider
        className="time-line-slider"
        min={0}
        max={10_000}
        step={null}
        marks={stops.map(({ at }) => ({ value: at }))}
        value={[placeOf(before), placeOf(after)]}
        disableSwap
        // Its own keys go to the next stop only.
        onKeyDownCapture={(event) => {
          if (event.key !== 'Home' && event.key !== 'End') return;
          event.preventDefault();
          event.stopPropagation();
          const later = (event.target as HTMLElement).dataset.index === '1';
          if (event.key === 'End') choose(later ? before : after, later ? drafts.version : after);
          else choose(later ? before : 0, later ? before : after);
        }}
        onChange={(_, [one, other]: number[]) => choose(versionAt(one!), versionAt(other!))}
        getAriaLabel={(i) => (i ? 'The later state' : 'The earlier state')}
        getAriaValueText={label}
      />
      <p className="heard-only">
        {line.stretches.length
          ? `Worked on by ${[...new Set(line.stretches.flatMap(({ author }) => author ?? []))].map(nameOf).join(', ')}.`
          : 'Nobody has written yet.'}
      </p>
    </div>
  );
}
