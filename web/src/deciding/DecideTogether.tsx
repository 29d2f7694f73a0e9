import { Box, Button, Popover, Tooltip } from '@mui/material';
import type { EditorState } from 'prosemirror-state';
import { memo, useState } from 'react';
import { changeKinds, changesIn, type Change, type Verdict } from '@tea-pencil/core';
import { whoIs, type ManuscriptInfo } from '../api/queries';
import type { LiveText } from '../live/live-text';
import { kindNames } from '../reviewing/words';
import { TogetherRows, type Group } from './TogetherRows';

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

interface Props {
  text: LiveText;
  /** The changes of the lens. */
  changes: readonly Change[];
  info: ManuscriptInfo;
  onDecide(verdict: Verdict, ids: string[]): void;
}

/** Deciding many changes in one act, which can be taken back as one. */
export const DecideTogether = memo(function DecideTogether({ text, changes, info, onDecide }: Props) {
  const none = !changes.length;
  const [at, setAt] = useState<HTMLElement | null>(null);
  return (
    <>
      <Tooltip title={none ? 'Nothing waits for a decision' : 'Accept or reject many changes in one act'}>
        <span>
          <Button
            color="inherit"
            aria-haspopup="dialog"
            disabled={none}
            onClick={(event) => setAt(event.currentTarget)}
          >
            Decide together
          </Button>
        </span>
      </Tooltip>
      <Popover
        open={!!at}
        anchorEl={at}
        onClose={() => setAt(null)}
        transitionDuration={0}
        anchorOrigin={{ vertical: 'top', horizontal: 'left' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Decide together', sx: { p: 2, width: 400 } } }}
      >
        {at &&
          groupsOf(text.snapshot().state!, changes, info).map(({ title, groups }) => (
            <Box key={title} sx={{ '& + &': { mt: 1.25, pt: 1, borderTop: '1px solid', borderColor: 'divider' } }}>
              <Box sx={{ fontSize: 11, fontWeight: 600, color: 'text.secondary', mb: 0.25 }}>{title}</Box>
              <TogetherRows
                groups={groups}
                onDecide={(verdict, ids) => {
                  setAt(null);
                  onDecide(verdict, ids);
                }}
              />
            </Box>
          ))}
      </Popover>
    </>
  );
});
