import { useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useCallback, useEffect, useMemo, useState } from 'react';
import type { Command } from 'prosemirror-state';
import { useParams } from 'react-router';
import { fixedBy } from '@tea-pencil/core';
import type { ChangedThing, KeptLens, LeftAt, Look, ReadAs, Self } from '@tea-pencil/wire';
import { fetchAgain } from '../api/fetch-again';
import { keys } from '../api/keys';
import { mayAtLeast, meQuery, type ManuscriptInfo } from '../api/queries';
import { Acts } from '../commands/acts';
import { FocusRule } from '../kit/focus';
import { Store, useStore } from '../kit/store';
import { useGoing } from '../kit/use-going';
import { useTakeBack } from '../kit/use-take-back';
import type { NotTaken } from '../live/hearer';
import { writtenDown } from '../live/of-this-window';
import { noPanels, nothingInFocus, type Looking, type May, type Opened, type Panel } from '../opened/opened';
import { pageOf, type Page } from '../opened/page';
import { bring } from '../opened/scrolling';
import { useInAddress, useLens } from '../reviewing/use-lens';
import { useOwnHues } from '../reviewing/use-own-hues';
import { inReading } from '../reviewing/readings';
import { plainLook, useView } from '../reviewing/use-view';
import { useLiveText } from '../sheet/editor/use-live-text';

const noLenses: KeptLens[] = [];
const readings: readonly ReadAs[] = ['marked', 'fair', 'before'];

const mayOf = ({ role, everyoneInPencil, seal, takesAway }: ManuscriptInfo): May => ({
  write: mayAtLeast(role, 'proposer'),
  ink: mayAtLeast(role, 'decider') && !everyoneInPencil && !seal,
  remark: mayAtLeast(role, 'remarker'),
  decide: mayAtLeast(role, 'decider') && !seal,
  withdraw: mayAtLeast(role, 'proposer') && (!seal || seal.mayWithdraw),
  settle: mayAtLeast(role, 'decider'),
  takeAway: takesAway,
  keep: mayAtLeast(role, 'keeper'),
});

/** Who is told what the text cannot show by itself; what was not taken in is collected. */
function useHearing(id: string, me: string) {
  const queries = useQueryClient();
  const go = useGoing();
  const { enqueueSnackbar } = useSnackbar();
  const tray = writtenDown.trayOf(me, id);
  const notTaken = useStore(tray);
  useEffect(() => void writtenDown.collect(me, id), [me, id]);
  const hearer = useMemo(
    () => ({
      say: (sentence: string) => void enqueueSnackbar(sentence),
      notTaken: (what: NotTaken) => tray.set([...tray.get(), what]),
      changed: (what: ChangedThing) => void fetchAgain(queries, keys.changed(what, id)),
      signedOut: () => {
        queries.setQueryData(meQuery.queryKey, null);
        void go(`/sign-in?to=/m/${id}`);
      },
    }),
    [queries, id, go, enqueueSnackbar, tray],
  );
  return { hearer, notTaken, copied: () => tray.set([]) };
}

/** How one looks at a manuscript, from its address and from what is remembered. */
export function useLookingAt(id: string): Looking {
  const page = pageOf(useParams().page);
  const [lens, setLens] = useLens();
  const { view: remembered, set: remember } = useView(id);
  const [ownHues, setOwnHues] = useOwnHues(id);
  // What was kept before something was there to choose has it as usual.
  const [askedReading, setAskedReading] = useInAddress('reading');
  // What was chosen here is shown at once; the address follows.
  const [chosen, setChosen] = useState<ReadAs | null>(null);
  const reading = chosen ?? readings.find((one) => one === askedReading);
  const look = useMemo(
    () => ({ ...plainLook, ...remembered.look, ...(reading && { reading }) }),
    [remembered.look, reading],
  );
  const setLook = useCallback(
    (next: Look) => {
      remember({ look: next });
      setChosen(next.reading);
      setAskedReading(next.reading === 'marked' ? null : next.reading);
    },
    [remember, setAskedReading],
  );
  const setLenses = useCallback((kept: KeptLens[]) => remember({ lenses: kept }), [remember]);
  const setLeftAt = useCallback((readThrough: LeftAt) => remember({ readThrough }), [remember]);
  const { lenses = noLenses, readThrough: leftAt } = remembered;
  return useMemo(
    () => ({ page, lens, setLens, look, setLook, lenses, setLenses, leftAt, setLeftAt, ownHues, setOwnHues }),
    [page, lens, setLens, look, setLook, lenses, setLenses, leftAt, setLeftAt, ownHues, setOwnHues],
  );
}

/** Opens a manuscript: its live text, and all that the parts of its screen may ask for. */
export function useOpening(info: ManuscriptInfo, me: Self, { reading }: Look) {
  const { id } = info;
  const go = useGoing();
  const sayDone = useTakeBack();
  const { hearer, notTaken, copied } = useHearing(id, me.id);
  const may = useMemo(() => mayOf(info), [info]);
  const { seal } = info;
  const fixedUntil = seal && !seal.mayWithdraw ? fixedBy(new Date(seal.at)) : undefined;
  const { text, snapshot, drawings } = useLiveText(id, me.id, { mayInk: may.ink, fixedUntil }, hearer);
  const [stores] = useState(() => ({
    sheet: new Store<Opened['sheet'] extends Store<infer T> ? T : never>({ view: null, scroller: null }),
    focus: new Store(nothingInFocus),
    panels: new Store<ReadonlySet<Panel>>(noPanels),
    along: new Store<string | null>(null),
  }));
  const [acting] = useState(() => {
    const view = () => stores.sheet.get().view;
    const toText = () => view()?.focus();
    const edit = (command: Command) => {
      const now = view();
      if (now) command(now.state, now.dispatch, now);
    };
    return { toText, edit, acts: new Acts({ toText, edit }), rule: new FocusRule(toText) };
  });
  const { toText, edit, acts, rule } = acting;
  const { say } = hearer;
  const nameOf = useCallback(
    (person: string) => info.people.find((one) => one.id === person)?.name ?? 'Someone',
    [info.people],
  );
  const goTo = useCallback(
    (pos: number) => {
      const { view, scroller } = stores.sheet.get();
      const { state } = text.snapshot();
      if (view && scroller && state) bring(view, scroller, inReading(state.doc, pos, reading));
    },
    [stores, text, reading],
  );
  const toPage = useCallback(
    async (page: Page) =>
      go({ pathname: `/m/${id}${page === 'text' ? '' : `/${page}`}`, search: window.location.search }),
    [go, id],
  );
  const opened = useMemo(
    (): Opened => ({ info, me, may, text, nameOf, say, sayDone, goTo, edit, toText, toPage, ...stores }),
    [info, me, may, text, nameOf, say, sayDone, goTo, edit, toText, toPage, stores],
  );

  useEffect(() => {
    document.title = `${info.title} · Tea Pencil`;
  }, [info.title]);
  useEffect(() => rule.watch(), [rule]);
  return { opened, acts, rule, snapshot, drawings, notTaken, copied };
}
