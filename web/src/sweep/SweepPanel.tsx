import { Box, Button, Checkbox, FormControlLabel, MenuItem, Select, TextField, Tooltip } from '@mui/material';
import { useVirtualizer } from '@tanstack/react-virtual';
import type { Node } from 'prosemirror-model';
import type { EditorView } from 'prosemirror-view';
import { useEffect, useMemo, useRef, useState } from 'react';
import {
  counted,
  isUnseen,
  linesOf,
  spaceWords,
  type Hit,
  type Line,
  type ParagraphStyle,
  type Query,
} from '@tea-pencil/core';
import type { Hand } from '../live/intents';
import { show, useDrawn, useLooking, useOpened } from '../opened/opened';
import { styleLabels } from '../commands/table';
import { hitsKey, type Shown } from './hits';
import { useChosen } from './use-chosen';
import { useSearch } from './use-search';

const rowHeight = 26;
const fresh: Query = { text: '', matchCase: false, wholeWords: false, pattern: false, style: null };

/** Finding words throughout, and replacing them as one sweep: counted and shown before anything is done. */
export function SweepPanel({ view }: { view: EditorView }) {
  const opened = useOpened();
  const { text, may, say, toText } = opened;
  const { write: mayWrite } = may;
  const { doc } = useDrawn();
  const { reading } = useLooking().look;
  const onClose = () => {
    show(opened, 'find', false);
    toText();
  };
  const [query, setQuery] = useState(() => ({ ...fresh, text: selectedWords(view) }));
  const [replacement, setReplacement] = useState('');
  const [replacing, setReplacing] = useState(false);
  const found = useSearch(doc, query, replacement);
  const { hits, problem, searching } = found;
  const { left, current: here, lookAt, toggle, begin } = useChosen(found);
  const lines = useMemo(() => (found.doc ? linesOf(found.doc) : []), [found.doc]);
  const chosen = hits.filter(({ fixed }, i) => !fixed && !left.has(i));

  useMarked(hits, here, found.doc);
  const ask = (part: Partial<Query>) => {
    setQuery((before) => ({ ...before, ...part }));
    begin();
  };
  const goTo = (i: number) => {
    const next = (i + hits.length) % hits.length;
    lookAt(next);
    const first = found.doc && !searching && text.placesNow([hits[next]!], found.doc)[0]?.[0];
    if (!first) return;
    text.select(first);
    // Another reading has its words elsewhere.
    if (reading !== 'marked') return opened.goTo(first.from);
    const element = view.domAtPos(first.from).node;
    (element instanceof Element ? element : element.parentElement)?.scrollIntoView({ block: 'center' });
  };
  const replace = (hand: Hand) => {
    const { replaced, changed } = text.sweep(chosen, found.doc!, hand);
    const how = hand === 'pencil' ? 'Recorded as one sweep' : 'Replaced in ink, unrecorded';
    const others = changed ? ` Changed meanwhile, and left: ${counted(changed, 'place')}.` : '';
    say(`${how}: ${counted(replaced, 'place')}. Undo takes it back.${others}`);
    begin();
  };

  return (
    <Box
      component="section"
      aria-label="Find and replace"
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        onClose();
      }}
      className="sweep"
      sx={{
        flex: 'none',
        bgcolor: 'background.paper',
        borderTop: '1px solid',
        borderColor: 'divider',
        px: 2,
        pt: 1.75,
        pb: 1,
      }}
    >
      <Box>
        <TextField
          autoFocus
          fullWidth
          size="small"
          label="Find"
          value={query.text}
          error={!!problem}
          onChange={(event) => ask({ text: event.target.value })}
          onKeyDown={(event) => {
            if (event.key !== 'Enter' || !hits.length) return;
            event.preventDefault();
            goTo(here + (event.shiftKey ? -1 : 1));
          }}
        />
        {mayWrite && (
          <TextField
            fullWidth
            size="small"
            label="Replace with"
            value={replacement}
            onChange={(event) => {
              setReplacement(event.target.value);
              setReplacing(true);
            }}
            sx={{ mt: 1 }}
          />
        )}
        <Conditions query={query} ask={ask} />
      </Box>
      <Box sx={{ minWidth: 0 }}>
        <Box role="status" sx={{ color: problem ? 'secondary.main' : 'text.secondary', fontSize: 13, mb: 0.5 }}>
          {problem ?? (searching ? 'Looking …' : query.text && foundWords(hits))}
          {left.size > 0 && `, ${left.size} left out`}
        </Box>
        <Hits
          hits={hits}
          lines={lines}
          replacing={replacing && mayWrite}
          left={left}
          current={here}
          onGo={goTo}
          onToggle={toggle}
        />
      </Box>
      <Box sx={{ display: 'flex', flexDirection: 'column', gap: 0.75, alignItems: 'stretch', width: 190 }}>
        <ReplaceButtons many={chosen.length} ready={!searching && chosen.length > 0} replace={replace} />
        <Button color="inherit" onClick={onClose} sx={{ color: 'text.secondary' }}>
          Close
        </Button>
      </Box>
    </Box>
  );
}

const foundWords = (hits: readonly Hit[]): string =>
  hits.length ? `${counted(hits.length, 'place')} found` : 'Not in this text';

/** What is found is set off in the text; when the panel closes nothing is. */
function useMarked(hits: readonly Hit[], here: number, of: Node | null): void {
  const { text } = useOpened();
  useEffect(() => {
    const places = of ? text.placesNow(hits, of) : [];
    text.tell(hitsKey, { ranges: places.flat(), current: places[here] ?? [] } satisfies Shown);
  }, [hits, here, of, text]);
  useEffect(() => () => text.tell(hitsKey, { ranges: [], current: [] }), [text]);
}

/** Which places count. */
function Conditions({ query, ask }: { query: Query; ask(part: Partial<Query>): void }) {
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1, mt: 0.25 }}>
      {(
        [
          ['matchCase', 'Same case', 'Tell capitals from small letters'],
          ['wholeWords', 'Whole words', 'Not within longer words'],
          [
            'pattern',
            'Expression',
            'A regular expression (syntax of RE2, which does not look ahead); $1 stands for its first group',
          ],
        ] as const
      ).map(([name, label, title]) => (
        <Tooltip title={title} key={name}>
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={query[name]}
                onChange={(event) => ask({ [name]: event.target.checked })}
                sx={{ py: 0.25 }}
              />
            }
            label={label}
            slotProps={{ typography: { sx: { fontSize: 12.5 } } }}
            sx={{ mr: 0 }}
          />
        </Tooltip>
      ))}
      <Select
        variant="standard"
        disableUnderline
        displayEmpty
        value={query.style ?? ''}
        inputProps={{ 'aria-label': 'In paragraphs of this style' }}
        onChange={(event) => ask({ style: (event.target.value || null) as ParagraphStyle | null })}
        sx={{ fontSize: 12.5, ml: 1 }}
      >
        <MenuItem value="">in all text</MenuItem>
        {styleLabels.map(([name, label]) => (
          <MenuItem key={name} value={name}>
            in {label.toLowerCase()}
          </MenuItem>
        ))}
      </Select>
    </Box>
  );
}

/** Replacing in pencil as one sweep, or in ink. */
function ReplaceButtons({ many, ready, replace }: { many: number; ready: boolean; replace(hand: Hand): void }) {
  const { may } = useOpened();
  return (
    <>
      {may.write && (
        <Tooltip title="Each place becomes a change; together they are one sweep, decided as one or place by place">
          <span>
            <Button fullWidth variant="contained" disabled={!ready} onClick={() => replace('pencil')}>
              Replace {many} in pencil
            </Button>
          </span>
        </Tooltip>
      )}
      {may.ink && (
        <Tooltip title="Straight into the text, without changes that anyone could decide">
          <span>
            <Button fullWidth variant="outlined" color="inherit" disabled={!ready} onClick={() => replace('ink')}>
              Replace {many} in ink
            </Button>
          </span>
        </Tooltip>
      )}
    </>
  );
}

/** The selected words, if they are few and of one paragraph: what one most likely looks for. */
function selectedWords({ state: { doc, selection } }: EditorView): string {
  const { from, to, $from, $to } = selection;
  return $from.sameParent($to) && to - from < 80 ? doc.textBetween(from, to) : '';
}

interface HitsProps {
  hits: Hit[];
  lines: readonly Line[];
  replacing: boolean;
  left: ReadonlySet<number>;
  current: number;
  onGo(i: number): void;
  onToggle(i: number): void;
}

/** Each place in its line, as it is and as it would be; those that are ticked off stay as they are. */
function Hits({ hits, lines, replacing, left, current, onGo, onToggle }: HitsProps) {
  const list = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: hits.length,
    getScrollElement: () => list.current,
    estimateSize: () => rowHeight,
    overscan: 8,
  });
  return (
    <Box ref={list} role="list" aria-label="Places found" sx={{ height: 118, overflowY: 'auto' }}>
      <Box sx={{ height: rows.getTotalSize(), position: 'relative' }}>
        {rows.getVirtualItems().map(({ index, start }) => {
          const { line, from, to, text, replacement, fixed } = hits[index]!;
          const { text: words = '', paragraph } = lines[line] ?? {};
          return (
            <Box
              key={index}
              role="listitem"
              sx={{
                position: 'absolute',
                top: start,
                left: 0,
                right: 0,
                height: rowHeight,
                display: 'flex',
                alignItems: 'center',
                whiteSpace: 'nowrap',
                bgcolor: index === current ? 'background.default' : undefined,
              }}
            >
              <Checkbox
                size="small"
                checked={!left.has(index)}
                onChange={() => onToggle(index)}
                slotProps={{
                  input: {
                    'aria-label': `Replace ${isUnseen(text) ? spaceWords(text) : text} in paragraph ${paragraph}`,
                  },
                }}
                sx={{ p: 0.25, visibility: replacing && !fixed ? 'visible' : 'hidden' }}
              />
              <Box
                component="button"
                onClick={() => onGo(index)}
                className="serif"
                sx={{
                  border: 0,
                  background: 'none',
                  color: 'text.primary',
                  fontSize: 14,
                  display: 'flex',
                  flex: 1,
                  minWidth: 0,
                  cursor: 'pointer',
                  textAlign: 'left',
                }}
              >
                <Box component="span" className="second" sx={{ width: 42, alignSelf: 'center' }}>
                  ¶ {paragraph}
                </Box>
                <Box component="span" sx={{ width: '34%', overflow: 'hidden', direction: 'rtl', textAlign: 'right' }}>
                  <bdi>{words.slice(Math.max(0, from - 60), from)}</bdi>
                </Box>
                <Box component="span" sx={{ whiteSpace: 'pre', ml: /\s/.test(words[from - 1] ?? '') ? '0.3em' : 0 }}>
                  {replacing && !left.has(index) && text !== replacement ? (
                    <>
                      <span className="found-gone">{text}</span>
                      <b>{replacement}</b>
                    </>
                  ) : (
                    <b title={fixed && 'In something of the file: found, and not replaced'}>{text}</b>
                  )}
                </Box>
                <Box component="span" sx={{ flex: 1, overflow: 'hidden', whiteSpace: 'pre' }}>
                  {words.slice(to, to + 80)}
                </Box>
              </Box>
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}
