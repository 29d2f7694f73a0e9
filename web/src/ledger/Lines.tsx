import { Box, Checkbox } from '@mui/material';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type CSSProperties, type ReactNode } from 'react';
import { useWidth } from '../kit/width';
import { useOpened } from '../opened/opened';
import type { Row } from './rows';

/** A line of the ledger: the head of a group with the changes to decide in it, or a row. */
export type Line = { title: string; ids: string[] } | { row: Row };

interface Props {
  lines: readonly Line[];
  /** Where it was scrolled to when it was left. */
  scroll: React.RefObject<number>;
  /** The columns as a grid has them, and how wide they are together, in pixels. */
  template: string;
  width: number;
  head: ReactNode;
  /** What is said where there is no line. */
  none: string;
  /** @param index the row of the table that the line is, from 1; the head is the first */
  draw(line: Line, index: number, style: CSSProperties): ReactNode;
}

/** The lines of the ledger, of which only those are drawn that can be seen. */
export function Lines({ lines, scroll, template, width, head, none, draw }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const rowHeight = useWidth() === 'phone' ? 134 : 42; // as a card, or a line
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => ('row' in lines[i]! ? rowHeight : 30),
    overscan: 12,
    initialOffset: () => scroll.current,
  });
  useEffect(() => virtual.measure(), [virtual, rowHeight]);
  useEffect(() => {
    const element = scroller.current;
    if (!element) return;
    element.scrollTop = scroll.current;
    const note = () => void (scroll.current = element.scrollTop);
    element.addEventListener('scroll', note, { passive: true });
    return () => element.removeEventListener('scroll', note);
  }, [scroll]);

  return (
    <div ref={scroller} className="ledger-scroll" tabIndex={0} role="region" aria-label="The rows of the ledger">
      <div
        role="table"
        aria-label="Ledger"
        aria-rowcount={lines.length + 1}
        style={{ '--ledger-columns': template, '--ledger-width': `${width}px` } as CSSProperties}
      >
        {head}
        <div role="rowgroup" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual
            .getVirtualItems()
            .map(({ index, start, size }) =>
              draw(lines[index]!, index + 2, { position: 'absolute', top: start, left: 0, right: 0, height: size }),
            )}
        </div>
      </div>
      {!lines.length && (
        <Box className="second" sx={{ p: 3, textAlign: 'center' }}>
          {none}
        </Box>
      )}
    </div>
  );
}

interface GroupProps {
  line: { title: string; ids: string[] };
  index: number;
  style: CSSProperties;
  chosen: boolean;
  onChoose(on: boolean): void;
}

/** The head of a group; whoever may decide chooses all of it there. */
export function GroupLine({ line: { title, ids }, index, style, chosen, onChoose }: GroupProps) {
  const { may } = useOpened();
  return (
    <div role="row" aria-rowindex={index} className="ledger-group" style={style}>
      <span role="cell">
        {may.decide && (
          <Checkbox
            size="small"
            disabled={!ids.length}
            checked={chosen}
            onChange={(_, on) => onChoose(on)}
            slotProps={{ input: { 'aria-label': `Choose ${title}` } }}
            sx={{ p: 0, mr: 1.5 }}
          />
        )}
        {title}
      </span>
    </div>
  );
}
