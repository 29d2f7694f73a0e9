import { Slider } from '@mui/material';
import { useMemo } from 'react';
import type { Drafts, TimeLine as Line } from '@tea-pencil/wire';
import { useOpened } from '../opened/opened';
import { said } from '../kit/time';
import { nameOfDraft } from './words';
import type { Choice } from './use-choice';

/** Who wrote when: letters that came above the line, letters that went below it; drafts stand on it. */

interface Bar {
  x: number;
  author: string | null;
  come: number;
  gone: number;
  ink: boolean;
}

const [height, base] = [132, 92];

/** The bars of every stretch, those of several people beside each other. */
function barsOf({ stretches, width }: Line, whole: number): Bar[] {
  const written = stretches.filter(
    ({ intent, come, gone }) => (intent === 'pencil' || intent === 'ink') && come + gone,
  );
  const most = Math.max(1, ...written.map(({ come, gone }) => Math.max(come, gone)));
  const beside = new Map<number, number>();
  // By the root: one pasted chapter would make all else invisible.
  const scaled = (letters: number, room: number) => (letters ? Math.max(3, Math.sqrt(letters / most) * room) : 0);
  return written.map(({ at, author, intent, come, gone }) => {
    const n = beside.get(at) ?? 0;
    beside.set(at, n + 1);
    return {
      x: ((at - width / 2) / whole) * 1000 + n * 5.5,
      author,
      come: scaled(come, 56),
      gone: scaled(gone, 26),
      ink: intent === 'ink',
    };
  });
}

/** Days or hours along the line, a handful of them. */
function ticksOf(from: number, whole: number): { x: number; label: string }[] {
  const format: Intl.DateTimeFormatOptions =
    whole > 3 * 86_400_000
      ? { day: 'numeric', month: 'short' }
      : { weekday: 'short', hour: '2-digit', minute: '2-digit' };
  return [0.01, 0.25, 0.5, 0.75, 0.99].map((part) => ({
    x: part * 1000,
    label: new Date(from + part * whole).toLocaleString(undefined, format),
  }));
}

interface Props {
  drafts: Drafts;
  line: Line;
  choice: Choice;
}

export function TimeLine({ drafts, line, choice }: Props) {
  const { nameOf } = useOpened();
  const { before, after, choose } = choice;
  const from = Date.parse(line.from);
  const whole = Math.max(1, Date.parse(line.to) - from, Date.parse(drafts.at) - from);
  const bars = useMemo(() => barsOf(line, whole), [line, whole]);
  /** Every place where the slider stops: the ends of stretches and the drafts, each with its version. */
  const stops = useMemo(() => {
    const all = new Map<number, number>([[0, 0]]);
    for (const { at, version } of line.stretches) all.set(version, Math.min(at, whole));
    for (const { version, at } of drafts.drafts) all.set(version, Math.min(whole, Math.max(0, Date.parse(at) - from)));
    all.set(drafts.version, whole);
    const sorted = [...all].map(([version, at]) => ({ version, at })).sort((a, b) => a.version - b.version);
    // What is later in the log stands further on, however the clocks went.
    for (let i = 1, least = 0; i < sorted.length; i++)
      sorted[i]!.at = least = Math.max(least + whole / 2000, sorted[i]!.at);
    const end = sorted.at(-1)?.at ?? 1;
    return sorted.map(({ version, at }) => ({ version, at: Math.round((at / Math.max(end, 1)) * 10_000) }));
  }, [line, drafts, from, whole]);
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
    .filter(({ x }, i, all) => i === 0 || x - all[i - 1]!.x > 14);
  return (
    <div className="time-line">
      {labels.map(({ id, words, x }) => (
        <span key={id} className="time-line-label" style={x > 86 ? { right: `${100 - x}%` } : { left: `${x}%` }}>
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
        {bars.map(({ x, author, come, gone }, i) => (
          <g key={i} data-author={author}>
            <rect x={x} y={base - come} width={4.4} height={come} className="time-line-come" />
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
