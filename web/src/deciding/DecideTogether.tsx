import { Box, Button, Popover, Tooltip } from '@mui/material';
import type { EditorState } from 'prosemirror-state';
import { memo } from 'react';
import { changeKinds, changesIn, type Change } from '@tea-pencil/core';
import { whoIs, type ManuscriptInfo } from '../api/queries';
import { usePop } from '../kit/focus';
import { useOpened } from '../opened/opened';
import { useReviewed } from '../reviewing/use-reviewing';
import { kindNames } from '../reviewing/words';
import { TogetherRows, type Group } from './TogetherRows';
import { useDecide } from './use-deciding';

const idsOf = (changes: readonly Change[]) => changes.map(({ id }) => id);

/** What can be decided in one act: where one is, all of a person, all of a kind, all. */
function groupsOf(
  state: EditorState,
  changes: readonly Change[],
  info: ManuscriptInfo,
): { title: string; groups: Group[] }[] {
  const { from, to, empty, $from } = state.selection;
  const here: Group[] = [];
  if (!empty) here.push({ label: 'Selected', ids: idsOf(changesIn({ from, to }, changes)) });
  else if ($from.depth) {
    const paragraph = { from: $from.before($from.depth), to: $from.after($from.depth) };
    here.push({ label: 'In this paragraph', ids: idsOf(changesIn(paragraph, changes)) });
  }
  const people = info.people.map(({ id, name }) => ({
    label: `By ${name}`,
    author: id,
    ids: idsOf(changes.filter(({ author }) => whoIs(info, author) === id)),
  }));
  const kinds = changeKinds.map((kind) => ({
    label: `All ${kindNames[kind]}`,
    ids: idsOf(changes.filter((change) => change.kind === kind)),
  }));
  return [
    { title: 'Here', groups: here },
    { title: 'By person', groups: people },
    { title: 'By kind', groups: kinds },
    { title: 'Everything', groups: [{ label: 'All of the lens; comments stay', ids: idsOf(changes) }] },
  ]
    .map(({ title, groups }) => ({ title, groups: groups.filter(({ ids }) => ids.length) }))
    .filter(({ groups }) => groups.length);
}

/** Deciding many changes in one act, which can be taken back as one. */
export const DecideTogether = memo(function DecideTogether() {
  const { text, info } = useOpened();
  const { inLens: changes } = useReviewed();
  const decide = useDecide();
  const none = !changes.length;
  const { at, open, close, props, transition } = usePop();
  return (
    <>
      <Tooltip title={none ? 'Nothing waits for a decision' : 'Accept or reject many changes in one act'}>
        <span>
          <Button color="inherit" aria-haspopup="dialog" disabled={none} onClick={open}>
            Decide together
          </Button>
        </span>
      </Tooltip>
      <Popover
        {...props}
        anchorOrigin={{ vertical: 'top', horizontal: 'left' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ transition, paper: { role: 'dialog', 'aria-label': 'Decide together', sx: { p: 2, width: 400 } } }}
      >
        {at &&
          groupsOf(text.snapshot().state!, changes, info).map(({ title, groups }) => (
            <Box key={title} sx={{ '& + &': { mt: 1.25, pt: 1, borderTop: '1px solid', borderColor: 'divider' } }}>
              <Box sx={{ fontSize: 11, fontWeight: 600, color: 'text.secondary', mb: 0.25 }}>{title}</Box>
              <TogetherRows groups={groups} onDecide={(verdict, ids) => close(() => decide(verdict, ids))} />
            </Box>
          ))}
      </Popover>
    </>
  );
});
