import fc from 'fast-check';
import { pagesOf, type FlowLine, type FlowNote, type PageOf, type Room } from '../src/index.js';

/** Pages: nothing is lost or twice, nothing is cut, and lines keep the company that readers expect. */

interface Made {
  lines: FlowLine[];
  room: Room;
}

const block = fc.record({
  lines: fc.integer({ min: 1, max: 9 }),
  height: fc.integer({ min: 8, max: 16 }),
  heading: fc.boolean(),
  /** On which of its lines notes are called, and how long they are. */
  notes: fc.array(
    fc.tuple(fc.nat(8), fc.integer({ min: 1, max: 14 }), fc.constantFrom('foot' as const, 'side' as const)),
    {
      maxLength: 3,
    },
  ),
});

const some: fc.Arbitrary<Made> = fc
  .record({
    blocks: fc.array(block, { minLength: 1, maxLength: 25 }),
    height: fc.integer({ min: 60, max: 200 }),
  })
  .map(({ blocks, height }) => {
    const notes: FlowNote[] = [];
    const lines = blocks.flatMap(({ lines: many, height: high, heading, notes: called }, k) =>
      Array.from({ length: heading ? 1 : many }, (_, i): FlowLine => {
        const mine = heading ? [] : called.filter(([at]) => at % many === i);
        const own = mine.map(([, length, where]) => notes.push({ where, lines: Array.from({ length }, () => 6) }) - 1);
        return {
          ...{ height: high, above: i ? 0 : 5, block: k },
          ...(heading && { keepsNext: true }),
          ...(own.length && { notes: own }),
        };
      }),
    );
    return { lines, room: { height, notes, gap: 4, between: 2 } };
  });

const heightOf = ({ lines, room }: Made, { from, to, notes }: PageOf) => {
  const text = lines
    .slice(from, to)
    .reduce((sum, line, i) => sum + line.height + (i ? line.above : (line.head ?? 0)), 0);
  const noted = (where: FlowNote['where']) =>
    notes
      .filter(({ note }) => room.notes[note]!.where === where)
      .reduce(
        (sum, part, i) =>
          sum +
          (i ? room.between : where === 'foot' ? room.gap : 0) +
          room.notes[part.note]!.lines.slice(part.from, part.to).reduce((a, b) => a + b, 0),
        0,
      );
  return { text, foot: noted('foot'), side: noted('side') };
};

test('every line and every line of every note stands on one page, in order', () => {
  fc.assert(
    fc.property(some, ({ lines, room }) => {
      const pages = pagesOf(lines, room);
      expect(pages.flatMap(({ from, to }) => Array.from({ length: to - from }, (_, i) => from + i))).toEqual(
        lines.map((_, i) => i),
      );
      const parts = pages.flatMap(({ notes }) => notes);
      for (const where of ['foot', 'side'] as const) {
        const placed = parts
          .filter(({ note }) => room.notes[note]!.where === where)
          .flatMap(({ note, from, to }) => Array.from({ length: to - from }, (_, i) => [note, from + i]));
        expect(placed).toEqual(
          room.notes.flatMap((all, note) => (all.where === where ? all.lines.map((_, i) => [note, i]) : [])),
        );
      }
    }),
    { numRuns: 400 },
  );
});

test('no page is fuller than it is high, save one that holds a single line or goes on with a note', () => {
  fc.assert(
    fc.property(some, (made) => {
      for (const page of pagesOf(made.lines, made.room)) {
        const { text, foot, side } = heightOf(made, page);
        const most = made.room.height;
        if (page.to - page.from > 1) {
          expect(text).toBeLessThanOrEqual(most);
          expect(text + foot).toBeLessThanOrEqual(most);
        }
        expect(Math.max(foot, side)).toBeLessThanOrEqual(most);
      }
    }),
    { numRuns: 400 },
  );
});

test('a note begins on the page of its line, unless notes from before fill its foot or the line begins the page', () => {
  fc.assert(
    fc.property(some, ({ lines, room }) => {
      const pages = pagesOf(lines, room);
      for (const page of pages)
        for (let i = page.from; i < page.to; i++) {
          for (const where of ['foot', 'side'] as const) {
            const first = lines[i]!.notes?.find((note) => room.notes[note]!.where === where);
            if (first === undefined || i === page.from) continue;
            expect(page.notes.some(({ note, from }) => note === first && from === 0)).toBe(true);
          }
        }
    }),
    { numRuns: 400 },
  );
});

test('two lines of a paragraph at least stay together at either end of a page, and no heading ends one', () => {
  fc.assert(
    fc.property(some, ({ lines, room }) => {
      for (const { from, to } of pagesOf(lines, room)) {
        if (to >= lines.length || to === from) continue;
        const last = lines[to - 1]!;
        const start = lines.findIndex((line) => line.block === last.block);
        // A page that is one paragraph, with headings above it, has no better place to end.
        let chain = start;
        while (chain > 0 && lines[chain - 1]!.keepsNext) chain--;
        if (chain <= from) continue;
        expect(last.keepsNext).toBeUndefined();
        const whole = lines.filter((line) => line.block === last.block).length;
        const here = to - start;
        if (here < whole) {
          expect(here).toBeGreaterThanOrEqual(2);
          expect(whole - here).toBeGreaterThanOrEqual(2);
        }
      }
    }),
    { numRuns: 400 },
  );
});

test('worked by hand: five lines to a page, a note that takes one of them, a heading that goes along', () => {
  const line = (of: number, more: Partial<FlowLine> = {}): FlowLine => ({ height: 10, above: 0, block: of, ...more });
  const room: Room = { height: 50, notes: [{ where: 'foot', lines: [10] }], gap: 0, between: 0 };
  // Three lines, a heading, four lines: the heading would be last but one with a single line below it.
  const lines = [line(0), line(0), line(0), line(1, { keepsNext: true }), line(2), line(2), line(2), line(2)];
  expect(pagesOf(lines, { ...room, notes: [] })).toEqual([
    { from: 0, to: 3, notes: [] },
    { from: 3, to: 8, notes: [] },
  ]);
  const noted = [line(0, { notes: [0] }), line(0), line(0), line(0), line(0), line(0)];
  expect(pagesOf(noted, room)).toEqual([
    { from: 0, to: 4, notes: [{ note: 0, from: 0, to: 1 }] },
    { from: 4, to: 6, notes: [] },
  ]);
  // The same beside the lines takes no room from them.
  expect(pagesOf(noted, { ...room, notes: [{ where: 'side', lines: [10] }] }).map(({ to }) => to)).toEqual([4, 6]);
});

test('what is repeated above a line takes its room where the line begins a page', () => {
  const rows = Array.from({ length: 6 }, (_, i): FlowLine => ({ height: 10, above: 0, block: i, head: i ? 10 : 0 }));
  const pages = pagesOf(rows, { height: 30, notes: [], gap: 0, between: 0 });
  expect(pages.map(({ from, to }) => [from, to])).toEqual([
    [0, 3],
    [3, 5],
    [5, 6],
  ]);
});

test('a thousand pages come of fifty thousand lines, each looked at a few times only', () => {
  let looked = 0;
  const lines = Array.from({ length: 50_000 }, (_, i): FlowLine => ({
    get height() {
      looked++;
      return 10;
    },
    ...{ above: 0, block: Math.floor(i / 7) },
  }));
  const pages = pagesOf(lines, { height: 500, notes: [], gap: 0, between: 0 });
  expect(pages.length).toBeGreaterThanOrEqual(1000);
  expect(looked).toBeLessThan(lines.length * 4);
});
