import { Box } from '@mui/material';
import { useId, type ReactNode } from 'react';

interface Props {
  title: string;
  /** A sentence below the heading. */
  says?: ReactNode;
  /** What stands beside the heading. */
  beside?: ReactNode;
  children?: ReactNode;
}

/** A part of a page under a heading of its own. */
export function Section({ title, says, beside, children }: Props) {
  const id = useId();
  return (
    <Box component="section" aria-labelledby={id} className="part">
      <div className="part-head">
        <h2 id={id} className="serif">
          {title}
        </h2>
        {beside}
      </div>
      {says && <p className="part-says">{says}</p>}
      {children}
    </Box>
  );
}
