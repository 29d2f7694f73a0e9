import { counted, plural } from '@tea-pencil/core';
import { Button, Tooltip } from '@mui/material';
import { useLastDecision, whoIs } from '../api/queries';
import { useOpened } from '../opened/opened';
import { nameIn } from '../reviewing/words';

/** One's own last decision, which can be taken back for as long as it stands. */
export function LastDecision() {
  const { info, text } = useOpened();
  const { data: last, isFetching } = useLastDecision(info.id);
  if (!last || info.seal) return null;
  const { decision, verdict, many } = last;
  const authors = [...new Set(last.authors.map((author) => whoIs(info, author)))];
  const whose = authors.length === 1 ? nameIn(info, authors[0]!) : counted(authors.length, 'person', 'people');
  const what = `Last: ${verdict}ed ${many.toLocaleString('en')} of ${whose}`;
  return (
    <Tooltip title={`${plural(many, 'This change is', 'These changes are')} pending again`}>
      <span>
        <Button
          color="inherit"
          className="last-decision"
          disabled={isFetching}
          onClick={() => void text.takeBack(decision)}
        >
          <span className="last-decision-what">{what}</span>&nbsp;· take back
        </Button>
      </span>
    </Tooltip>
  );
}
