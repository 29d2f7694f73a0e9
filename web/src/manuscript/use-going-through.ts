import { TextSelection } from 'prosemirror-state';
import { useLayoutEffect } from 'react';
import { useCommands } from '../commands/acts';
import type { useDeciding } from '../deciding/use-deciding';
import { useStore } from '../kit/store';
import { nothingInFocus, useLooking, useOpened } from '../opened/opened';
import { boxAt, bring } from '../opened/scrolling';
import { useReadThrough } from '../read-through/use-read-through';
import { inReading } from '../reviewing/readings';
import { useReviewed } from '../reviewing/use-reviewing';
import { changeAtCaret } from '../sheet/editor/change-at-caret';

/** How far below the top of the window the change stands that one is at, as a part of its height. */
export const third = 0.36;

/**
 * The read-through on the sheet: the change one is at is brought into sight, and a command goes from the text into the
 * bar and back.
 * @param send decides without saying so
 */
export function useGoingThrough(send: ReturnType<typeof useDeciding>['decide']) {
  const { text, sheet, focus, say, nameOf, toText, toPage } = useOpened();
  const { page, look, leftAt, setLeftAt } = useLooking();
  const { inLens } = useReviewed();
  const { view, scroller } = useStore(sheet);
  const through = useReadThrough({
    changes: inLens,
    left: leftAt,
    onKeep: setLeftAt,
    nameOf,
    caret: () => text.snapshot().state!.selection.from,
    onDecide: (verdict, ids) => send(verdict, ids, false),
    onTakeBack: (decision) => text.takeBack(decision),
    stands: (decision) => text.mine.stands(decision),
    say,
  });
  const { active, current } = through;
  const shownAt = active && page === 'text' ? current?.id : undefined;
  useLayoutEffect(() => {
    const first = current?.ranges[0];
    if (shownAt === undefined || !first || !view || !scroller) return;
    const { state } = text.snapshot();
    const from = inReading(state!.doc, first.from + 1, look.reading);
    const { top } = boxAt(view, from);
    const box = scroller.getBoundingClientRect();
    if (top < box.top + 70 || top > box.bottom - 90) bring(view, scroller, from, box.height * third);
    // Letters that others write move it; it is not brought again for that.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shownAt, view, scroller, look.reading]);

  /** Puts the caret at the change one is at. */
  const toWords = () => {
    const first = current?.ranges[0];
    if (!view || !first || look.reading !== 'marked') return;
    const { tr } = text.snapshot().state!;
    text.dispatch(tr.setSelection(TextSelection.near(tr.doc.resolve(first.from + 1))));
  };
  useCommands({
    'read through': () => {
      if (page !== 'text') void toPage('text');
      if (!active) {
        focus.set(nothingInFocus); // a thread that stands open would cover it in a small window
        through.begin();
      } else if (document.activeElement?.closest('.through')) {
        toWords();
        toText();
      } else {
        const here = changeAtCaret(text.snapshot().state ?? undefined);
        if (here && view?.hasFocus() && inLens.some(({ id }) => id === here)) through.goTo(here);
        document.querySelector<HTMLElement>('.through')?.focus();
      }
    },
  });
  return { ...through, toWords };
}
