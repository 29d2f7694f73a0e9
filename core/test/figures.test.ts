import fc from 'fast-check';
import {
  changeKinds,
  countWords,
  figuresOf,
  medianWait,
  states,
  sumsOf,
  type Counted,
  type Figure,
  type FigureName,
  type Thread,
  type Worked,
} from '../src/index.js';

const day = (n: number, hours = 0) => new Date(Date.UTC(2026, 10, 1 + n, hours)).toISOString();

const someChange: fc.Arbitrary<Counted> = fc
  .record({
    author: fc.constantFrom('ann', 'ben', 'cyd', 'cyd-in-file'),
    kind: fc.constantFrom(...changeKinds),
    state: fc.constantFrom(...states),
    heading: fc.constantFrom(null, 'The tide', 'The wrack'),
    before: fc.constantFrom('', 'the tide', ' dry'),
    after: fc.constantFrom('', 'a', 'and so on'),
    made: fc.integer({ min: 0, max: 20 }),
    waited: fc.integer({ min: 0, max: 1000 }),
  })
  .map(({ made, waited, ...change }) => ({
    ...change,
    date: day(made),
    decidedAt: change.state === 'pending' ? null : day(made, waited),
  }));
const is = (author: string) => (author === 'cyd-in-file' ? 'cyd' : author);
const nameOf = (person: string) => person.toUpperCase();
const none = { threads: [], worked: [], kept: [], is, nameOf };
const all = (figures: readonly Figure[]) =>
  Object.fromEntries(figures.map((figure) => [figure.name, figure])) as Record<FigureName, Figure>;

test('every figure of changes counts each of them once, whatever it is brought together by', () => {
  fc.assert(
    fc.property(fc.array(someChange, { maxLength: 60 }), (changes) => {
      const figures = all(figuresOf({ ...none, changes }));
      const counts = states.map((state) => changes.filter((change) => change.state === state).length);
      for (const name of ['authors', 'kinds', 'sections'] as const) expect(sumsOf(figures[name])).toEqual(counts);
      for (const { person, name, values } of figures.authors.rows) {
        const own = changes.filter(({ author }) => is(author) === person);
        expect([name, values]).toEqual([
          nameOf(person!),
          states.map((state) => own.filter((change) => change.state === state).length),
        ]);
      }
      const [accepted, rejected] = sumsOf(figures.verdicts);
      expect([accepted, rejected]).toEqual(counts.slice(1, 3));
      expect(sumsOf(figures.waiting)).toEqual([accepted, rejected]);
      const adds = changes.filter(({ kind }) => !['deletion', 'move', 'formatting'].includes(kind));
      const removes = changes.filter(({ kind }) => !['insertion', 'move', 'formatting'].includes(kind));
      expect(sumsOf(figures.words)).toEqual([
        adds.reduce((sum, { after }) => sum + countWords(after), 0),
        removes.reduce((sum, { before }) => sum + countWords(before), 0),
      ]);
    }),
  );
});

test('how long things waited is counted in lines that leave nothing out; half of them waited no longer than the middle', () => {
  fc.assert(
    fc.property(fc.array(someChange, { minLength: 1, maxLength: 40 }), (changes) => {
      const decided = changes.filter(({ state }) => state === 'accepted' || state === 'rejected');
      const middle = medianWait(changes);
      if (!decided.length) return expect(middle).toBeNull();
      const waits = decided.map(({ date, decidedAt }) => Date.parse(decidedAt!) - Date.parse(date));
      expect(waits.filter((wait) => wait <= middle!).length * 2).toBeGreaterThanOrEqual(waits.length);
      expect(waits.filter((wait) => wait >= middle!).length * 2).toBeGreaterThanOrEqual(waits.length);
    }),
  );
  const one = (hours: number): Counted => ({
    ...{ author: 'ann', kind: 'insertion', state: 'accepted', heading: null, before: '', after: 'x' },
    ...{ date: day(0), decidedAt: day(0, hours) },
  });
  const { waiting } = all(figuresOf({ ...none, changes: [0, 1, 23, 24, 167, 168, 719, 720].map(one) }));
  expect(waiting.rows.map(({ values }) => values[0])).toEqual([1, 2, 2, 2, 1]);
});

test('what came and went is told of each stretch of time once; how long the text was, of each state that is known', () => {
  const work = fc.record({ at: fc.integer({ min: 0, max: 9 }), come: fc.nat(50), gone: fc.nat(50) });
  fc.assert(
    fc.property(fc.array(work, { maxLength: 30 }), (done) => {
      const worked: Worked[] = done.map(({ at, ...rest }) => ({ ...rest, at: day(at), intent: 'pencil' }));
      const kept = worked.map(({ at }, i) => ({ at, words: i * 10, pending: i }));
      const figures = all(figuresOf({ ...none, changes: [], worked, kept }));
      expect(figures.work.rows.map(({ at }) => at)).toEqual([...new Set(worked.map(({ at }) => at))].sort());
      expect(sumsOf(figures.work)).toEqual([
        done.reduce((sum, one) => sum + one.come, 0),
        done.reduce((sum, one) => sum + one.gone, 0),
      ]);
      expect(figures.growth.rows.map(({ at }) => at)).toEqual(worked.map(({ at }) => at).sort());
      for (const { at, values } of figures.growth.rows)
        expect(kept).toContainEqual({ at, words: values[0], pending: values[1] });
    }),
  );
});

test('talk: who began, answered, asked and was answered; notes to oneself and what is deleted count for nobody', () => {
  const comment = (id: string, author: string, more: object = {}) => ({
    ...{ id, author, date: day(1), body: { type: 'doc' as const, content: [] } },
    ...more,
  });
  const threads: Thread[] = [
    {
      ...{ id: 't1', author: 'ann', date: day(1), quote: '', resolved: false },
      comments: [
        comment('1', 'ann', { query: { to: 'ben', settled: { by: 'ben', date: day(2) } } }),
        comment('2', 'ben'),
        comment('3', 'cyd-in-file', { deleted: day(3) }),
        comment('4', 'cyd-in-file'),
      ],
    },
    { ...{ id: 't2', author: 'ben', date: day(1), quote: '', resolved: true }, comments: [comment('5', 'ben')] },
    {
      id: 't3',
      author: 'ben',
      date: day(1),
      quote: '',
      resolved: false,
      toSelf: true,
      comments: [comment('6', 'ben')],
    },
  ];
  const { talk } = all(figuresOf({ ...none, changes: [], threads }));
  expect(Object.fromEntries(talk.rows.map(({ name, values }) => [name, values]))).toEqual({
    ANN: [1, 0, 1, 0],
    BEN: [1, 1, 0, 1],
    CYD: [0, 1, 0, 0],
  });
});

test('a text in which nothing happened has figures without rows', () => {
  for (const { rows } of figuresOf({ ...none, changes: [] })) expect(rows).toEqual([]);
  expect(medianWait([])).toBeNull();
});
