import { hueOf, hueSheet } from '../src/theme/hues';
import { tokens, type Mode } from '../src/theme/theme';

/** Relative luminance and contrast ratio (WCAG 2.2, definitions of the same names). */
function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const c = parseInt(hex.slice(at, at + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}
function contrast(a: string, b: string): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

// Worked values: black on white is 21 : 1; #777777 on white is 4.48 : 1 (from memory, widely published).
test('the measure itself', () => {
  expect(contrast('#000000', '#FFFFFF')).toBeCloseTo(21, 5);
  expect(contrast('#777777', '#FFFFFF')).toBeCloseTo(4.48, 2);
});

describe.each(['light', 'dark'] as Mode[])('in the %s theme', (mode) => {
  const { sheet, mist, ink, graphite, faint, tea, plum } = tokens[mode];
  test('every author hue can be read as text on the sheet and on the mist (WCAG 2.2, 1.4.3)', () => {
    for (let i = 0; i < 8; i++) {
      expect(contrast(hueOf(i, mode).line, sheet)).toBeGreaterThanOrEqual(4.5);
      expect(contrast(hueOf(i, mode).line, mist)).toBeGreaterThanOrEqual(4.5);
    }
  });
  test('words on every wash can be read, and its rule is seen (1.4.3 and 1.4.11)', () => {
    for (let i = 0; i < 8; i++) {
      const { line, wash } = hueOf(i, mode);
      expect(contrast(ink, wash)).toBeGreaterThanOrEqual(4.5);
      expect(contrast(line, wash)).toBeGreaterThanOrEqual(3);
    }
  });
  test('second voice, removed words, what waits and the primary action can be read', () => {
    for (const colour of [graphite, faint, tea, plum]) expect(contrast(colour, sheet)).toBeGreaterThanOrEqual(4.5);
  });
});

test('a person’s marks get the person’s hue', () => {
  expect(hueSheet([{ id: 'ann', hue: 1 }], 'light')).toBe('[data-author="ann"] { --line: #8A3B12; --wash: #FBEDE4; }');
});
