import { Button } from '@mui/material';
import { memo, useMemo, useState } from 'react';
import { choices, ruleKinds, type Rule, type RuleKind } from '@tea-pencil/core';
import { useHandler } from '../kit/use-handler';
import type { Tried } from './use-tried';

/** The rules of a style as a table; each is tried on its example while it is written. */

interface Props {
  rules: readonly Rule[];
  tried: Tried;
  mayChange: boolean;
  onChange(rules: Rule[]): void;
}

export const newRule: Rule = { kind: 'words', write: '', not: [], example: '', note: '', source: '' };

export function RulesTable({ rules, tried, mayChange, onChange }: Props) {
  const set = useHandler((i: number, part: Partial<Rule>) =>
    onChange(rules.map((rule, j) => (i === j ? { ...rule, ...part } : rule))),
  );
  const remove = useHandler((i: number) => onChange(rules.filter((_, j) => i !== j)));
  const problems = useMemo(() => {
    const of = new Map<number, string[]>();
    for (const { rules: which, says } of tried.problems) for (const i of which) of.set(i, [...(of.get(i) ?? []), says]);
    return of;
  }, [tried.problems]);
  return (
    <table className="rules-table">
      <thead>
        <tr>
          <th style={{ width: '14%' }}>Kind</th>
          <th style={{ width: '19%' }}>Write</th>
          <th style={{ width: '19%' }}>Not</th>
          <th>Example</th>
          <th style={{ width: '20%' }}>Why, and whence</th>
          {mayChange && (
            <th style={{ width: 70 }}>
              <span className="heard-only">Take out</span>
            </th>
          )}
        </tr>
      </thead>
      <tbody>
        {rules.map((rule, i) => (
          <Row
            key={i}
            {...{ rule, i, mayChange, set, remove }}
            after={tried.examples[i] ?? ''}
            problems={problems.get(i)?.join(' ') ?? ''}
          />
        ))}
      </tbody>
    </table>
  );
}

/** What an example becomes; what is set in italics stands between lines. */
const After = ({ words }: { words: string }) => (
  <>› {words.split(/_([^_]+)_/).map((part, i) => (i % 2 ? <em key={i}>{part}</em> : part))}</>
);

interface RowProps {
  rule: Rule;
  i: number;
  mayChange: boolean;
  after: string;
  problems: string;
  set(i: number, part: Partial<Rule>): void;
  remove(i: number): void;
}

const between = ' | ';

interface PartedProps {
  values: readonly string[];
  readOnly: boolean;
  label: string;
  hint: string;
  onChange(values: string[]): void;
}

/** Several words in one field, parted by a line between them; what is typed stands as it was typed. */
function Parted({ values, readOnly, label, hint, onChange }: PartedProps) {
  const [typed, setTyped] = useState(values.join(between));
  const parted = (text: string) => text.split(between).filter(Boolean);
  const same = parted(typed).join(between) === values.join(between);
  return (
    <input
      value={same ? typed : values.join(between)}
      readOnly={readOnly}
      aria-label={label}
      className="rule-words"
      placeholder={readOnly ? undefined : hint}
      onChange={({ target: { value } }) => {
        setTyped(value);
        onChange(parted(value));
      }}
    />
  );
}

const Row = memo(function Row({ rule, i, mayChange, after, problems, set, remove }: RowProps) {
  const { kind, write, not, example, note, source } = rule;
  const known = choices[kind];
  const n = i + 1;
  const field = (name: keyof Rule, value: string, label: string, className?: string, hint?: string) => (
    <input
      value={value}
      readOnly={!mayChange}
      aria-label={`${label} of rule ${n}`}
      className={className}
      placeholder={mayChange ? hint : undefined}
      title={value}
      onChange={(event) => set(i, { [name]: event.target.value })}
    />
  );
  return (
    <tr className={problems ? 'wrong' : undefined}>
      <td data-name="Kind">
        {mayChange ? (
          <select
            value={kind}
            aria-label={`Kind of rule ${n}`}
            onChange={(event) => {
              const next = event.target.value as RuleKind;
              const ways = choices[next];
              set(i, { kind: next, ...(ways && !ways.includes(write) && { write: ways[0]!, not: [] }) });
            }}
          >
            {ruleKinds.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        ) : (
          kind
        )}
      </td>
      <td data-name="Write">
        {known && mayChange ? (
          <select
            value={write}
            aria-label={`What to write by rule ${n}`}
            onChange={(event) => set(i, { write: event.target.value })}
          >
            {known.map((one) => (
              <option key={one} value={one}>
                {one.trim() === one ? one : `a${one}b`}
              </option>
            ))}
          </select>
        ) : (
          field('write', write, 'What to write', 'rule-words')
        )}
        {problems && <span className="rule-problem">{problems}</span>}
      </td>
      <td data-name="Not">
        {!known && (
          <Parted
            values={not}
            readOnly={!mayChange}
            label={`What not to write, of rule ${n}`}
            hint={kind === 'italics' ? 'more words' : 'one | another'}
            onChange={(next) => set(i, { not: next })}
          />
        )}
      </td>
      <td data-name="Example">
        {field('example', example, 'Example', 'rule-words')}
        {example && after && (
          <span className="rule-after rule-words">
            {after === example ? 'stays as it is' : <After words={after} />}
          </span>
        )}
      </td>
      <td data-name="Why">
        {field('note', note, 'Note', undefined, 'why')}
        {field('source', source, 'Source', undefined, 'whence')}
      </td>
      {mayChange && (
        <td data-name="">
          <Button size="small" color="inherit" aria-label={`Take rule ${n} out`} onClick={() => remove(i)}>
            Out
          </Button>
        </td>
      )}
    </tr>
  );
});
