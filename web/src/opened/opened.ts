import { createContext, useContext } from 'react';
import type { Command, EditorState } from 'prosemirror-state';
import type { EditorView } from 'prosemirror-view';
import type { KeptLens, LeftAt, Look, Self } from '@tea-pencil/wire';
import type { Lens } from '@tea-pencil/core';
import type { ManuscriptInfo } from '../api/queries';
import type { Store } from '../kit/store';
import type { LiveText } from '../live/live-text';
import type { OwnHues } from '../theme/hues';
import type { Page } from './page';

/** The open manuscript: what every part of its screen may ask for, so that nothing is handed down through others. */

/** What is in focus, and where it was pointed at. */
export interface Focus {
  change: string | null;
  thread: string | null;
  at: number | null;
}
export const nothingInFocus: Focus = { change: null, thread: null, at: null };

/** The sheet on the screen, while there is one. */
export interface SheetOnScreen {
  view: EditorView | null;
  scroller: HTMLElement | null;
}

/** What stands open besides the text. */
export type Panel = 'lens' | 'find' | 'keys' | 'look';
export const noPanels: ReadonlySet<Panel> = new Set();

export interface May {
  write: boolean;
  ink: boolean;
  remark: boolean;
  decide: boolean;
  /** Take back what one has proposed oneself. */
  withdraw: boolean;
  /** Settle what others say to each other, which no seal closes. */
  settle: boolean;
  takeAway: boolean;
  keep: boolean;
}

export interface Opened {
  info: ManuscriptInfo;
  me: Self;
  may: May;
  text: LiveText;
  nameOf(person: string): string;
  /** Says something in passing; with a way back, where what was done can be taken back. */
  say(sentence: string): void;
  sayDone(sentence: string, takeBack: () => void, label?: string): void;
  /** Brings a place of the text into view. */
  goTo(pos: number): void;
  /** Does something to the text by an editing command; the keyboard stays where it is. */
  edit(command: Command): void;
  /** Puts the keyboard where one writes; the place of the caret stays. */
  toText(): void;
  /** Goes to a page of the manuscript, with the lens as it is. */
  toPage(page: Page): Promise<void>;
  sheet: Store<SheetOnScreen>;
  focus: Store<Focus>;
  panels: Store<ReadonlySet<Panel>>;
  /** Whose view one follows. */
  along: Store<string | null>;
}

const OpenedContext = createContext<Opened | null>(null);
export const OpenedProvider = OpenedContext;

export function useOpened(): Opened {
  const opened = useContext(OpenedContext);
  if (!opened) throw new Error('This part belongs to an open manuscript.');
  return opened;
}

/** Opens or closes a panel. */
export function show({ panels }: Pick<Opened, 'panels'>, panel: Panel, open = true): void {
  const next = new Set(panels.get());
  if (open) next.add(panel);
  else next.delete(panel);
  panels.set(next);
}

export type NextLens = Lens | ((now: Lens) => Lens);

/** How one looks at the manuscript, and what is remembered of that. */
export interface Looking {
  page: Page;
  lens: Lens;
  /** @param next a lens, or what becomes of the one at that moment */
  setLens(next: NextLens): void;
  look: Look;
  setLook(look: Look): void;
  lenses: readonly KeptLens[];
  setLenses(lenses: KeptLens[]): void;
  leftAt: LeftAt | null | undefined;
  setLeftAt(left: LeftAt): void;
  ownHues: OwnHues;
  setOwnHues(hues: OwnHues): void;
}

const LookingContext = createContext<Looking | null>(null);
export const LookingProvider = LookingContext;

export function useLooking(): Looking {
  const looking = useContext(LookingContext);
  if (!looking) throw new Error('This part belongs to an open manuscript.');
  return looking;
}

const DrawnContext = createContext<EditorState | null>(null);
export const DrawnProvider = DrawnContext;

/** The text as the screen around the sheet shows it: a moment behind the sheet itself. */
export function useDrawn(): EditorState {
  const state = useContext(DrawnContext);
  if (!state) throw new Error('The text is not here yet.');
  return state;
}
