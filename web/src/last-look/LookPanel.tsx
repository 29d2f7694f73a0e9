import { Button, IconButton, LinearProgress, MenuItem, Select, Tooltip } from '@mui/material';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState } from 'react';
import { TextSelection } from 'prosemirror-state';
import { counted, findingKinds, type FindingKind } from '@tea-pencil/core';
import { useCommands } from '../commands/acts';
import { titleOf } from '../commands/table';
import { useKeepingFocus } from '../kit/use-keeping-focus';
import { useHandler } from '../kit/use-handler';
import { useStore } from '../kit/store';
import { show, useLooking, useOpened } from '../opened/opened';
import { bring } from '../opened/scrolling';
import { chosenOf, whichWords, type Choice, type Which } from './choosing';
import { useLastLook } from './context';
import { FindingCard, useProposals } from './FindingCard';
import type { Found } from './found';
import { countKinds, kindWords } from './remaining';
import { setOffKey, type SetOff } from './underlines';

/** A line of the list: a heading, or a finding. */
type Line = { heading: string } | { finding: Found };
const noneAlike: readonly Found[] = [];

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
  const list = useRef<HTMLDivElement>(null);

  // What was put right or left is gone from the list: then the next one is looked at.
  const found = at ? shown.findIndex(({ key }) => key === at.key) : -1;
  const index = found >= 0 ? found : at ? Math.min(at.index, shown.length - 1) : shown.length ? 0 : -1;
  const current = shown[index] ?? null;
  const alike = useMemo(
    () => (current ? findings.filter(({ such }) => such === current.such) : noneAlike),
    [findings, current],
  );
  const { proposals } = useProposals(current, true);

  const lines = useMemo((): Line[] => {
    const part = (heading: string, all: Found[]): Line[] =>
      all.length ? [{ heading: `${heading} (${all.length})` }, ...all.map((finding) => ({ finding }))] : [];
    return broughtIn.length
      ? [...part('Brought in by edits', broughtIn), ...part('In the text', others)]
      : others.map((finding) => ({ finding }));
  }, [broughtIn, others]);
  const lineOf = (finding: Found | null) => lines.findIndex((line) => 'finding' in line && line.finding === finding);
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => list.current,
    estimateSize: () => 34,
    overscan: 6,
  });

  const bringWords = useHandler((finding: Found, select: boolean) => {
    const [first] = placesOf(finding);
    if (!view || !scroller || !first) return;
    // Another reading has its words elsewhere, and nothing can be written in it.
    if (reading !== 'marked') return goToPlace(first.from);
    bring(view, scroller, Math.max(1, first.from), scroller.clientHeight / 3);
    if (!select) return;
    text.dispatch(view.state.tr.setSelection(TextSelection.create(view.state.doc, first.from, first.to)));
    toText();
  });
  const goTo = useHandler((next: number) => {
    if (!shown.length) return;
    const to = (next + shown.length) % shown.length;
    setAt({ key: shown[to]!.key, index: to });
    bringWords(shown[to]!, false);
    const line = lineOf(shown[to]!);
    if (line >= 0) rows.scrollToIndex(line, { align: 'auto' });
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
        <>
          <div className="look-steps">
            <Tooltip title={titleOf('previous finding')}>
              <Button size="small" color="inherit" onClick={() => goTo(index - 1)}>
                Back
              </Button>
            </Tooltip>
            <span className="second">
              {index + 1} of {shown.length}
            </span>
            <Tooltip title={titleOf('next finding')}>
              <Button size="small" color="inherit" onClick={() => goTo(index + 1)}>
                On
              </Button>
            </Tooltip>
          </div>
          <div ref={list} className="look-list" role="list" aria-label="Findings">
            <div style={{ height: rows.getTotalSize(), position: 'relative' }}>
              {rows.getVirtualItems().map((row) => {
                const line = lines[row.index]!;
                return (
                  <div
                    key={'finding' in line ? `${line.finding.key} ${row.index}` : line.heading}
                    role="listitem"
                    ref={rows.measureElement}
                    data-index={row.index}
                    style={{ position: 'absolute', insetInline: 0, top: row.start }}
                  >
                    {'heading' in line ? (
                      <div className="look-part">{line.heading}</div>
                    ) : (
                      <FindingCard
                        finding={line.finding}
                        open={line.finding === current}
                        alike={line.finding === current ? alike : noneAlike}
                        onOpen={() => goTo(shown.indexOf(line.finding))}
                        onGo={() => bringWords(line.finding, true)}
                      />
                    )}
                  </div>
                );
              })}
            </div>
          </div>
        </>
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
  const { sheet, text } = useOpened();
  const { placesOf } = useLastLook();
  const { view } = useStore(sheet);
  useEffect(() => {
    if (!view || view.isDestroyed) return;
    const places = current ? placesOf(current) : [];
    text.dispatch(view.state.tr.setMeta(setOffKey, { current: places } satisfies Partial<SetOff>));
  }, [current, doc, view, text, placesOf]);
  useEffect(
    () => () => {
      if (view && !view.isDestroyed) text.dispatch(view.state.tr.setMeta(setOffKey, { current: [] }));
    },
    [text, view],
  );
}

/** Which of them, and of which kind. */
export function Filter({ choice, onChoose }: { choice: Choice; onChoose(choice: Choice): void }) {
  const look = useLastLook();
  const { findings, state } = look;
  const counts = countKinds(findings);
  const all: Which[] = state?.last ? ['all', 'edits', 'since'] : ['all', 'edits'];
  return (
    <div className="look-filter">
      <div role="group" aria-label="Which findings" className="tabs">
        {all.map((which) => (
          <Tooltip key={which} title={whichWords[which][1]}>
            <button
              type="button"
              className="tab"
              aria-pressed={choice.which === which}
              onClick={() => onChoose({ ...choice, which })}
            >
              {whichWords[which][0]}
            </button>
          </Tooltip>
        ))}
      </div>
      <Select
        variant="standard"
        disableUnderline
        displayEmpty
        value={choice.kind ?? ''}
        inputProps={{ 'aria-label': 'Of which kind' }}
        onChange={(event) => onChoose({ ...choice, kind: (event.target.value || null) as FindingKind | null })}
        sx={{ fontSize: 12.5 }}
      >
        <MenuItem value="">of every kind</MenuItem>
        {findingKinds.map(
          (kind) =>
            (counts.has(kind) || kind === choice.kind) && (
              <MenuItem key={kind} value={kind}>
                {kindWords[kind][0]} ({counts.get(kind) ?? 0})
              </MenuItem>
            ),
        )}
      </Select>
    </div>
  );
}
