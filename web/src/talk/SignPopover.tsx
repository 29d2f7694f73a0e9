import { useEffect, useRef, useState, type MouseEvent } from 'react';
import type { Thread } from '@tea-pencil/core';
import { useCommands } from '../commands/acts';
import { CompactThread, OpenThread } from './ThreadCard';

interface Shown {
  thread: string;
  x: number;
  y: number;
  /** Whether it was clicked, so that it stays. */
  stays: boolean;
}

/** How long the pointer may be away before what it pointed at goes, in milliseconds. */
const patience = 300;

/** Where the margin is hidden, a sign in the text shows its thread on pointing, and keeps it open on a click. */
export function useSigns(hidden: boolean) {
  const [shown, setShown] = useState<Shown | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);
  const stay = () => clearTimeout(timer.current);
  const leave = () => {
    stay();
    timer.current = setTimeout(() => setShown((now) => (now?.stays ? now : null)), patience);
  };
  const over = (event: MouseEvent, stays: boolean) => {
    if (!hidden) return;
    const sign = (event.target as HTMLElement).closest<HTMLElement>('[data-sign]');
    if (!sign) return leave();
    stay();
    const { left, bottom } = sign.getBoundingClientRect();
    const thread = sign.dataset.sign!;
    if (!stays && shown?.thread === thread) return;
    setShown({ thread, x: Math.min(left, innerWidth - 330), y: Math.min(bottom + 6, innerHeight - 200), stays });
  };
  return {
    shown: hidden ? shown : null,
    point: (event: MouseEvent) => over(event, false),
    click: (event: MouseEvent) => over(event, true),
    stay,
    leave,
    close: () => setShown(null),
  };
}

export function SignPopover({ signs, threads }: { signs: ReturnType<typeof useSigns>; threads: readonly Thread[] }) {
  const { shown, close } = signs;
  const card = useRef<HTMLDivElement>(null);
  const stays = shown?.stays ?? false;
  useCommands(stays ? { close } : {});
  useEffect(() => {
    if (!stays) return;
    const away = ({ target }: globalThis.MouseEvent) => {
      if (!card.current?.contains(target as Node)) close();
    };
    addEventListener('mousedown', away);
    return () => removeEventListener('mousedown', away);
  }, [stays, close]);
  const thread = shown && threads.find(({ id }) => id === shown.thread);
  if (!thread) return null;
  return (
    <div
      ref={card}
      role={stays ? 'dialog' : 'tooltip'}
      aria-label="Thread"
      className="talk-popover"
      style={{ left: shown.x, top: shown.y }}
      onMouseEnter={signs.stay}
      onMouseLeave={signs.leave}
    >
      {stays ? <OpenThread thread={thread} /> : <CompactThread thread={thread} />}
    </div>
  );
}
