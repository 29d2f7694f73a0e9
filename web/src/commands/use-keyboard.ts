import { useEffect } from 'react';
import type { Acts } from './acts';
import { commandOf, type Where } from './table';

/** Something words are written in, or that has keys of its own. */
const fields = 'input, textarea, [contenteditable=true], [role=listbox], [role=menu]';

/** What has the keyboard. */
function whereIs(target: Element | null): Where | null {
  if (target?.closest('.through')) return 'read-through';
  if (target?.closest('.talk-margin')) return 'talk margin';
  return null;
}

const inSheet = (target: EventTarget | null) =>
  target instanceof Element && !!target.closest('.sheet .ProseMirror:not(.slip *)');

/** The one listener for the keys of the table. Those that edit are the editor’s own. */
export function useKeyboard(acts: Acts): void {
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      const { ctrlKey, metaKey, altKey, shiftKey, defaultPrevented } = event;
      if ((ctrlKey || metaKey) && !altKey && !shiftKey && !defaultPrevented && inSheet(event.target)) {
        const id = commandOf({ key: `Mod-${event.key.toLowerCase()}`, shiftKey }, 'sheet');
        if (id && acts.do(id)) event.preventDefault();
        return;
      }
      // The editor claims every Escape, whether it does anything with it or not.
      if (ctrlKey || metaKey || altKey || (defaultPrevented && event.key !== 'Escape')) return;
      const target = event.target instanceof Element ? event.target : null;
      const writing = target?.closest(fields);
      const where = writing ? null : whereIs(target);
      const id = (where && commandOf(event, where)) ?? commandOf(event, 'anywhere');
      if (!id || (writing && event.key.length === 1)) return;
      // Enter presses the button that has the keyboard.
      if (event.key === 'Enter' && !target?.matches('[role=comment]')) return;
      if (acts.do(id)) event.preventDefault();
    };
    addEventListener('keydown', keys);
    return () => removeEventListener('keydown', keys);
  }, [acts]);
}
