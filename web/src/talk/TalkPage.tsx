import { Box, Button, MenuItem, Select, TextField, Tooltip } from '@mui/material';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import { answersOwed, sectionsOf, type Thread, counted } from '@tea-pencil/core';
import { whoIs } from '../api/queries';
import { Courtesy } from './Courtesy';
import { useActs } from '../commands/acts';
import { OneOfMany } from '../kit/ErrorBoundary';
import { useDrawn, useLooking, useOpened } from '../opened/opened';
import { useTalkContext } from './context';
import { abouts, filtered, plainFilter, type Filter, type State } from './filters';
import { TalkRow } from './TalkRow';

interface Props {
  /** All threads of the lens, by place. */
  threads: readonly Thread[];
  /** How many there are outside the lens. */
  outside: number;
}

const states: [state: State, label: string][] = [
  ['open', 'open'],
  ['resolved', 'resolved'],
  ['all', 'all'],
];

const lastSaid = ({ date, comments }: Thread) => comments.at(-1)?.date ?? date;

/** The list of threads: filtered, searched, by place or the newest first; resolving all it shows; and courtesy. */
export function TalkPage({ threads, outside }: Props) {
  const {
    info,
    me: { id: me },
    may,
  } = useOpened();
  const acts = useActs();
  const { talk } = useTalkContext();
  const [filter, setFilter] = useState<Filter>(plainFilter);
  const [order, setOrder] = useState<'place' | 'newest'>('place');
  const [courtesy, setCourtesy] = useState(false);
  const set = (part: Partial<Filter>) => setFilter((now) => ({ ...now, ...part }));

  const shown = useMemo(() => {
    const found = filtered(threads, filter, info, me);
    return order === 'place' ? found : [...found].sort((a, b) => (lastSaid(a) < lastSaid(b) ? 1 : -1));
  }, [threads, filter, info, me, order]);
  const openOnes = shown.filter(({ resolved }) => !resolved);

  if (courtesy) return <Courtesy threads={threads} onClose={() => setCourtesy(false)} />;
  return (
    <Box component="main" className="talk-page">
      <div className="talk-head">
        <Box component="h1" sx={{ fontSize: 15, fontWeight: 600, m: 0 }} data-testid="threads">
          {counted(shown.length, 'thread')}
        </Box>
        {outside > 0 && <span className="unseen-count">{outside} outside this lens</span>}
        <Owed threads={threads} />
        <Box sx={{ flex: 1 }} />
        <Tooltip title="Before they go out: your own comments that may sound terse, loud or like a scolding">
          <Button color="inherit" onClick={() => setCourtesy(true)} sx={{ bgcolor: 'background.paper' }}>
            Reread mine
          </Button>
        </Tooltip>
        {may.remark && (
          <Button color="inherit" onClick={() => acts.do('whole')} sx={{ bgcolor: 'background.paper' }}>
            Comment on the whole
          </Button>
        )}
      </div>
      <div className="talk-head" style={{ paddingTop: 0 }}>
        <Filters threads={threads} filter={filter} set={set} />
        <Select
          variant="standard"
          disableUnderline
          value={order}
          onChange={({ target }) => setOrder(target.value)}
          slotProps={{ input: { 'aria-label': 'In which order' } }}
          sx={{ fontSize: 13 }}
        >
          <MenuItem value="place">by place</MenuItem>
          <MenuItem value="newest">newest first</MenuItem>
        </Select>
        <Box sx={{ flex: 1 }} />
        <TextField
          size="small"
          placeholder="Search in talk"
          value={filter.sought}
          onChange={({ target }) => set({ sought: target.value })}
          slotProps={{ htmlInput: { 'aria-label': 'Search in talk', style: { padding: '5px 9px', fontSize: 13 } } }}
          sx={{ width: 190, bgcolor: 'background.paper' }}
        />
        {may.remark && (
          <Tooltip title="All that this list shows, in one act that can be taken back">
            <span>
              <Button
                color="inherit"
                disabled={!openOnes.length}
                onClick={() => void talk.resolveAll(openOnes.map(({ id }) => id))}
                sx={{ bgcolor: 'background.paper' }}
              >
                Resolve {openOnes.length > 1 ? `all ${openOnes.length}` : 'it'}
              </Button>
            </span>
          </Tooltip>
        )}
      </div>
      <Rows shown={shown} nothing={!threads.length} />
    </Box>
  );
}

/** Who owes how many answers; each is a way to look at theirs only. */
function Owed({ threads }: { threads: readonly Thread[] }) {
  const { info, me, nameOf } = useOpened();
  const { lens, setLens } = useLooking();
  const owed = useMemo(() => [...answersOwed(threads)].sort((a, b) => b[1] - a[1]), [threads]);
  return (
    <span className="second">
      {owed.length
        ? owed.map(([person, n]) => (
            <span key={person}>
              <button
                type="button"
                className="talk-act"
                aria-pressed={lens.owing === person}
                title="Only what waits for them"
                onClick={() => setLens((now) => ({ ...now, owing: now.owing === person ? null : person }))}
              >
                {whoIs(info, person) === me.id ? 'You owe' : `${nameOf(person)} owes`} {counted(n, 'answer')}
              </button>
            </span>
          ))
        : 'Nobody owes an answer'}
    </span>
  );
}

/** Which threads are listed. */
function Filters({
  threads,
  filter,
  set,
}: {
  threads: readonly Thread[];
  filter: Filter;
  set(part: Partial<Filter>): void;
}) {
  const {
    info,
    me: { id: me },
  } = useOpened();
  const authors = useMemo(() => {
    const ids = new Set(
      threads.flatMap((thread) => [thread, ...thread.comments].map(({ author }) => whoIs(info, author))),
    );
    return info.people.filter(({ id }) => ids.has(id));
  }, [threads, info]);
  return (
    <>
      <div role="group" aria-label="State" className="tabs" style={{ height: 28 }}>
        {states.map(([state, label]) => (
          <button
            key={state}
            type="button"
            className="tab"
            aria-pressed={filter.state === state}
            onClick={() => set({ state })}
          >
            {label}
          </button>
        ))}
      </div>
      <div role="group" aria-label="Which" className="tabs" style={{ height: 28 }}>
        {abouts.map(([about, label, explanation]) => (
          <button
            key={about}
            type="button"
            className="tab"
            title={explanation}
            aria-pressed={filter.about === about}
            onClick={() => set({ about })}
          >
            {label}
          </button>
        ))}
      </div>
      <Select
        variant="standard"
        disableUnderline
        displayEmpty
        value={filter.author ?? ''}
        onChange={({ target }) => set({ author: target.value || null })}
        slotProps={{ input: { 'aria-label': 'By whom' } }}
        sx={{ fontSize: 13 }}
      >
        <MenuItem value="">by anyone</MenuItem>
        {authors.map(({ id, name }) => (
          <MenuItem key={id} value={id}>
            by {id === me ? 'me' : name}
          </MenuItem>
        ))}
      </Select>
    </>
  );
}

/** Where in the text a thread is, in words. */
function usePlaceWords(): (thread: Thread) => string {
  const { doc } = useDrawn();
  const { places } = useTalkContext();
  const sections = useMemo(() => sectionsOf(doc), [doc]);
  return ({ id, whole }) => {
    if (whole) return '';
    const at = places.get(id)?.[0]?.from ?? 0;
    const paragraph = doc.resolve(Math.min(at, doc.content.size)).index(0) + 1;
    return [`¶ ${paragraph}`, sections(at).at(-1)].filter(Boolean).join(', ');
  };
}

/** The threads themselves; only those in sight are drawn. */
function Rows({ shown, nothing }: { shown: readonly Thread[]; nothing: boolean }) {
  const [open, setOpen] = useState<string | null>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const placeOf = usePlaceWords();
  const virtual = useVirtualizer({
    count: shown.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 96,
    getItemKey: (i) => shown[i]!.id,
    overscan: 8,
  });
  return (
    <div ref={scroller} className="talk-list" tabIndex={0} role="region" aria-label="Threads">
      <div role="list" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map(({ index, start, key }) => {
          const thread = shown[index]!;
          return (
            <div
              key={key}
              ref={virtual.measureElement}
              data-index={index}
              role="listitem"
              style={{ position: 'absolute', top: start, left: 0, right: 0 }}
            >
              <OneOfMany what="This thread" of={thread}>
                <TalkRow
                  thread={thread}
                  place={placeOf(thread)}
                  open={open === thread.id}
                  onOpen={(on) => setOpen(on ? thread.id : null)}
                />
              </OneOfMany>
            </div>
          );
        })}
      </div>
      {!shown.length && (
        <Box className="second" sx={{ p: 3, textAlign: 'center' }}>
          {!nothing
            ? 'No thread is like that. Choose “all” to see every one.'
            : 'Nothing has been said here yet. Select words in the text and press F4 to comment on them.'}
        </Box>
      )}
    </div>
  );
}
