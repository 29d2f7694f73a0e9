import { Divider, Menu, MenuItem } from '@mui/material';
import type { EditorView } from 'prosemirror-view';
import { useState, type MouseEvent } from 'react';
import { changesIn, describeChange, paragraphAround, type Change, type Verdict } from '@tea-pencil/core';
import { whoIs } from '../api/queries';
import { usePopRule } from '../kit/focus';
import { useOpened } from '../opened/opened';
import { useReviewed } from '../reviewing/use-reviewing';
import { useDecide } from './use-deciding';

interface Found {
  x: number;
  y: number;
  /** The change that was pointed at. */
  under: Change | null;
  selected: Change[];
  paragraph: Change[];
}

/** What can be decided where someone asks for the menu: in the selection, under the pointer, in the paragraph. */
export function useChangeMenu(view: EditorView | null, open: boolean) {
  const { inLens, shown } = useReviewed();
  const [found, setFound] = useState<Found | null>(null);
  const [isOpen, setIsOpen] = useState(false);
  const at = (event: MouseEvent) => {
    // With Shift the browser's own menu comes, with its spelling and its clipboard.
    if (!view || !open || event.shiftKey) return;
    const { empty, from, to } = view.state.selection;
    const place = view.posAtCoords({ left: event.clientX, top: event.clientY })?.pos ?? from;
    const marked = (event.target as HTMLElement).closest<HTMLElement>('[data-change]:not(.quiet)');
    const under = shown.find(({ id }) => id === marked?.dataset.change) ?? null;
    const inSelection = !empty && place >= from && place <= to;
    const selected = inSelection ? changesIn({ from, to }, inLens) : [];
    if (!under && !selected.length) return;
    event.preventDefault();
    const $place = view.state.doc.resolve(place);
    const around = under
      ? paragraphAround(view.state.doc, under)
      : { from: $place.before($place.depth || 1), to: $place.after($place.depth || 1) };
    const paragraph = changesIn(around, inLens);
    setIsOpen(true);
    setFound({ x: event.clientX, y: event.clientY, under, selected, paragraph });
  };
  // What was found stays until the menu has gone, so that it can give the keyboard back.
  return { found, isOpen, open: at, close: () => setIsOpen(false) };
}

/** The context menu of the text. It calls the same decisions as slip, bar and ledger. */
export function ChangeMenu({ menu }: { menu: ReturnType<typeof useChangeMenu> }) {
  const { info, me, may, nameOf } = useOpened();
  const decide = useDecide();
  const { onExited, ...rule } = usePopRule();
  const { found, isOpen, close } = menu;
  if (!found) return null;
  const { under, selected, paragraph, x, y } = found;
  const ids = (changes: readonly Change[]) => changes.map(({ id }) => id);
  const item = (label: string, verdict: Verdict, changes: readonly Change[]) => (
    <MenuItem
      key={label}
      onClick={() => {
        close();
        decide(verdict, ids(changes));
      }}
    >
      {label}
    </MenuItem>
  );
  /** Both decisions for those who may; for others withdrawing what is theirs. */
  const both = (what: string, changes: readonly Change[]) => {
    if (may.decide) return [item(`Accept ${what}`, 'accept', changes), item(`Reject ${what}`, 'reject', changes)];
    const own = may.withdraw && changes.every(({ author }) => whoIs(info, author) === me.id);
    return own ? [item(`Withdraw ${what}`, 'reject', changes)] : [];
  };
  return (
    <Menu
      open={isOpen}
      disablePortal
      onClose={close}
      anchorReference="anchorPosition"
      anchorPosition={{ left: x, top: y }}
      {...rule}
      slotProps={{ list: { 'aria-label': 'Changes here' }, transition: { onExited } }}
    >
      {under && (
        <MenuItem disabled>
          {nameOf(under.author)} {describeChange(under)}
        </MenuItem>
      )}
      {under && both('this change', [under])}
      {selected.length > 0 && both(`the ${selected.length} selected`, selected)}
      {paragraph.length > 1 && <Divider />}
      {paragraph.length > 1 && both(`all ${paragraph.length} in this paragraph`, paragraph)}
      <Divider />
      <MenuItem disabled>Shift and a right click: the browser’s own menu</MenuItem>
    </Menu>
  );
}
