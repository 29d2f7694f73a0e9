import { wcagContrast as contrast } from 'culori';
import { authorHues, changeKinds } from '@tea-pencil/core';
import { grounds } from '../../core/src/hues/grounds';
import { hueSheet, kindHue } from '../src/theme/hues';
import { tokens, type Mode } from '../src/theme/theme';

describe.each(['light', 'dark'] as Mode[])('in the %s theme', (mode) => {
  const { sheet, mist, ink, graphite, faint, tea, plum } = tokens[mode];
  test('author hues were searched on the grounds of the house', () => {
    expect(grounds[mode]).toMatchObject({ sheet, mist, ink });
  });
  test('second voice, removed words, what waits and the primary action can be read', () => {
    for (const colour of [graphite, faint, tea, plum]) expect(contrast(colour, sheet)).toBeGreaterThanOrEqual(4.5);
  });
});

test('a person’s marks get the person’s hue; or one that the viewer chose', () => {
  const people = [
    { id: 'ann', hue: 1 },
    { id: 'ben', hue: 2 },
  ];
  const { line, wash } = authorHues.light[1]!;
  expect(hueSheet(people, 'light').split('\n')[0]).toBe(`[data-author="ann"] { --line: ${line}; --wash: ${wash}; }`);
  const sixth = hueSheet([{ id: 'ann', hue: 5 }], 'light');
  expect(sixth).toContain('--through: double;');
  expect(new Set([4, 5, 6, 7].map((hue) => hueSheet([{ id: 'ann', hue }], 'light').replace(/#\w+/g, ''))).size).toBe(4);
  const [ann, ben] = hueSheet(people, 'light', { says: 'who', people: { ben: 1 } }).split('\n');
  expect(ben!.replace('ben', 'ann')).toBe(ann);
});

test('where hues say the kind, they outweigh those of people', () => {
  const sheet = hueSheet([{ id: 'ann', hue: 1 }], 'dark', { says: 'kind', people: {} });
  for (const kind of changeKinds) {
    const { line } = kindHue(kind, 'dark');
    expect(sheet).toContain(`[data-kind="${kind}"][data-author] { --line: ${line};`);
  }
  expect(new Set(changeKinds.map((kind) => kindHue(kind, 'dark').line)).size).toBe(changeKinds.length);
});
