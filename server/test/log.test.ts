import { Writable } from 'node:stream';
import { Log, wentWrong } from '../src/running/log';

/** The log stays within bounds, whatever goes wrong. */

test('what goes wrong every second is said once a minute, with how often it was', () => {
  const lines: Record<string, unknown>[] = [];
  const out = new Writable({
    write: (line: Buffer, _, done) => {
      lines.push(JSON.parse(line.toString()) as Record<string, unknown>);
      done();
    },
  });
  jest.useFakeTimers();
  const log = new Log('warn', out);
  const away = () => Object.assign(new Error('connect'), { code: 'ECONNREFUSED' });
  for (let second = 0; second < 150; second++) {
    log.warn(wentWrong('mail waits', away()), 'Mailer');
    if (second === 5) log.warn(wentWrong('mail waits', new TypeError('else')), 'Mailer');
    if (second === 5) log.warn(wentWrong('no checkpoint', away()), 'Checkpoints');
    jest.advanceTimersByTime(1000);
  }
  log.warn('The same sentence.', 'Part');
  log.warn('The same sentence.', 'Part');
  jest.useRealTimers();
  const told = lines.map(({ part, what, failure, again }) => [part, what, failure, again]);
  expect(told).toEqual([
    ['Mailer', 'mail waits', 'Error', undefined],
    ['Mailer', 'mail waits', 'TypeError', undefined],
    ['Checkpoints', 'no checkpoint', 'Error', undefined],
    ['Mailer', 'mail waits', 'Error', 59],
    ['Mailer', 'mail waits', 'Error', 59],
    ['Part', 'The same sentence.', undefined, undefined],
    ['Part', 'The same sentence.', undefined, undefined],
  ]);
});
