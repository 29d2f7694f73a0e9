import { columns, layOf, plainLedger, shownColumns, widened } from '../src/ledger/columns';
import { localeFormat } from '../src/kit/locale-format';
import { Soon } from '../src/kit/soon';
import { dividedByBlanks } from '../src/sheet/editor/pasting';
import { format } from 'date-fns';

/** Small parts of the screen that compute something. */

test.each(['en-GB', 'en-US', 'de-DE', 'fr-FR', 'ja-JP', 'sv-SE'])(
  'the pattern of %s writes a moment as the locale does (ECMA-402)',
  (locale) => {
    const moment = new Date(2026, 10, 3, 14, 5);
    const own = new Intl.DateTimeFormat(locale, {
      year: 'numeric',
      month: '2-digit',
      day: '2-digit',
      hour: '2-digit',
      minute: '2-digit',
    }).format(moment);
    const plain = (text: string) => text.replace(/\s/g, ' ').toLowerCase();
    expect(plain(format(moment, localeFormat(locale)))).toBe(plain(own));
  },
);

test('only where blank lines and other ends of lines both stand is there a choice', () => {
  expect(dividedByBlanks('a\nb')).toBeNull();
  expect(dividedByBlanks('a\n\nb')).toBeNull();
  expect(dividedByBlanks('a\r\n b \r\n \r\nc\n\n\n')).toEqual(['a b', 'c']);
});

test('columns stand as wide as they were drawn; one side of the words is always seen', () => {
  expect(layOf(plainLedger).template.split('px ').length).toBeGreaterThan(6);
  const drawn = widened(plainLedger, 'place', 333.4);
  expect(layOf(drawn).template).toContain('333px');
  expect(layOf(drawn).width - layOf(plainLedger).width).toBe(333 - 150);
  expect(widened(plainLedger, 'place', 1).widths.place).toBe(40);
  const hidden = { hidden: columns.map(({ name }) => name), widths: {} };
  expect(shownColumns(hidden).map(({ name }) => name)).toEqual(['after']);
});

test('what is asked for again and again is done once one pauses, and however little one pauses', () => {
  jest.useFakeTimers();
  try {
    const done: number[] = [];
    const begun = performance.now();
    const soon = new Soon(() => done.push(performance.now() - begun), 1000);
    soon.ask(200);
    jest.advanceTimersByTime(150);
    soon.ask(200);
    jest.advanceTimersByTime(500);
    expect(done).toEqual([350]);
    for (let i = 0; i < 30; i++) {
      soon.ask(200);
      jest.advanceTimersByTime(100);
    }
    expect(done.slice(1)).toEqual([1650, 2650, 3650]);
    soon.forget();
    jest.advanceTimersByTime(5000);
    expect(done).toHaveLength(4);
  } finally {
    jest.useRealTimers();
  }
});
