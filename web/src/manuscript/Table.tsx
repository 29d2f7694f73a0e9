import { Box } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { nanoid } from 'nanoid';
import type { EditorView } from 'prosemirror-view';
import { TextSelection } from 'prosemirror-state';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { anchors, describeChange, listChanges, schema, type Change, type Verdict } from '@tea-pencil/core';
import { request } from '../api/client';
import { mayAtLeast, useThreads, type Account, type ManuscriptInfo } from '../api/queries';
import { Editor } from '../editor/Editor';
import type { LiveText, Snapshot } from '../live/live-text';
import { EditMargin } from '../margins/EditMargin';
import { heightOf, measureTicks, type Tick } from '../margins/measure';
import { TalkMargin } from '../margins/TalkMargin';
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
}

/** What is measured after each drawing, in pixels from the top of the sheet. */
interface Heights {
  ticks: Tick[];
  notes: { change: Change; y: number }[];
  threads: ReadonlyMap<string, number>;
}

/** The sheet with its two margins, and the slip of the change in focus. */
export function Table({ info, me, text, snapshot, mayWrite, say }: Props) {
  const state = snapshot.state!;
  const { doc } = state;
  const queries = useQueryClient();
  const threads = useThreads(info.id);
  const [view, setView] = useState<EditorView | null>(null);
  const [focused, setFocused] = useState<{ change: string | null; thread: string | null }>({ change: null, thread: null });
  const [begun, setBegun] = useState<{ from: number; to: number; quote: string } | null>(null);
  const [heights, setHeights] = useState<Heights>({ ticks: [], notes: [], threads: new Map() });
  const [pointed, setPointed] = useState<{ text: string; x: number; y: number } | null>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const sheet = useRef<HTMLDivElement>(null);

  const changes = useMemo(() => listChanges(doc), [doc]);
  const byId = useMemo(() => new Map(changes.map((change) => [change.id, change])), [changes]);
  const places = useMemo(() => anchors(doc), [doc]);
  const nameOf = useCallback((id: string) => info.people.find((person) => person.id === id)?.name ?? 'Someone', [info.people]);
  const mayDecide = mayAtLeast(info.role, 'decider');
  const mayRemark = mayAtLeast(info.role, 'remarker');
  const shown = useMemo(() => (threads.data ?? []).filter(({ resolved, id }) => !resolved || id === focused.thread), [threads.data, focused.thread]);

  const measure = useCallback(() => {
    if (!view || !sheet.current || !scroller.current) return;
    const origin = sheet.current.getBoundingClientRect().top;
    const { top, bottom } = scroller.current.getBoundingClientRect();
    const ticks = measureTicks(view, origin, top - origin - 400, bottom - origin + 400);
    const notes = changes
      .filter(({ kind }) => kind === 'formatting' || kind === 'paragraph' || kind === 'move')
      .map((change) => ({ change, y: (heightOf(view, change.ranges[0]!.from + 1, origin) ?? 0) - 4 }));
    const found = new Map<string, number>();
    for (const [id, ranges] of places) {
      const y = heightOf(view, ranges[0]!.from, origin);
      if (y !== null) found.set(id, y);
    }
    setHeights({ ticks, notes, threads: found });
  }, [view, changes, places]);

  // Once the view has drawn the new text, and again when the window or the scroll has moved.
  useLayoutEffect(() => {
    const frame = requestAnimationFrame(measure);
    return () => cancelAnimationFrame(frame);
  }, [measure, doc]);
  useEffect(() => {
    let frame = 0;
    const later = () => {
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(measure);
    };
    const box = scroller.current;
    const resizing = new ResizeObserver(later);
    if (sheet.current) resizing.observe(sheet.current);
    box?.addEventListener('scroll', later, { passive: true });
    void document.fonts.ready.then(later);
    return () => {
      cancelAnimationFrame(frame);
      resizing.disconnect();
      box?.removeEventListener('scroll', later);
    };
  }, [measure]);

  // A change that has been decided, here or elsewhere, closes its slip.
  const change = focused.change ? byId.get(focused.change) : undefined;

  const decide = (verdict: Verdict) => {
    if (!change) return;
    setFocused({ change: null, thread: null });
    void text.decide([change.id], verdict);
    view?.focus();
  };

  const begin = useCallback(() => {
    if (!mayRemark) return say('In this manuscript you may read, not comment.');
    const { empty, from, to, $from } = text.snapshot().state!.selection;
    const range = { from, to };
    if (empty) {
      // At the caret a comment takes the word it stands in or at.
      const words = $from.parent.textBetween(0, $from.parent.content.size, '', '\ufffc');
      const before = /[\p{L}\p{N}’'-]*$/u.exec(words.slice(0, $from.parentOffset))![0].length;
      const after = /^[\p{L}\p{N}’'-]*/u.exec(words.slice($from.parentOffset))![0].length;
      if (before + after === 0) return say('Select the words your comment is about, or put the caret into one.');
      range.from -= before;
      range.to += after;
    }
    setFocused({ change: null, thread: null });
    setBegun({ ...range, quote: doc.textBetween(range.from, range.to, ' ') });
  }, [mayRemark, say, text, doc]);

  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (event.key !== 'F4') return;
      event.preventDefault();
      begin();
    };
    addEventListener('keydown', keys);
    return () => removeEventListener('keydown', keys);
  }, [begin]);

  const keepThread = async (words: string) => {
    if (!begun) return;
    const id = nanoid(12);
    const told = (problem: unknown) => {
      say((problem as Error).message);
      throw problem;
    };
    await request('POST', `/manuscripts/${info.id}/threads`, { id, comment: nanoid(12), quote: begun.quote.slice(0, 5000), text: words }).catch(told);
    const { tr } = text.snapshot().state!;
    text.dispatch(tr.addMark(begun.from, Math.min(begun.to, tr.doc.content.size), schema.marks.anchor!.create({ thread: id })).setMeta('intent', 'anchor').setMeta('addToHistory', false));
    setBegun(null);
    await queries.invalidateQueries({ queryKey: ['threads', info.id] });
    setFocused({ change: null, thread: id });
  };
  const reply = async (thread: string, words: string) => {
    await request('POST', `/manuscripts/${info.id}/threads/${thread}/comments`, { id: nanoid(12), text: words }).catch((problem: unknown) => {
      say((problem as Error).message);
      throw problem;
    });
    await queries.invalidateQueries({ queryKey: ['threads', info.id] });
  };
  const resolve = (thread: string, resolved: boolean) => {
    request('PATCH', `/manuscripts/${info.id}/threads/${thread}`, { resolved })
      .then(() => queries.invalidateQueries({ queryKey: ['threads', info.id] }))
      .catch((problem: unknown) => say((problem as Error).message));
    if (resolved) setFocused({ change: null, thread: null });
  };

  const point = (event: React.MouseEvent) => {
    const marked = (event.target as HTMLElement).closest<HTMLElement>('[data-change]');
    const over = marked && byId.get(marked.dataset.change ?? '');
    if (!over) return setPointed(null);
    setPointed({ text: `${nameOf(over.author)} ${describeChange(over)} · ${said(over.date)}`, x: event.clientX, y: event.clientY });
  };

  const slip = change && view && sheet.current ? slipPlace(view, change, sheet.current) : null;
  const hand = mayWrite ? snapshot.hand : 'closed';

  return (
    <Box component="main" ref={scroller} sx={{ flex: 1, overflow: 'auto', position: 'relative' }}>
      <style>{focusSheet(focused)}</style>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(196px, 1fr) 640px minmax(300px, 1.7fr)', minWidth: 1136 }}>
        <Box sx={{ gridColumn: 2, position: 'sticky', top: 0, zIndex: 6, bgcolor: 'background.default' }}>
          <Toolbar view={view} state={state} mayWrite={mayWrite} mayRemark={mayRemark} onComment={begin} />
          <div className={`edge ${hand === 'closed' ? 'closed' : `in-${hand}`}`} />
        </Box>
        <Box sx={{ gridColumn: 1, gridRow: 2 }}>
          <EditMargin ticks={heights.ticks} notes={heights.notes} focused={focused.change} nameOf={nameOf} onFocus={(id) => setFocused({ change: id, thread: null })} />
        </Box>
        <Box ref={sheet} className={`sheet in-${hand}`} sx={{ gridColumn: 2, gridRow: 2, position: 'relative' }} onMouseMove={point} onMouseLeave={() => setPointed(null)}>
          <Editor
            text={text}
            snapshot={snapshot}
            mayWrite={mayWrite}
            onView={setView}
            onPoint={(id, thread) => setFocused({ change: view?.state.selection.empty === false ? null : id, thread })}
          />
          {change && slip && (
            <Slip
              doc={doc}
              change={change}
              name={nameOf(change.author)}
              mayDecide={mayDecide}
              own={change.author === me.id}
              mayRemark={mayRemark}
              left={slip.left}
              top={slip.top}
              onDecide={decide}
              onClose={() => setFocused({ change: null, thread: null })}
              onComment={() => {
                const { from, to } = change.ranges[0]!;
                text.dispatch(state.tr.setSelection(TextSelection.between(doc.resolve(from), doc.resolve(to))));
                setTimeout(begin);
              }}
            />
          )}
        </Box>
        <Box sx={{ gridColumn: 3, gridRow: 2, pl: 3, pr: 4, maxWidth: 400 }}>
          <TalkMargin
            threads={shown.map((thread) => ({ thread, y: heights.threads.get(thread.id) ?? null }))}
            people={info.people}
            focused={focused.thread}
            mayRemark={mayRemark}
            begun={begun && { quote: begun.quote, y: (view && sheet.current && heightOf(view, begun.from, sheet.current.getBoundingClientRect().top)) ?? 0 }}
            onFocus={(thread) => setFocused({ change: null, thread })}
            onBegin={keepThread}
            onLeave={() => setBegun(null)}
            onReply={reply}
            onResolve={resolve}
          />
        </Box>
      </Box>
      {pointed && !change && (
        <Box role="tooltip" sx={{ position: 'fixed', left: pointed.x + 10, top: pointed.y + 16, zIndex: 30, px: 1, py: 0.4, bgcolor: 'text.primary', color: 'background.paper', fontSize: 12, borderRadius: 0.5, pointerEvents: 'none', maxWidth: 360 }}>
          {pointed.text}
        </Box>
      )}
    </Box>
  );
}

/** Under the first line of the change, within the sheet. */
function slipPlace(view: EditorView, change: Change, sheet: HTMLElement): { left: number; top: number } {
  const box = sheet.getBoundingClientRect();
  const { from, to } = change.ranges[0]!;
  const start = view.coordsAtPos(Math.min(from + 1, view.state.doc.content.size));
  const last = view.coordsAtPos(Math.min(to, view.state.doc.content.size));
  const left = Math.max(8, Math.min(start.left - box.left - 80, 640 - 470 - 8));
  return { left, top: Math.max(start.bottom, last.bottom) - box.top + 8 };
}

/** Lights the words of what is in focus; no line is drawn to them. */
function focusSheet({ change, thread }: { change: string | null; thread: string | null }): string {
  const lit = 'outline: 2px solid color-mix(in srgb, var(--line, var(--graphite)) 55%, transparent); outline-offset: 1px; border-radius: 3px;';
  return [
    change && `.sheet [data-change="${CSS.escape(change)}"] { ${lit} }`,
    thread && `.sheet [data-thread="${CSS.escape(thread)}"] { outline: 2px solid var(--plum); background: var(--plumTint); }`,
  ]
    .filter(Boolean)
    .join('\n');
}
