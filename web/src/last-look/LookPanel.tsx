import { Button, IconButton, LinearProgress, Tooltip } from '@mui/material';
import { useEffect, useMemo, useRef, useState } from 'react';
import { counted } from '@tea-pencil/core';
import { useCommands } from '../commands/acts';
import { useKeepingFocus } from '../kit/use-keeping-focus';
import { useHandler } from '../kit/use-handler';
import { useStore } from '../kit/store';
import { show, useLooking, useOpened } from '../opened/opened';
import { bring } from '../opened/scrolling';
import { chosenOf, type Choice } from './choosing';
import { useLastLook } from './context';
import { Filter } from './Filter';
import { useProposals } from './FindingCard';
import { Findings } from './Findings';
import type { Found } from './found';
import { setOffKey, type SetOff } from './underlines';

/** What may be wrong with the text, beside it, one finding after the other. */
export function LookPanel() {
  const opened = useOpened();
  const { sheet, text, toText, toPage, may, goTo: goToPlace } = opened;
  const { reading } = useLooking().look;
  const look = useLastLook();
  const { findings, looking, doc, problems, placesOf, putRight, leave, keepWord } = look;
  const { view, scroller } = useStore(sheet);
  const [choice, setChoice] = useState<Choice>({ which: 'all', kind: null });
  const { broughtIn, others } = chosenOf(findings, choice, look);
  const shown = [...broughtIn, ...others];
  const [at, setAt] = useState<{ key: string; index: number } | null>(null);

  // What was put right or left is gone from the list: then the next one is looked at.
  const found = at ? shown.findIndex(({ key }) => key === at.key) : -1;
  const index = found >= 0 ? found : at ? Math.min(at.index, shown.length - 1) : shown.length ? 0 : -1;
  const current = shown[index] ?? null;
  const alike = useMemo(
    () => (current ? findings.filter(({ such }) => such === current.such) : []),
    [findings, current],
  );
  const { proposals } = useProposals(current, true);

  const bringWords = useHandler((finding: Found, select: boolean) => {
    const [first] = placesOf(finding);
    if (!view || !scroller || !first) return;
    // Another reading has its words elsewhere, and nothing can be written in it.
    if (reading !== 'marked') return goToPlace(first.from);
    bring(view, scroller, Math.max(1, first.from), scroller.clientHeight / 3);
    if (!select) return;
    text.select(first);
    toText();
  });
  const goTo = useHandler((next: number) => {
    if (!shown.length) return;
    const to = (next + shown.length) % shown.length;
    setAt({ key: shown[to]!.key, index: to });
    bringWords(shown[to]!, false);
  });
  useSetOff(current, doc);

  const close = () => {
    show(opened, 'look', false);
    toText();
  };
  const keepPlace = (act: () => void) => () => {
    if (!current) return;
    setAt({ key: current.key, index });
    act();
  };
  useCommands({
    'next finding': () => goTo(index + 1),
    'previous finding': () => goTo(index - 1),
    ...Object.fromEntries(
      [0, 1, 2, 3, 4, 5].map((n) => [
        `proposal ${n + 1}`,
        keepPlace(() => {
          const proposal = proposals[n];
          if (proposal && may.write) putRight([[current!, proposal]]);
        }),
      ]),
    ),
    'leave finding': keepPlace(() => void (may.write && leave(current!, false))),
    'leave all such': keepPlace(() => void (may.write && leave(current!, true))),
    'keep word': keepPlace(
      () => void (current!.kind === 'spelling' && keepWord(current!, may.write ? 'manuscript' : 'person')),
    ),
    'leave look': toText,
  });
  const box = useRef<HTMLElement>(null);
  const keeping = useKeepingFocus(box, current);
  useEffect(() => box.current?.focus(), []);

  return (
    <aside ref={box} className="look-panel" aria-label="Last look" tabIndex={-1} {...keeping}>
      <div className="look-head">
        <strong>Last look</strong>
        <span className="second" role="status">
          {looking !== null && !doc ? 'Looking …' : counted(shown.length, 'finding')}
        </span>
        <span style={{ flex: 1 }} />
        <Tooltip title="All of it, with what is still open, on a page of its own">
          <Button size="small" color="inherit" onClick={() => void toPage('last-look')}>
            Page
          </Button>
        </Tooltip>
        <Tooltip title="Close (F6)">
          <IconButton size="small" aria-label="Close the last look" onClick={close}>
            ×
          </IconButton>
        </Tooltip>
      </div>
      {looking !== null && !doc && (
        <LinearProgress
          aria-label="The text is looked over"
          variant={looking ? 'determinate' : 'indeterminate'}
          value={looking * 100}
        />
      )}
      <Filter choice={choice} onChoose={setChoice} />
      {problems.map((problem) => (
        <p key={problem} className="look-problem" role="alert">
          {problem}
        </p>
      ))}
      {shown.length > 0 ? (
        <Findings
          broughtIn={broughtIn}
          others={others}
          at={index}
          alike={alike}
          onGoTo={goTo}
          onGo={(finding) => bringWords(finding, true)}
        />
      ) : (
        doc && <p className="look-empty">{nothingLeft(choice)}</p>
      )}
    </aside>
  );
}

const nothingLeft = ({ which, kind }: Choice): string =>
  which === 'all' && !kind
    ? 'Nothing that this looks for is wrong with the text.'
    : 'Nothing of this choice is left. Others may be: choose All.';

/** The finding one is at is set off in the text for as long as the panel is open. */
function useSetOff(current: Found | null, doc: unknown): void {
  const { text } = useOpened();
  const { placesOf } = useLastLook();
  useEffect(() => {
    const places = current ? placesOf(current) : [];
    text.tell(setOffKey, { current: places } satisfies Partial<SetOff>);
  }, [current, doc, text, placesOf]);
  useEffect(() => () => text.tell(setOffKey, { current: [] } satisfies Partial<SetOff>), [text]);
}
