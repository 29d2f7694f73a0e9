import { Box, Button, Menu, MenuItem, Tooltip } from '@mui/material';
import { memo } from 'react';
import { usePop } from '../../kit/focus';
import { useOpened } from '../../opened/opened';

const notHeld: [type: string, words: string][] = [
  ['table', 'tables (their text goes as paragraphs)'],
  ['image', 'pictures'],
  ['footnote', 'footnotes'],
  ['colour', 'colours of words'],
  ['highlight', 'highlights'],
  ['size', 'sizes of words'],
];

/** What the files cannot hold of this text, said before someone takes one. */
function NotHeld() {
  const { text } = useOpened();
  const found = new Set<string>();
  text.snapshot().state?.doc.descendants((node) => {
    found.add(node.type.name);
    for (const { type } of node.marks) found.add(type.name);
  });
  const lost = notHeld.filter(([type]) => found.has(type)).map(([, words]) => words);
  return lost.length ? <MenuItem disabled>Not held by these files yet: {lost.join(', ')}.</MenuItem> : null;
}

/** Copies of the text as files. */
export const TakeAway = memo(function TakeAway() {
  const { info } = useOpened();
  const { at, open, close, props, transition } = usePop();
  const copies: [kind: string, label: string, explanation: string][] = [
    ['fair.docx', 'Fair copy, DOCX', 'The text as if every pending change were accepted'],
    ['fair.txt', 'Fair copy, plain text', 'Its words alone, a line a paragraph'],
    [
      'threads.jsonld',
      'Threads, JSON-LD',
      'All comments as W3C web annotations of the fair text, for programs that know them',
    ],
    [
      'marked.docx',
      'Marked copy, DOCX',
      'With all pending changes and comments, their authors and dates; never notes to oneself',
    ],
  ];
  return (
    <>
      <Tooltip title="Download the text as a file">
        <Button color="inherit" aria-haspopup="menu" onClick={open} sx={{ fontWeight: 400, color: 'text.secondary' }}>
          Take away
        </Button>
      </Tooltip>
      <Menu {...props} slotProps={{ transition }}>
        {copies.map(([kind, label, explanation]) => (
          <MenuItem
            key={kind}
            component="a"
            href={`/api/manuscripts/${info.id}/copies/${kind}`}
            download
            onClick={() => close()}
          >
            <Box>
              <Box sx={{ fontWeight: 600 }}>{label}</Box>
              <Box className="second">{explanation}</Box>
            </Box>
          </MenuItem>
        ))}
        {at && <NotHeld />}
      </Menu>
    </>
  );
});
