import { useEffect, useState } from 'react';
import type { Mapping } from 'prosemirror-transform';
import { nothingInFocus, useOpened, type Focus } from '../opened/opened';

/** The place that was pointed at, wherever it has gone since. */
class Followed {
  #focus = nothingInFocus;
  #at: number | null = null;

  of(focus: Focus): number | null {
    if (focus !== this.#focus) [this.#focus, this.#at] = [focus, focus.at];
    return this.#at;
  }

  move(mapping: Mapping): void {
    if (this.#at !== null) this.#at = mapping.map(this.#at);
  }
}

/** Where in the text one has pointed, as it stands when it is drawn: others write above it, and it is the same end of a move. */
export function useFollowed(focused: Focus): number | null {
  const { text } = useOpened();
  const [followed] = useState(() => new Followed());
  useEffect(() => text.onMapping((mapping) => followed.move(mapping)), [text, followed]);
  return followed.of(focused);
}
