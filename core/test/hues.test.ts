import { oklch, wcagContrast } from 'culori';
import { authorHues } from '../src/index.js';
import { grounds } from '../src/hues/grounds.js';
import { apart, distance, seen } from '../src/hues/search.js';

// The test data of Sharma, Wu and Dalal, "The CIEDE2000 color-difference formula" (2005), table 1: L, a, b of two colours
// and their distance. Written down from memory; every pair agrees with culori, which was written from the paper.
const pairs = `
  50.0000 2.6772 -79.7751 50.0000 0.0000 -82.7485 2.0425
  50.0000 3.1571 -77.2803 50.0000 0.0000 -82.7485 2.8615
  50.0000 2.8361 -74.0200 50.0000 0.0000 -82.7485 3.4412
  50.0000 -1.3802 -84.2814 50.0000 0.0000 -82.7485 1.0000
  50.0000 -1.1848 -84.8006 50.0000 0.0000 -82.7485 1.0000
  50.0000 -0.9009 -85.5211 50.0000 0.0000 -82.7485 1.0000
  50.0000 0.0000 0.0000 50.0000 -1.0000 2.0000 2.3669
  50.0000 -1.0000 2.0000 50.0000 0.0000 0.0000 2.3669
  50.0000 2.4900 -0.0010 50.0000 -2.4900 0.0009 7.1792
  50.0000 2.4900 -0.0010 50.0000 -2.4900 0.0010 7.1792
  50.0000 2.4900 -0.0010 50.0000 -2.4900 0.0011 7.2195
  50.0000 2.4900 -0.0010 50.0000 -2.4900 0.0012 7.2195
  50.0000 -0.0010 2.4900 50.0000 0.0009 -2.4900 4.8045
  50.0000 -0.0010 2.4900 50.0000 0.0010 -2.4900 4.8045
  50.0000 -0.0010 2.4900 50.0000 0.0011 -2.4900 4.7461
  50.0000 2.5000 0.0000 50.0000 0.0000 -2.5000 4.3065
  50.0000 2.5000 0.0000 73.0000 25.0000 -18.0000 27.1492
  50.0000 2.5000 0.0000 61.0000 -5.0000 29.0000 22.8977
  50.0000 2.5000 0.0000 56.0000 -27.0000 -3.0000 31.9030
  50.0000 2.5000 0.0000 58.0000 24.0000 15.0000 19.4535
  50.0000 2.5000 0.0000 50.0000 3.1736 0.5854 1.0000
  50.0000 2.5000 0.0000 50.0000 3.2972 0.0000 1.0000
  50.0000 2.5000 0.0000 50.0000 1.8634 0.5757 1.0000
  50.0000 2.5000 0.0000 50.0000 3.2592 0.3350 1.0000
  60.2574 -34.0099 36.2677 60.4626 -34.1751 39.4387 1.2644
  63.0109 -31.0961 -5.8663 62.8187 -29.7946 -4.0864 1.2630
  61.2901 3.7196 -5.3901 61.4292 2.2480 -4.9620 1.8731
  35.0831 -44.1164 3.7933 35.0232 -40.0716 1.5901 1.8645
  22.7233 20.0904 -46.6940 23.0331 14.9730 -42.5619 2.0373
  36.4612 47.8580 18.3852 36.2715 50.5065 21.2231 1.4146
  90.8027 -2.0831 1.4410 91.1528 -1.6435 0.0447 1.4441
  90.9257 -0.5406 -0.9208 88.6381 -0.8985 -0.7239 1.5381
  6.7747 -0.2908 -2.4247 5.8714 -0.0985 -2.2286 0.6377
  2.0776 0.0795 -1.1350 0.9033 -0.0636 -0.5514 0.9082`
  .trim()
  .split('\n')
  .map((line) => line.trim().split(/\s+/).map(Number));

test('the distance is CIEDE2000', () => {
  expect(pairs).toHaveLength(34);
  for (const [l1, a1, b1, l2, a2, b2, wanted] of pairs as number[][]) {
    const lab = (l: number, a: number, b: number) => ({ mode: 'lab65' as const, l, a, b });
    expect(distance(lab(l1!, a1!, b1!), lab(l2!, a2!, b2!))).toBeCloseTo(wanted!, 4);
  }
});

// WCAG 2.2, definition of contrast ratio: black on white is 21 : 1; that #767676 on white passes 4.5 and #777777 does
// not is widely published (from memory).
test('the contrast is that of WCAG', () => {
  expect(wcagContrast('#000000', '#FFFFFF')).toBeCloseTo(21, 5);
  expect(wcagContrast('#767676', '#FFFFFF')).toBeGreaterThanOrEqual(4.5);
  expect(wcagContrast('#777777', '#FFFFFF')).toBeLessThan(4.5);
});

describe.each(['light', 'dark'] as const)('in the %s theme', (theme) => {
  const hues = authorHues[theme];
  const { sheet, mist, ink } = grounds[theme];
  test('people can be told apart, by those too who lack one kind of cone: five by hue alone, the others with a pattern', () => {
    expect(hues).toHaveLength(8);
    hues.forEach(({ line }, i) =>
      hues.slice(i + 1).forEach((other, k) => {
        const far = apart(seen(line), seen(other.line));
        expect(far).toBeGreaterThanOrEqual(i < 5 && i + 1 + k < 5 ? 12 : 6.5);
      }),
    );
  });
  test('each is of its family and quiet, as inks on paper; none is the red of an error or the green of all’s well', () => {
    const angles = { blue: [240, 270], ochre: [65, 100], green: [140, 175], violet: [285, 320], rose: [340, 370] };
    for (const [i, [from, to]] of Object.values(angles).entries()) {
      const { c, h = 0 } = oklch(hues[i]!.line)!;
      const angle = from! > 300 && h < 60 ? h + 360 : h;
      expect([angle >= from!, angle <= to!]).toEqual([true, true]);
      if (i) expect(c).toBeLessThanOrEqual(0.125);
    }
    for (const { line } of hues) {
      const { c, h = 0 } = oklch(line)!;
      if (h > 10 && h < 40) expect(c).toBeLessThan(0.09);
      if (h > 120 && h < 175) expect(c).toBeLessThan(0.09);
    }
  });
  test('text in a hue can be read on the sheet and on its wash, lines on the mist too (WCAG 2.2, 1.4.3 and 1.4.11)', () => {
    for (const { line, wash } of hues) {
      expect(wcagContrast(line, sheet)).toBeGreaterThanOrEqual(4.5);
      expect(wcagContrast(line, wash)).toBeGreaterThanOrEqual(4.5);
      expect(wcagContrast(ink, wash)).toBeGreaterThanOrEqual(4.5);
      expect(wcagContrast(line, mist)).toBeGreaterThanOrEqual(3);
    }
  });
});
