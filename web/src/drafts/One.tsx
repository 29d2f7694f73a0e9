import { LinearProgress } from '@mui/material';
import { useMemo, type ReactNode } from 'react';
import { Node } from 'prosemirror-model';
import { beforeReading, fairReading, schema, withoutAnchors } from '@tea-pencil/core';
import type { ReadAs } from '@tea-pencil/wire';
import { usePastText } from '../api/drafts';
import { Message } from '../kit/Message';
import { useOpened } from '../opened/opened';
import { Blocks } from './Blocks';

const readings: Record<ReadAs, (doc: Node) => Node> = {
  marked: (doc) => doc,
  fair: fairReading,
  before: beforeReading,
};

/** One state of the text alone, in any of its readings. */
export function One({ version, reading, head }: { version: number; reading: ReadAs; head: ReactNode }) {
  const { info } = useOpened();
  const past = usePastText(info.id, version, true);
  const blocks = useMemo(() => {
    if (!past.data) return [];
    const doc = withoutAnchors(Node.fromJSON(schema, past.data.doc));
    return readings[reading](doc).children.map((block) => block.toJSON() as object);
  }, [past.data, reading]);
  if (past.isPending) return <LinearProgress aria-label="The draft is being fetched" />;
  if (past.isError)
    return <Message title="This draft cannot be shown" text={past.error.message} again={() => void past.refetch()} />;
  return (
    <div className="beside one" tabIndex={0} role="region" aria-label="The draft">
      <div className="beside-heads">{head}</div>
      <div className="beside-side">
        <Blocks blocks={blocks} />
      </div>
    </div>
  );
}
