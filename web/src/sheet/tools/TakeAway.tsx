import { Box, Button, Menu, MenuItem, Tooltip } from '@mui/material';
import { memo, useState } from 'react';
import type { LiveText } from '../../live/live-text';

const notHeld: [type: string, words: string][] = [
  ['table', 'tables (their text goes as paragraphs)'],
  ['image', 'pictures'],
  ['footnote', 'footnotes'],
  ['colour', 'colours of words'],
  ['highlight', 'highlights'],
  ['size', 'sizes of words'],
];

/** What the files cannot hold of this text, said before someone takes one. */
function NotHeld({ text }: { text: LiveText }) {
  const found = new Set<string>();
  text.snapshot().state?.doc.descendants((node) => {
    found.add(node.type.name);
    for (const { type } of node.marks) found.add(type.name);
  });
  const lost = notHeld.filter(([type]) => found.has(type)).map(([, words]) => words);
  return lost.length ? <MenuItem disabled>Not held by these files yet: {lost.join(', ')}.</MenuItem> : null;
}

/** Copies of the text as files. */
export const TakeAway = memo(function TakeAway({ id, text }: { id: string; text: LiveText }) {
  const [at, setAt] = useState<HTMLElement | null>(null);
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
        <Button
          color="inherit"
          aria-haspopup="menu"
          onClick={(event) => setAt(event.currentTarget)}
          sx={{ fontWeight: 400, color: 'text.secondary' }}
        >
          Take away
        </Button>
      </Tooltip>
      <Menu anchorEl={at} open={!!at} onClose={() => setAt(null)}>
        {copies.map(([kind, label, explanation]) => (
          <MenuItem
            key={kind}
            component="a"
            href={`/api/manuscripts/${id}/copies/${kind}`}
            download
            onClick={() => setAt(null)}
          >
            <Box>
              <Box sx={{ fontWeight: 600 }}>{label}</Box>
              <Box className="second">{explanation}</Box>
            </Box>
          </MenuItem>
        ))}
        {at && <NotHeld text={text} />}
      </Menu>
    </>
  );
});
