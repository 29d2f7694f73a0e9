import type { ChartData, ChartOptions } from 'chart.js';
import { states, type Figure, type FigureName, type FigureRow } from '@tea-pencil/core';
import { interfaceFont, tokens, type Mode } from '../theme/theme';
import { filled, type Fill } from './fills';

/** A figure as a chart. Its table says the same; a chart shows no more rows than can be told apart. */

/** So many rows a chart shows; the table has all. */
export const mostRows = 16;

interface Drawing {
  /** Whether its bars lie, and whether they stand on one another. */
  lies: boolean;
  stacked: boolean;
  fills: readonly Fill[];
}

const inOrder: readonly Fill[] = ['first', 'second', 'third', 'fourth'];
const drawings: Readonly<Record<FigureName, Drawing>> = {
  authors: { lies: true, stacked: true, fills: states },
  kinds: { lies: true, stacked: true, fills: states },
  sections: { lies: true, stacked: true, fills: states },
  verdicts: { lies: true, stacked: true, fills: ['accepted', 'rejected'] },
  words: { lies: true, stacked: false, fills: inOrder },
  work: { lies: false, stacked: false, fills: inOrder },
  growth: { lies: false, stacked: false, fills: inOrder },
  waiting: { lies: false, stacked: true, fills: ['accepted', 'rejected'] },
  talk: { lies: true, stacked: false, fills: inOrder },
};

export interface Charted {
  data: ChartData<'bar' | 'line', number[], string>;
  options: ChartOptions<'bar' | 'line'>;
  height: number;
}

interface Look {
  mode: Mode;
  /** The hue of a person. */
  hueOf(person: string): string;
}

/** Whether its rows are moments, or stretches of time. */
export const isOfTime = (name: FigureName): boolean => name === 'work' || name === 'growth';

/** Which rows a chart shows: the first ones, or all there is of time. */
export const shownRows = ({ name, rows }: Figure): readonly FigureRow[] =>
  isOfTime(name) ? rows : rows.slice(0, mostRows);

/** Of what was accepted and rejected, what part either is, in hundredths. */
const shares = (values: readonly number[]): number[] => {
  const all = values.reduce((sum, value) => sum + value, 0);
  return values.map((value) => (all ? (100 * value) / all : 0));
};

export function charted(figure: Figure, labelOf: (row: FigureRow) => string, { mode, hueOf }: Look): Charted {
  const { name, columns } = figure;
  const { lies, stacked, fills } = drawings[name];
  const { ink, graphite, hairline, sheet } = tokens[mode];
  const rows = shownRows(figure);
  const lineOf = ({ person }: FigureRow) => (person ? hueOf(person) : graphite);
  const valuesOf = ({ values }: FigureRow) => (name === 'verdicts' ? shares(values) : values);
  const datasets = columns.map((label, i) => {
    const data = rows.map((row) => valuesOf(row)[i]!);
    // How long the text was is no amount of something that happened.
    if (name === 'growth' && i === 0)
      return {
        ...{ type: 'line' as const, label, data, borderColor: ink, borderWidth: 2, pointRadius: 2, tension: 0 },
        ...{ yAxisID: 'length', order: 0 },
      };
    return {
      ...{ type: 'bar' as const, label, data, borderWidth: 1, order: 1 },
      backgroundColor: rows.map((row) => filled(fills[i]!, lineOf(row), sheet)),
      borderColor: rows.map(lineOf),
      ...(lies ? { maxBarThickness: 18 } : { maxBarThickness: 34 }),
    };
  });
  const font = { family: interfaceFont, size: 12 };
  const counts = {
    stacked,
    beginAtZero: true,
    ...(name === 'verdicts' && { max: 100 }),
    grid: { color: hairline },
    border: { color: hairline },
    ticks: {
      ...{ color: graphite, font, precision: 0 },
      ...(name === 'verdicts' && { callback: (value: string | number) => `${value} %` }),
    },
  };
  const names = {
    stacked,
    grid: { display: false },
    border: { color: hairline },
    ticks: { color: ink, font, autoSkip: isOfTime(name), maxRotation: 0 },
  };
  return {
    data: { labels: rows.map(labelOf), datasets },
    options: {
      ...{ animation: false, responsive: true, maintainAspectRatio: false, indexAxis: lies ? 'y' : 'x' },
      scales: {
        ...(lies ? { x: counts, y: names } : { x: names, y: counts }),
        ...(name === 'growth' && {
          length: { ...counts, position: 'right' as const, grid: { display: false }, beginAtZero: false },
        }),
      },
      plugins: {
        legend: {
          position: 'bottom',
          labels: {
            ...{ color: ink, font, boxWidth: 16, boxHeight: 12 },
            generateLabels: (chart) =>
              chart.data.datasets.map((set, i) => ({
                text: set.label ?? '',
                fontColor: ink,
                fillStyle: set.type === 'line' ? ink : filled(fills[i]!, graphite, sheet),
                strokeStyle: set.type === 'line' ? ink : graphite,
                lineWidth: 1,
                hidden: !chart.isDatasetVisible(i),
                datasetIndex: i,
              })),
          },
        },
        tooltip: { bodyFont: font, titleFont: font, boxPadding: 4 },
      },
    },
    height: lies ? 86 + rows.length * (stacked ? 30 : 18 * columns.length + 14) : 270,
  };
}
