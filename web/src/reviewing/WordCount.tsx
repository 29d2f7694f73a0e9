import { Button, Popover, Tooltip } from '@mui/material';
import type { EditorState } from 'prosemirror-state';
import { counted, wordCounts, type WordCounts } from '@tea-pencil/core';
import { usePop } from '../kit/focus';

function Lines({ text, section, selected }: WordCounts) {
  const line = (label: string, n: number) => (
    <>
      <dt>{label}</dt>
      <dd>{counted(n, 'word')}</dd>
    </>
  );
  return (
    <dl className="word-count">
      {line('The text', text)}
      {section && line(`“${section.heading}”`, section.words)}
      {selected > 0 && line('What is selected', selected)}
    </dl>
  );
}

/** How many words there are, as the text reads when all is accepted: of the text, the section and the selection. */
export function WordCount({ state }: { state: EditorState }) {
  const { doc, selection } = state;
  const { open, props, transition } = usePop();
  const counts = wordCounts(doc, selection.from, selection.to);
  return (
    <>
      <Tooltip title="Words as the text reads when all is accepted; of the section, too">
        <Button
          color="inherit"
          aria-haspopup="dialog"
          onClick={open}
          className="second"
          sx={{ fontWeight: 400, px: 0.5 }}
        >
          {counts.selected > 0 && `${counts.selected.toLocaleString('en')} of `}
          {counted(counts.text, 'word')}
        </Button>
      </Tooltip>
      <Popover
        {...props}
        anchorOrigin={{ vertical: 'top', horizontal: 'center' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'center' }}
        slotProps={{ transition, paper: { role: 'dialog', 'aria-label': 'Words', sx: { p: 1.5 } } }}
      >
        <Lines {...counts} />
      </Popover>
    </>
  );
}
