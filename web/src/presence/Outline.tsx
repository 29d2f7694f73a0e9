import type { Change, Heading } from '@tea-pencil/core';
import { useOpened } from '../opened/opened';

interface Props {
  headings: readonly (Heading & { at: number })[];
  changes: readonly Change[];
}

/** The headings beside the spine, each with how many changes wait under it. */
export function Outline({ headings, changes }: Props) {
  const { goTo } = useOpened();
  const under = new Map<string, number>();
  for (const { whereabouts } of changes)
    for (const key of whereabouts.section) under.set(key, (under.get(key) ?? 0) + 1);
  return (
    <nav className="outline" aria-label="Outline">
      {headings.map(({ key, level, at }) => (
        <button
          key={key}
          type="button"
          className="outline-line"
          style={{ paddingLeft: 10 + level * 12 }}
          onClick={() => goTo(at + 1)}
        >
          <span>{key}</span>
          {under.has(key) && <span className="outline-count">{under.get(key)}</span>}
        </button>
      ))}
      {!headings.length && <span className="second outline-line">This text has no headings.</span>}
    </nav>
  );
}
