import { Alert, Button } from '@mui/material';
import { useEffect, useState } from 'react';
import { useLocation } from 'react-router';
import { listChanges } from '@tea-pencil/core';
import type { Hand } from '../live/intents';
import { useOpened } from '../opened/opened';
import { quietNotice } from './Notices';

/**
 * A manuscript that is new and one's own alone begins in ink, and says so; when others come to it, the pencil is offered,
 * and ink lasts no longer than it usually does.
 * @param laid whether the text is there
 */
export function Beginning({ hand, laid }: { hand: Hand; laid: boolean }) {
  const { info, me, may, text, sheet, toText } = useOpened();
  const alone = info.begunHere && info.people.every(({ id, role }) => role === null || id === me.id);
  // The pencil can be chosen when a manuscript is begun.
  const asked = (useLocation().state as { hand?: string } | null)?.hand;
  const [stage, setStage] = useState<'not yet' | 'alone' | 'closed' | 'shared' | 'over'>('not yet');
  useEffect(() => {
    if (stage === 'not yet' && laid) {
      // What is pending was recorded on purpose: the pencil was chosen then.
      const begins = alone && may.ink && asked !== 'pencil' && !listChanges(text.snapshot().state!.doc).length;
      if (begins) text.take('ink', 'until told');
      // eslint-disable-next-line react-hooks/set-state-in-effect -- once, when the text is there
      setStage(begins ? 'alone' : 'over');
    } else if ((stage === 'alone' || stage === 'closed') && !alone) {
      if (text.snapshot().hand === 'ink') text.take('ink');
      setStage('shared');
    }
  }, [stage, laid, alone, may.ink, asked, text]);
  // What is new is there to be written: the keyboard is in it as soon as it is drawn.
  const doc = stage === 'not yet' ? undefined : text.snapshot().state?.doc;
  const isEmpty = alone && may.write && doc?.childCount === 1 && !doc.firstChild!.content.size;
  useEffect(() => {
    if (!isEmpty || document.activeElement !== document.body) return;
    const enter = () => {
      if (!sheet.get().view) return;
      leave();
      toText();
    };
    const leave = sheet.subscribe(enter);
    enter();
    return leave;
  }, [isEmpty, sheet, toText]);
  const choose = (done: () => void) => {
    done();
    toText();
  };
  if (hand === 'pencil' || (stage !== 'alone' && stage !== 'shared')) return null;
  return (
    <Alert
      severity="info"
      icon={false}
      square
      sx={{ ...quietNotice, flexWrap: 'wrap', '& .MuiButton-root': { whiteSpace: 'nowrap' } }}
      action={
        <>
          <Button
            color="inherit"
            size="small"
            onClick={() => choose(() => setStage(stage === 'alone' ? 'closed' : 'over'))}
          >
            Stay in ink
          </Button>
          <Button color="inherit" size="small" variant="outlined" onClick={() => choose(() => text.take('pencil'))}>
            Write in pencil
          </Button>
        </>
      }
    >
      {stage === 'alone'
        ? 'This manuscript is new and yours alone: you write in ink, and nothing is recorded.'
        : 'Others see this manuscript now. In pencil, what you change is recorded for them.'}
    </Alert>
  );
}
