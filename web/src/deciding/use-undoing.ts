import { redo, undo, undoDepth } from 'prosemirror-history';
import type { Verdict } from '@tea-pencil/core';
import { useLastDecision } from '../api/queries';
import { useCommands } from '../commands/acts';
import { useLooking, useOpened } from '../opened/opened';
import { decidedWords } from './decided-words';

/** Undoing and redoing: what one wrote and what one decided, in the order in which one did it. */
export function useUndoing(): void {
  const { info, text, say, edit } = useOpened();
  const { look } = useLooking();
  const asked = useLastDecision(info.id);
  const mayEdit = look.reading === 'marked';

  const takeBack = async (decision: string, verdict: Verdict, many: number) => {
    if (await text.takeBack(decision, undefined, true)) say(`Taken back: ${decidedWords(verdict, many)}.`);
  };
  const back = async () => {
    await text.decided();
    const { state } = text.snapshot();
    const mine = text.mine.last();
    if (mine) void takeBack(mine.decision, mine.verdict, mine.changes.length);
    else if (state && undoDepth(state) > 0) {
      if (mayEdit) edit(undo);
      else say('What you wrote is undone in the marked reading.');
    } else {
      // Just after the page was loaded it may still be on its way.
      const last = asked.isPending ? (await asked.refetch()).data : asked.data;
      if (last?.isLast) return takeBack(last.decision, last.verdict, last.many);
      say('There is nothing more to undo: this window knows what was written since it was opened.');
    }
  };
  const forth = async () => {
    await text.decided();
    const { state } = text.snapshot();
    const next = state && text.mine.next(state);
    if (!next) {
      if (mayEdit) edit(redo);
      return;
    }
    text.mine.madeAgain();
    void text.decide(next.changes, next.verdict, true).then((decision) => {
      if (decision) say(`Decided once more: ${decidedWords(next.verdict, next.changes.length)}.`);
    });
  };
  useCommands({ undo: () => void back(), redo: () => void forth() });
}
