import { Box } from '@mui/material';
import type { EditorView } from 'prosemirror-view';
import { TextSelection } from 'prosemirror-state';
import { useCallback, useMemo, useState } from 'react';
import type { Node } from 'prosemirror-model';
import {
  alikeTo,
  anchors,
  changesIn,
  describeChange,
  sentenceAround,
  type Change,
  type Thread,
  type Verdict,
} from '@tea-pencil/core';
import { mayAtLeast, useThreads, type Account, type ManuscriptInfo } from '../api/queries';
import { useMode } from '../app/App';
import { Editor } from '../editor/Editor';
import type { LiveText, Snapshot } from '../live/live-text';
import { EditMargin } from '../margins/EditMargin';
import { useHeights } from '../margins/use-heights';
import { TalkMargin } from '../talk/TalkMargin';
import { useTalk } from '../talk/use-talk';
import { hueOf } from '../theme/hues';
import type { Mode } from '../theme/theme';
import { changesOf } from './changes-of';
import { Slip } from './Slip';
import { Toolbar } from './Toolbar';
import { said } from './time';

interface Props {
  info: ManuscriptInfo;
  me: Account;
  text: LiveText;
  snapshot: Snapshot;
  mayWrite: boolean;
  say(sentence: string): void;
  /** Says what was decided, with a way to take it back. */
  onDecided(sentence: string, decision: string): void;
}

interface Focus {
  change: string | null;
  thread: string | null;
}

/** The sheet with its two margins, and the slip of the change in focus. */
export function Table({ info, me, text, snapshot, mayWrite, say, onDecided }: Props) {
  const state = snapshot.state!;
  const { doc } = state;
  const { mode } = useMode();
  const threads = useThreads(info.id);
  const [view, setView] = useState<EditorView | null>(null);
  const [scroller, setScroller] = useState<HTMLElement | null>(null);
  const [sheet, setSheet] = useState<HTMLElement | null>(null);
  const [focused, setFocused] = useState<Focus>({ change: null, thread: null });
  const [pointed, setPointed] = useState<{ text: string; x: number; y: number } | null>(null);

  const changes = changesOf(doc);
  const byId = useMemo(() => new Map(changes.map((change) => [change.id, change])), [changes]);
  const places = useMemo(() => anchors(doc), [doc]);
  const nameOf = useCallback(
    (id: string) => info.people.find((person) => person.id === id)?.name ?? 'Someone',
    [info.people],
  );
  const mayDecide = mayAtLeast(info.role, 'decider');
  const mayRemark = mayAtLeast(info.role, 'remarker');
  const shown = (threads.data ?? []).filter(({ resolved, id }) => !resolved || id === focused.thread);

  const focusThread = useCallback((thread: string | null) => setFocused({ change: null, thread }), []);
  const focusChange = useCallback((change: string | null) => setFocused({ change, thread: null }), []);
  const talk = useTalk(info.id, text, mayRemark, say, focusThread);
  // A change that has been decided, here or elsewhere, closes its slip.
  const change = focused.change ? byId.get(focused.change) : undefined;
  const heights = useHeights({
    view,
    scroller,
    sheet,
    changes,
    places,
    focused: change,
    begun: talk.begun?.from ?? null,
  });

  const decide = async (ids: string[], verdict: Verdict) => {
    focusChange(null);
    view?.focus();
    const decision = await text.decide(ids, verdict);
    const done = { accept: 'Accepted', reject: 'Rejected' }[verdict];
    if (decision) onDecided(`${done} ${ids.length === 1 ? 'one change' : `${ids.length} changes`}.`, decision);
  };
  const together = change ? decidedWith(doc, change, changes) : [];
  const commentOn = ({ from, to }: { from: number; to: number }) => {
    text.dispatch(state.tr.setSelection(TextSelection.between(doc.resolve(from), doc.resolve(to))));
    talk.begin();
  };
  const point = (event: React.MouseEvent) => {
    const marked = (event.target as HTMLElement).closest<HTMLElement>('[data-change]');
    const over = marked && byId.get(marked.dataset.change ?? '');
    if (!over) return setPointed(null);
    const words = `${nameOf(over.author)} ${describeChange(over)} · ${said(over.date)}`;
    setPointed({ text: words, x: event.clientX, y: event.clientY });
  };

  const hand = mayWrite ? snapshot.hand : 'closed';
  return (
    <Box component="main" ref={setScroller} sx={{ flex: 1, overflow: 'auto', position: 'relative' }}>
      <style>{anchorSheet(shown, info, mode) + focusSheet(focused)}</style>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: 'minmax(196px, 1fr) 640px minmax(300px, 1.7fr)',
          minWidth: 1136,
        }}
      >
        <Box sx={{ gridColumn: 2, position: 'sticky', top: 0, zIndex: 6, bgcolor: 'background.default' }}>
          <Toolbar view={view} state={state} mayWrite={mayWrite} mayRemark={mayRemark} onComment={talk.begin} />
          <div className={`edge ${hand === 'closed' ? 'closed' : `in-${hand}`}`} />
        </Box>
        <Box sx={{ gridColumn: 1, gridRow: 2 }}>
          <EditMargin {...heights} focused={focused.change} nameOf={nameOf} onFocus={focusChange} />
        </Box>
        <Box
          ref={setSheet}
          className={`sheet in-${hand}`}
          sx={{ gridColumn: 2, gridRow: 2, position: 'relative' }}
          onMouseMove={point}
          onMouseLeave={() => setPointed(null)}
        >
          <Editor
            text={text}
            mayWrite={mayWrite}
            onView={setView}
            onPoint={(id, thread) => setFocused({ change: id, thread })}
          />
          {change && heights.slip && (
            <Slip
              doc={doc}
              change={change}
              name={nameOf(change.author)}
              mayDecide={mayDecide}
              own={change.author === me.id}
              mayRemark={mayRemark}
              {...heights.slip}
              together={together}
              onDecide={(verdict, ids = [change.id]) => void decide(ids, verdict)}
              onClose={() => focusChange(null)}
              onComment={() => commentOn(change.ranges[0]!)}
            />
          )}
        </Box>
        <Box sx={{ gridColumn: 3, gridRow: 2, pl: 3, pr: 4, maxWidth: 400 }}>
          <TalkMargin
            threads={shown.map((thread) => ({ thread, y: heights.threads.get(thread.id) ?? null }))}
            people={info.people}
            focused={focused.thread}
            mayRemark={mayRemark}
            begun={talk.begun && { quote: talk.begun.quote, y: heights.begun }}
            onFocus={focusThread}
            onBegin={talk.keep}
            onLeave={talk.leave}
            onReply={talk.reply}
            onResolve={talk.resolve}
          />
        </Box>
      </Box>
      {pointed && !change && (
        <Box
          role="tooltip"
          sx={{
            position: 'fixed',
            left: pointed.x + 10,
            top: pointed.y + 16,
            zIndex: 30,
            px: 1,
            py: 0.4,
            bgcolor: 'text.primary',
            color: 'background.paper',
            fontSize: 12,
            borderRadius: 0.5,
            pointerEvents: 'none',
            maxWidth: 360,
          }}
        >
          {pointed.text}
        </Box>
      )}
    </Box>
  );
}

/** What can be decided together with a change: all that are alike, and all in its sentence. */
function decidedWith(doc: Node, change: Change, changes: readonly Change[]) {
  const ids = (list: readonly Change[]) => [...new Set([change.id, ...list.map(({ id }) => id)])];
  const alike = ids(alikeTo(change, changes));
  const sentence = ids(changesIn(sentenceAround(doc, change), changes));
  return [
    { label: `This and ${alike.length - 1} alike`, ids: alike },
    { label: `All ${sentence.length} in this sentence`, ids: sentence },
  ].filter((group) => group.ids.length > 1);
}

/** Outlines commented words in the hue of who began the thread; those of threads that are resolved not at all. */
function anchorSheet(threads: readonly Thread[], info: ManuscriptInfo, mode: Mode): string {
  const rule = ({ id, comments }: Thread) => {
    const person = info.people.find((one) => one.id === comments[0]?.author);
    return `.sheet [data-thread="${CSS.escape(id)}"] { outline: 1px solid ${hueOf(person?.hue ?? 0, mode).line}; }`;
  };
  return threads.map(rule).join('\n');
}

/** Lights the words of what is in focus; no line is drawn to them. */
function focusSheet({ change, thread }: Focus): string {
  const lit =
    'outline: 2px solid color-mix(in srgb, var(--line, var(--graphite)) 55%, transparent); outline-offset: 1px; border-radius: 3px;';
  const plum = 'outline: 2px solid var(--plum); background: var(--plumTint);';
  return [
    change && `.sheet [data-change="${CSS.escape(change)}"]:not(.notch) { ${lit} }`,
    thread && `.sheet [data-thread="${CSS.escape(thread)}"] { ${plum} }`,
  ]
    .filter(Boolean)
    .join('\n');
}
