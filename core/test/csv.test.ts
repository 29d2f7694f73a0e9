import { parse } from 'csv-parse/sync';
import fc from 'fast-check';
import { writeCsv } from '../src/index.js';

// Outside check: csv-parse reads what was written.
test('a reader of the standard finds every cell as it was', () => {
  const cell = fc.string({ unit: 'grapheme' }).filter((text) => !/^\s*[=+\-@＝＋－＠\t\r\n]/.test(text));
  const rows = fc
    .integer({ min: 2, max: 4 })
    .chain((width) => fc.array(fc.array(cell, { minLength: width, maxLength: width }), { minLength: 1, maxLength: 5 }));
  fc.assert(
    fc.property(rows, (table) => {
      expect(parse(writeCsv(table), { record_delimiter: '\r\n' })).toEqual(table);
    }),
  );
});

// RFC 4180, section 2, rules 2, 5, 6 and 7.
test('quotes, commas and line breaks are held in quotes', () => {
  expect(
    writeCsv([
      ['No.', 'Before', 'After'],
      ['1', 'a, b', 'say "so"\nthen'],
    ]),
  ).toBe('No.,Before,After\r\n1,"a, b","say ""so""\nthen"\r\n');
});

test('words that a program for tables would take for a formula are kept from it', () => {
  expect(writeCsv([['=1+1', '@x', '-', 'a=b']])).toBe("'=1+1,'@x,'-,a=b\r\n");
  expect(writeCsv([['＝1', '＋1', '－1', '＠x', '  =1', '\u00a0@x', '\n1', '\t1']])).toBe(
    "'＝1,'＋1,'－1,'＠x,'  =1,'\u00a0@x,\"'\n1\",'\t1\r\n",
  );
});
