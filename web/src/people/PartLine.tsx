import type { ReactNode } from 'react';

interface Props {
  name: string;
  /** Whose hue stands before the name; null for somebody who has none here. */
  person?: string | null;
  note?: ReactNode;
  /** More of it, each below the other. */
  below?: ReactNode;
  children?: ReactNode;
}

/** Somebody or something, and what can be said of them. */
export function PartLine({ name, person, note, below, children }: Props) {
  return (
    <div className="part-line" role="group" aria-label={name}>
      {person !== undefined && (
        <span className={`dot${person === null ? ' nobody' : ''}`} data-author={person ?? undefined} />
      )}
      <div className="part-line-name">
        <strong>{name}</strong>
        {note && <span className="second">{note}</span>}
        {below && <div className="part-line-below">{below}</div>}
      </div>
      {children}
    </div>
  );
}
