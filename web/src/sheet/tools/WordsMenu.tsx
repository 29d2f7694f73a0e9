import { Box, Button, Popover, Tooltip } from '@mui/material';
import type { EditorState } from 'prosemirror-state';
import { useRef, useState, type ReactNode } from 'react';
import { highlightColours, schema, setWords, wordColours, type PropertyMarkName } from '@tea-pencil/core';
import { useCommands } from '../../commands/acts';
import { usePopRule } from '../../kit/focus';
import { LanguageChoice } from '../../kit/LanguageChoice';
import { useDrawn, useOpened } from '../../opened/opened';

const sizes: [value: number | null, label: string][] = [
  [9, 'Small'],
  [null, 'Usual'],
  [16, 'Large'],
  [22, 'Largest'],
];

/** The value that the selected words have, if the first of them has one. */
function valueOf(state: EditorState, name: PropertyMarkName): unknown {
  const { $from, empty } = state.selection;
  const marks = empty ? (state.storedMarks ?? $from.marks()) : ($from.nodeAfter?.marks ?? []);
  const mark = schema.marks[name].isInSet(marks);
  return mark ? ((mark.attrs.value as unknown) ?? true) : null;
}

/**
 * The look of words beyond bold, italic and underline.
 * @param hidden whether it has no button of its own, for want of room
 */
export function WordsMenu({ disabled, hidden }: { disabled: boolean; hidden: boolean }) {
  const { edit } = useOpened();
  const { onExited, ...rule } = usePopRule();
  const anchor = useRef<HTMLSpanElement>(null);
  const [at, setOpen] = useState(false);
  const open = () => setOpen(true);
  useCommands({ words: open });
  const state = useDrawn();
  const row = (label: string, children: ReactNode) => (
    <Box role="group" aria-label={label} sx={{ display: 'flex', alignItems: 'center', gap: 0.5, mb: 0.75 }}>
      <Box sx={{ width: 68, color: 'text.secondary', fontSize: 12 }}>{label}</Box>
      {children}
    </Box>
  );
  /** One choice of a property; one that is `off` when chosen again is a switch. */
  const choice = (
    group: string,
    name: PropertyMarkName,
    value: unknown,
    label: string,
    content: ReactNode,
    off = false,
  ) => {
    const chosen = valueOf(state, name) === value;
    return (
      <Tooltip title={label} key={label}>
        <Button
          color="inherit"
          aria-label={`${group}: ${label}`}
          aria-pressed={chosen}
          // It stays open: colour and size are often chosen one after the other.
          onClick={() => edit(setWords(name, off && chosen ? null : value))}
          sx={{
            minWidth: 32,
            px: 0.75,
            py: 0.25,
            border: '1px solid',
            borderColor: chosen ? 'primary.main' : 'divider',
          }}
        >
          {content}
        </Button>
      </Tooltip>
    );
  };
  const toggle = (name: PropertyMarkName, label: string, content: ReactNode, value: unknown = true) =>
    choice('Look', name, value, label, content, true);
  return (
    <>
      <Tooltip title="Strike, super- and subscript, colour, highlight, size and language of the selected words">
        <span ref={anchor}>
          {!hidden && (
            <Button
              color="inherit"
              aria-label="Colour and size"
              aria-haspopup="dialog"
              disabled={disabled}
              onClick={open}
              sx={{ px: 0.9, py: 0.2, color: 'text.secondary' }}
            >
              Colour
            </Button>
          )}
        </span>
      </Tooltip>
      <Popover
        anchorEl={() => anchor.current}
        open={at}
        onClose={() => setOpen(false)}
        {...rule}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{
          transition: { onExited },
          paper: { sx: { p: 1.5, pb: 0.75 }, role: 'dialog', 'aria-label': 'Colour and size' },
        }}
      >
        {at && (
          <>
            {row('Look', [
              toggle('strike', 'Strike', <s>a</s>),
              toggle('script', 'Superscript', <span>a²</span>, 'super'),
              toggle('script', 'Subscript', <span>a₂</span>, 'sub'),
            ])}
            {row('Colour', [
              choice('Colour', 'colour', null, 'as the text', 'a'),
              ...wordColours.map((colour) =>
                choice('Colour', 'colour', colour, colour, <span className={`serif colour-${colour}`}>a</span>),
              ),
            ])}
            {row('Highlight', [
              choice('Highlight', 'highlight', null, 'none', 'a'),
              ...highlightColours.map((colour) =>
                choice(
                  'Highlight',
                  'highlight',
                  colour,
                  colour,
                  <mark className={`serif highlight-${colour}`}>a</mark>,
                ),
              ),
            ])}
            {row(
              'Language',
              <LanguageChoice
                label="Language of the words"
                value={valueOf(state, 'language') as string | null}
                none="as the manuscript"
                onChoose={(tag) => edit(setWords('language', tag))}
              />,
            )}
            {row(
              'Size',
              sizes.map(([size, label]) => choice('Size', 'size', size, label.toLowerCase(), label)),
            )}
          </>
        )}
      </Popover>
    </>
  );
}
