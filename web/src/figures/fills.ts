import type { State } from '@tea-pencil/core';

/** How areas of a figure are filled: hue says who, the pattern says what, on paper and for every eye. */

export type Fill = State | 'first' | 'second' | 'third' | 'fourth';

/** Which pattern each fill is. */
const patterns: Readonly<Record<Fill, 'solid' | 'hatched' | 'empty' | 'dotted'>> = {
  accepted: 'solid',
  rejected: 'hatched',
  pending: 'empty',
  gone: 'dotted',
  first: 'solid',
  second: 'hatched',
  third: 'empty',
  fourth: 'dotted',
};

const known = new Map<string, CanvasPattern | string>();
const side = 8;

/** Draws one tile of a pattern. */
function drawn(pattern: 'hatched' | 'empty' | 'dotted', line: string, ground: string): HTMLCanvasElement {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = side;
  const pen = canvas.getContext('2d')!;
  pen.fillStyle = ground;
  pen.fillRect(0, 0, side, side);
  pen.strokeStyle = pen.fillStyle = line;
  pen.lineWidth = 1.6;
  if (pattern === 'hatched')
    for (const from of [-side, 0, side]) {
      pen.beginPath();
      pen.moveTo(from, side);
      pen.lineTo(from + side, 0);
      pen.stroke();
    }
  if (pattern === 'dotted')
    for (const [x, y] of [
      [2, 2],
      [6, 6],
    ] as const) {
      pen.beginPath();
      pen.arc(x, y, 1.1, 0, Math.PI * 2);
      pen.fill();
    }
  return canvas;
}

/** What a canvas fills an area with. */
export function filled(fill: Fill, line: string, ground: string): CanvasPattern | string {
  const pattern = patterns[fill];
  if (pattern === 'solid') return line;
  const key = `${pattern} ${line} ${ground}`;
  let made = known.get(key);
  if (!made) {
    const pen = document.createElement('canvas').getContext('2d')!;
    known.set(key, (made = pen.createPattern(drawn(pattern, line, ground), 'repeat')!));
  }
  return made;
}
