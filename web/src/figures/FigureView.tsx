import { Button } from '@mui/material';
import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
} from 'chart.js';
import { useId, useMemo, useRef } from 'react';
import { Chart as ChartView } from 'react-chartjs-2';
import { sumsOf, writeCsv, type Figure, type FigureRow } from '@tea-pencil/core';
import { keepFile } from '../api/client';
import { exactly, exactTime } from '../kit/time';
import { useLooking, useOpened } from '../opened/opened';
import { hueOf } from '../theme/hues';
import { useMode } from '../theme/mode';
import { tokens } from '../theme/theme';
import { charted, isOfTime, mostRows } from './charting';
import { labelOf, type Words } from './words';

Chart.register(
  BarController,
  BarElement,
  CategoryScale,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
);

/** So many rows of a table are shown without being asked for. */
const few = 12;

interface Props {
  figure: Figure;
  words: Words;
}

/** A figure: its chart, and the table that says the same, each to be taken away. */
export function FigureView({ figure, words }: Props) {
  const { info } = useOpened();
  const { ownHues } = useLooking();
  const { mode } = useMode();
  const id = useId();
  const chart = useRef<Chart<'bar' | 'line', number[], string>>(null);
  const { columns, rows } = figure;
  const { data, options, height } = useMemo(
    () =>
      charted(figure, labelOf, {
        mode,
        hueOf: (person) =>
          hueOf(ownHues.people[person] ?? info.people.find((one) => one.id === person)?.hue ?? 0, mode).line,
      }),
    [figure, mode, ownHues, info.people],
  );
  const file = `${info.title.replace(/[\\/:*?"<>|]/g, '-')} (${words.title.toLowerCase()})`;
  const takePicture = () => {
    const { canvas } = chart.current!;
    // On paper, in whatever theme it is looked at, a picture has a ground.
    const picture = document.createElement('canvas');
    picture.width = canvas.width;
    picture.height = canvas.height;
    const pen = picture.getContext('2d')!;
    pen.fillStyle = tokens[mode].sheet;
    pen.fillRect(0, 0, picture.width, picture.height);
    pen.drawImage(canvas, 0, 0);
    picture.toBlob((blob) => blob && keepFile(`${file}.png`, blob), 'image/png');
  };
  const takeTable = () => {
    const csv = writeCsv([
      [words.of, ...columns],
      ...rows.map((row) => [row.at ? exactTime(row.at) : labelOf(row), ...row.values.map(String)]),
    ]);
    keepFile(`${file}.csv`, new Blob([csv], { type: 'text/csv;charset=utf-8' }));
  };
  return (
    <section className="figure" aria-labelledby={id}>
      <div className="figure-head">
        <h2 id={id} className="serif">
          {words.title}
        </h2>
        <Button size="small" color="inherit" onClick={takePicture}>
          PNG<span className="heard-only"> of {words.title}</span>
        </Button>
        <Button size="small" color="inherit" onClick={takeTable}>
          CSV<span className="heard-only"> of {words.title}</span>
        </Button>
      </div>
      <p className="part-says">{words.says}</p>
      <div className="figure-chart" style={{ height }}>
        <ChartView
          ref={chart}
          type="bar"
          data={data}
          options={options}
          role="img"
          aria-label={`${words.title}, as a chart; the table below says the same`}
        />
      </div>
      {rows.length > mostRows && !isOfTime(figure.name) && (
        <p className="second">
          The chart shows the first {mostRows}; the table has all {rows.length.toLocaleString()}.
        </p>
      )}
      <details className="figure-table" open={rows.length <= few}>
        <summary>
          As a table, {rows.length.toLocaleString()} {rows.length === 1 ? 'row' : 'rows'}
        </summary>
        <Table figure={figure} words={words} />
      </details>
    </section>
  );
}

function Table({ figure, words }: Props) {
  const { columns, rows, name } = figure;
  const sums = sumsOf(figure);
  return (
    <div className="figure-scroll" tabIndex={0} role="region" aria-label={`${words.title}, as a table`}>
      <table>
        <thead>
          <tr>
            <th scope="col">{words.of}</th>
            {columns.map((column) => (
              <th scope="col" key={column}>
                {column}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, i) => (
            <tr key={i}>
              <Name row={row} />
              {row.values.map((value, k) => (
                <td key={k}>{value.toLocaleString()}</td>
              ))}
            </tr>
          ))}
        </tbody>
        {/* How the text was is not added up. */}
        {rows.length > 1 && name !== 'growth' && (
          <tfoot>
            <tr>
              <th scope="row">All</th>
              {sums.map((sum, i) => (
                <td key={i}>{sum.toLocaleString()}</td>
              ))}
            </tr>
          </tfoot>
        )}
      </table>
    </div>
  );
}

function Name({ row }: { row: FigureRow }) {
  return (
    <th scope="row">
      {row.person && <span className="dot" data-author={row.person} />}
      {row.at ? <time dateTime={row.at}>{exactly(row.at)}</time> : labelOf(row)}
    </th>
  );
}
