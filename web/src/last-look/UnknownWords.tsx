import { useEffect } from 'react';
import { useCommands } from '../commands/acts';
import { unknownWords } from '../kit/preferences';
import { useStore } from '../kit/store';
import { useLooking, useOpened } from '../opened/opened';
import { useLastLook } from './context';
import { setOffKey, type SetOff } from './underlines';

/** Sets off words in the text that no dictionary has and nobody has kept; one key takes that away and brings it back. */
export function UnknownWords() {
  const { sheet, text, say } = useOpened();
  const { look } = useLooking();
  const { findings, doc, placesOf } = useLastLook();
  const { view } = useStore(sheet);
  const on = useStore(unknownWords);
  useCommands({
    'unknown words': () => {
      unknownWords.set(!on);
      say(
        on
          ? 'Unknown words are no longer set off. Shift F6 brings them back.'
          : 'Words that no dictionary has are set off.',
      );
    },
  });
  const wanted = on && look.reading === 'marked';
  useEffect(() => {
    const { state } = text.snapshot();
    if (!view || view.isDestroyed || !state) return;
    if (wanted && doc !== state.doc) return; // it is looked at again in a moment
    // The word that is being written is not finished.
    const { head, empty } = state.selection;
    const unknown = wanted
      ? findings
          .filter(({ kind }) => kind === 'spelling')
          .flatMap(placesOf)
          .filter(({ to }) => !(empty && view.hasFocus() && to === head))
      : [];
    text.tell(setOffKey, { unknown } satisfies Partial<SetOff>);
  }, [findings, doc, wanted, view, text, placesOf]);
  return null;
}
