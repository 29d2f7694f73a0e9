import { execFileSync } from 'node:child_process';
import path from 'node:path';

type Failure = Record<'title' | 'message', string>;

/** What a function of the script makes of a report; the script is no part of the program that tests it. */
function failures(kind: 'Jest' | 'Screens' | 'Whole', report: object | null): Failure[] {
  const script = path.join(__dirname, '../failures.mjs');
  const code = `import { failuresOf${kind} as of } from ${JSON.stringify(script)};
    console.log(JSON.stringify(of(${JSON.stringify(report)})));`;
  return JSON.parse(
    execFileSync(process.execPath, ['--input-type=module', '-e', code], { encoding: 'utf8' }),
  ) as Failure[];
}

test('what failed is said with the first lines of its reason, without colours and without the frames of packages', () => {
  const failureMessages = [
    ['\u001b[31mexpected 1\u001b[39m', '    at node_modules/x.js:1', ...Array(30).fill('line')].join('\n'),
  ];
  const tests = [
    { status: 'passed', fullName: 'holds', failureMessages: [] },
    { status: 'failed', fullName: 'does not', failureMessages },
  ];
  const jest = {
    testResults: [
      { name: 'a.test.ts', message: 'of all', assertionResults: tests },
      { name: 'b.test.ts', message: 'cannot be read in', assertionResults: [] },
    ],
  };
  const [first, second, ...others] = failures('Jest', jest);
  expect(first!.title).toBe('a.test.ts › does not');
  expect(first!.message.split('\n').slice(0, 2)).toEqual(['expected 1', 'line']);
  expect(first!.message.split('\n')).toHaveLength(14);
  expect(second).toEqual({ title: 'b.test.ts', message: 'cannot be read in' });
  expect(others).toEqual([]);

  const spec = (title: string, message?: string) => ({
    file: 'a.spec.ts',
    title,
    ok: !message,
    tests: [
      {
        results: [message ? { error: { message } } : {}],
        annotations: [
          { type: 'slow', description: 'three times as long' },
          { type: 'window', description: '/m/1, keyboard at body' },
        ],
      },
    ],
  });
  const inner = { specs: [spec('fails', 'no such button')] };
  expect(failures('Screens', { suites: [{ specs: [spec('passes')], suites: [inner] }] })).toEqual([
    { title: 'a.spec.ts › fails', message: 'no such button\nA window: /m/1, keyboard at body' },
  ]);
  expect([failures('Jest', null), failures('Screens', null)]).toEqual([[], []]);

  const printed = '[warn] a.ts\n[warn] Code style issues found in the above file.';
  expect(failures('Whole', { stage: 'format', good: false, printed })).toEqual([{ title: 'format', message: printed }]);
  expect(failures('Whole', { stage: 'format', good: true, printed })).toEqual([]);
});
