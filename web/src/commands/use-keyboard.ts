import { useEffect } from 'react';
import type { Acts } from './acts';
import { commandOf, type Where } from './table';

/** Something words are written in, or that has keys of its own. */
const fields = 'input, textarea, [contenteditable=true], [role=listbox], [role=menu]';

/** What has the keyboard. */
function whereIs(target: Element | null): Where | null {
  if (target?.closest('.through')) return 'read-through';
  if (target?.closest('.talk-margin')) return 'talk margin';
  if (target?.closest('.look-panel')) return 'last look';
  return null;
}

const inSheet = (target: Element | null) => !!target?.closest('.sheet .ProseMirror:not(.slip *)');

/** What can be undone of decisions can be from anywhere. */
const isUndoing = (id: string) => id === 'undo' || id === 'redo';

/** A key with Ctrl, or with what stands for it; `y` is the other key that many know for redoing. */
const withModifier = (key: string, shiftKey: boolean) =>
  key === 'y' ? { key: 'Mod-z', shiftKey: true } : { key: `Mod-${key}`, shiftKey };

/** The one listener for the keys of the table. Those that edit are the editor’s own. */
export function useKeyboard(acts: Acts): void {
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      const { ctrlKey, metaKey, altKey, shiftKey, defaultPrevented } = event;
      const target = event.target instanceof Element ? event.target : null;
      if ((ctrlKey || metaKey) && !altKey) {
        const id = commandOf(withModifier(event.key.toLowerCase(), shiftKey), 'sheet');
        // What the editor has done is done; undoing it claims and leaves to others.
        const there =
          id &&
          (!defaultPrevented || isUndoing(id)) &&
          (inSheet(target) || (isUndoing(id) && !target?.closest(fields)));
        if (there && acts.do(id === 'undo' && whereIs(target) === 'read-through' ? 'take back' : id))
          event.preventDefault();
        return;
      }
      // The editor claims every Escape, whether it does anything with it or not.
      if (ctrlKey || metaKey || altKey || (defaultPrevented && event.key !== 'Escape')) return;
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
