import { Box } from '@mui/material';
import { useState, type MouseEvent } from 'react';
import { said } from '../kit/time';

interface Over {
  text: string;
  x: number;
  y: number;
}

/** Pointing at a change names author, kind and time at once. */
export function usePointed(
  find: (change: string) => { name: string; words: string; date: string } | undefined,
): [Over | null, (event: MouseEvent) => void] {
  const [pointed, setPointed] = useState<{ change: string; x: number; y: number } | null>(null);
  const point = (event: MouseEvent) => {
    const marked = (event.target as HTMLElement).closest<HTMLElement>('[data-change]:not(.quiet)');
    const { clientX: x, clientY: y } = event;
    setPointed(marked && event.type !== 'mouseleave' ? { change: marked.dataset.change!, x, y } : null);
  };
  // Asked for whenever it is drawn: names and words may change under a pointer that rests.
  const found = pointed && find(pointed.change);
  const over = found && { ...pointed, text: `${found.name} ${found.words} · ${said(found.date)}` };
  return [over ?? null, point];
}

export function Pointed({ text, x, y }: Over) {
  return (
    <Box
      role="tooltip"
      sx={{
        position: 'fixed',
        left: x + 10,
        top: y + 16,
        zIndex: 30,
        px: 1,
        py: 0.4,
        bgcolor: 'text.primary',
        color: 'background.paper',
        fontSize: 12,
        borderRadius: 0.5,
        pointerEvents: 'none',
        maxWidth: 360,
      }}
    >
      {text}
    </Box>
  );
}
