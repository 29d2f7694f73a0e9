import { Button, Popover, Tooltip } from '@mui/material';
import { memo } from 'react';
import { changeKinds } from '@tea-pencil/core';
import { Choice, Choices } from '../kit/Choice';
import { usePop } from '../kit/focus';
import { useLooking } from '../opened/opened';
import type { Flow, Look } from '@tea-pencil/wire';
import { kindNames, toggled } from './words';

const flows: [flow: Flow, label: string, explanation: string][] = [
  ['both', 'both', 'Removed and added words stand where they are'],
  ['fair', 'as fair', 'The text runs as if all were accepted; removed words stand at the side'],
  ['before', 'as before', 'The text runs as if all were rejected; added words stand at the side'],
];

/** How the Marked reading runs, what is folded, and which notes stand beside it. */
export const FlowMenu = memo(function FlowMenu() {
  const { look, setLook } = useLooking();
  const { open, props, transition } = usePop();
  const set = (part: Partial<Look>) => setLook({ ...look, ...part });
  const running = flows.find(([flow]) => flow === look.flow)![1];
  return (
    <>
      <Tooltip
        disableFocusListener
        title="How the marked text runs, what is folded away, and which notes stand beside it"
      >
        <span>
          <Button
            color="inherit"
            aria-haspopup="dialog"
            disabled={look.reading !== 'marked'}
            onClick={open}
            sx={{ px: 0.9, py: 0.2, color: 'text.secondary', fontWeight: 400 }}
          >
            Flow: {running}
            {look.folded.length > 0 && `, ${look.folded.length} folded`}
          </Button>
        </span>
      </Tooltip>
      <Popover
        {...props}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ transition, paper: { role: 'dialog', 'aria-label': 'Flow and notes', sx: { p: 2, width: 430 } } }}
      >
        <Choices label="The text runs">
          {flows.map(([flow, label, explanation]) => (
            <Choice key={flow} chosen={look.flow === flow} title={explanation} onChoose={() => set({ flow })}>
              {label}
            </Choice>
          ))}
        </Choices>
        <Choices label="Folded">
          {changeKinds.map((kind) => (
            <Choice
              key={kind}
              chosen={look.folded.includes(kind)}
              title="Drawn as plain text, with a number at the sheet’s edge that opens them"
              onChoose={() => set({ folded: toggled(look.folded, kind) })}
            >
              {kindNames[kind]}
            </Choice>
          ))}
        </Choices>
        <Choices label="Notes">
          <Choice chosen={look.notes === 'all'} onChoose={() => set({ notes: 'all' })}>
            of all changes
          </Choice>
          <Choice chosen={look.notes === 'caret'} onChoose={() => set({ notes: 'caret' })}>
            of the one the caret is in
          </Choice>
        </Choices>
        <Choices label="Talk">
          <Choice chosen={look.talk === 'margin'} onChoose={() => set({ talk: 'margin' })}>
            in the margin
          </Choice>
          <Choice
            chosen={look.talk === 'signs'}
            title="The margin is hidden; a small sign in the text shows its thread on pointing"
            onChoose={() => set({ talk: 'signs' })}
          >
            as signs in the text
          </Choice>
        </Choices>
      </Popover>
    </>
  );
});
