import { useState } from 'react';
import { fates as all, type Fate, type Remaining } from '@tea-pencil/core';
import { whoIs } from '../api/queries';
import { useOpened } from '../opened/opened';
import { kindNames } from '../reviewing/words';
import { fateOfLine, linesOf, withFate, type By, type FateLine, type Fates } from './fates';

export const fateWords: Readonly<Record<Fate, [name: string, says: string]>> = {
  accept: ['Accept', 'They become part of the text'],
  reject: ['Reject', 'The text stays as it was before them'],
  keep: [
    'Leave pending',
    'They stay to be decided, and stand in the marked copy; the clean file reads as if they were accepted',
  ],
};

interface Props {
  remaining: readonly Remaining[];
  chosen: Fates;
  onChoose(fates: Fates): void;
}

/** What is pending, line by line, each with what becomes of it. */
export function FateLines({ remaining, chosen, onChoose }: Props) {
  const { info } = useOpened();
  const [by, setBy] = useState<By>('kind');
  const lines = linesOf(remaining, by, (author) => whoIs(info, author));
  return (
    <>
      <div role="group" aria-label="Brought together by" className="tabs fates-by">
        {(['kind', 'person'] as const).map((one) => (
          <button key={one} type="button" className="tab" aria-pressed={by === one} onClick={() => setBy(one)}>
            by {one}
          </button>
        ))}
      </div>
      <div className="part-lines">
        {lines.map((line) => (
          <Line
            key={line.key}
            line={line}
            fate={fateOfLine(chosen, line)}
            onChoose={(fate) => onChoose(withFate(chosen, line.groups, fate))}
          />
        ))}
        {lines.length > 1 && (
          <div className="part-line fate-all">
            <span className="part-line-name">All of them</span>
            <Choose
              name="All of them"
              fate={fateOfLine(chosen, { ...lines[0]!, groups: remaining })}
              onChoose={(fate) => onChoose(withFate(chosen, remaining, fate))}
            />
          </div>
        )}
      </div>
    </>
  );
}

function Line({ line, fate, onChoose }: { line: FateLine; fate: Fate | null; onChoose(fate: Fate): void }) {
  const { nameOf } = useOpened();
  const { kind, person, many, groups } = line;
  const name = kind ? kindNames[kind] : nameOf(person!);
  const made = kind
    ? groups.map(({ author, many: n }) => `${nameOf(author)} ${n}`)
    : groups.map(({ kind: one, many: n }) => `${kindNames[one]} ${n}`);
  return (
    <div className="part-line">
      <span className="part-line-name">
        {person && <span className="dot" data-author={person} />}
        {name.charAt(0).toUpperCase() + name.slice(1)} <strong>{many.toLocaleString()}</strong>
        <span className="part-line-below"> {made.join(', ')}</span>
      </span>
      <Choose name={name} fate={fate} onChoose={onChoose} />
    </div>
  );
}

function Choose({ name, fate, onChoose }: { name: string; fate: Fate | null; onChoose(fate: Fate): void }) {
  return (
    <span role="group" aria-label={`What becomes of ${name.toLowerCase()}`} className="fate">
      {all.map((one) => (
        <button
          key={one}
          type="button"
          title={fateWords[one][1]}
          aria-pressed={fate === one}
          onClick={() => onChoose(one)}
        >
          {fateWords[one][0]}
        </button>
      ))}
    </span>
  );
}
