import type { Mode } from './theme';

/** Line and wash of each author hue, for both themes. Which of them is a person's is kept with the manuscript. */
const hues: Record<Mode, [line: string, wash: string][]> = {
  light: [
    ['#2257A8', '#E8EFFB'],
    ['#8A3B12', '#FBEDE4'],
    ['#0F6B5B', '#E1F3EF'],
    ['#6B3FA0', '#F0E9F9'],
    ['#5F6410', '#F1F2DC'],
    ['#A3213B', '#FBE7EB'],
    ['#34606F', '#E4EFF3'],
    ['#4A4550', '#EDEBEF'],
  ],
  dark: [
    ['#8DB4F2', '#22304A'],
    ['#F0A27C', '#43291C'],
    ['#74CDBB', '#1A3A34'],
    ['#C3A2EC', '#33274A'],
    ['#C6CC6E', '#34361A'],
    ['#F4909F', '#47212A'],
    ['#8FC1D3', '#20363F'],
    ['#C9C4D0', '#35323A'],
  ],
};

/** How many hues people can have. */
export const howManyHues = hues.light.length;

export const hueOf = (index: number, mode: Mode): { line: string; wash: string } => {
  const [line, wash] = hues[mode][index % hues[mode].length]!;
  return { line, wash };
};

/** A style sheet that gives everything marked as a person's the person's hue. */
export function hueSheet(people: readonly { id: string; hue: number }[], mode: Mode): string {
  return people
    .map(({ id, hue }) => {
      const { line, wash } = hueOf(hue, mode);
      return `[data-author="${id}"] { --line: ${line}; --wash: ${wash}; }`;
    })
    .join('\n');
}
