import { Button, Tooltip } from '@mui/material';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef } from 'react';
import { titleOf } from '../commands/table';
import { useHandler } from '../kit/use-handler';
import { FindingCard } from './FindingCard';
import type { Found } from './found';

/** A line of the list: a heading, or a finding. */
type Line = { heading: string } | { finding: Found };
const noneAlike: readonly Found[] = [];

interface Props {
  broughtIn: Found[];
  others: Found[];
  /** The one that is looked at, of both lists together. */
  at: number;
  /** All such. */
  alike: readonly Found[];
  onGoTo(index: number): void;
  /** Goes to the words of one, and selects them. */
  onGo(finding: Found): void;
}

/** The findings, those brought in by edits first; one is open. */
export function Findings({ broughtIn, others, at, alike, onGoTo, onGo }: Props) {
  const list = useRef<HTMLDivElement>(null);
  const shown = [...broughtIn, ...others];
  const current = shown[at] ?? null;
  const lines = useMemo((): Line[] => {
    const part = (heading: string, all: Found[]): Line[] =>
      all.length ? [{ heading: `${heading} (${all.length})` }, ...all.map((finding) => ({ finding }))] : [];
    return broughtIn.length
      ? [...part('Brought in by edits', broughtIn), ...part('In the text', others)]
      : others.map((finding) => ({ finding }));
  }, [broughtIn, others]);
  const line = lines.findIndex((one) => 'finding' in one && one.finding === current);
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => list.current,
    estimateSize: () => 34,
    overscan: 6,
  });

  const showLine = useHandler(() => {
    if (line >= 0) rows.scrollToIndex(line, { align: 'auto' });
  });
  // When one goes to another, not when others come and go before it.
  useEffect(() => showLine(), [showLine, current?.key]);

  return (
    <>
      <div className="look-steps">
        <Tooltip title={titleOf('previous finding')}>
          <Button size="small" color="inherit" onClick={() => onGoTo(at - 1)}>
            Back
          </Button>
        </Tooltip>
        <span className="second">
          {at + 1} of {shown.length}
        </span>
        <Tooltip title={titleOf('next finding')}>
          <Button size="small" color="inherit" onClick={() => onGoTo(at + 1)}>
            On
          </Button>
        </Tooltip>
      </div>
      <div ref={list} className="look-list" role="list" aria-label="Findings">
        <div style={{ height: rows.getTotalSize(), position: 'relative' }}>
          {rows.getVirtualItems().map((row) => {
            const line = lines[row.index]!;
            return (
              <div
                key={'finding' in line ? `${line.finding.key} ${row.index}` : line.heading}
                role="listitem"
                ref={rows.measureElement}
                data-index={row.index}
                style={{ position: 'absolute', insetInline: 0, top: row.start }}
              >
                {'heading' in line ? (
                  <div className="look-part">{line.heading}</div>
                ) : (
                  <FindingCard
                    finding={line.finding}
                    open={line.finding === current}
                    alike={line.finding === current ? alike : noneAlike}
                    onOpen={() => onGoTo(shown.indexOf(line.finding))}
                    onGo={() => onGo(line.finding)}
                  />
                )}
              </div>
            );
          })}
        </div>
      </div>
    </>
  );
}
