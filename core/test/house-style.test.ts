import { parse } from 'csv-parse/sync';
import fc from 'fast-check';
import {
  choices,
  ruleKinds,
  rulesFromRows,
  schema,
  styleColumns,
  styleFromJson,
  styleProblems,
  styleRows,
  UnreadableStyle,
  writeCsv,
  type Rule,
} from '../src/index.js';
import { documentOf } from './support/editing.js';
import { looked, rule, styleOf, told } from './support/looking.js';

const breaches = (text: string, ...rules: Rule[]) =>
  told(looked(documentOf(text), { style: styleOf(...rules) }).findings.filter(({ kind }) => kind === 'style')).map(
    (one) => one.replace('style: ', ''),
  );

test('words, with the capital they have; where capitals differ they count', () => {
  expect(
    breaches('Gray seals; GRAY. A grey one, Dorian Gray’s greyhound and ingray.', rule('words', 'grey', ['gray'])),
  ).toEqual(['Gray › Grey', 'GRAY › GREY', 'Gray › Grey']);
  expect(
    breaches(
      'At the harbour office; the Harbour Office and Old Harbour office.',
      rule('words', 'Harbour Office', ['harbour office', 'Harbour office']),
    ),
  ).toEqual(['harbour office › Harbour Office', 'Harbour office › Harbour Office']);
  expect(breaches('An e-mail to post@e-mail.example.', rule('words', 'email', ['e-mail']))).toEqual(['e-mail › email']);
  expect(breaches('The wrack\u00a0line.', rule('words', 'wrack-line', ['wrack line']))).toEqual([
    'wrack\u00a0line › wrack-line',
  ]);
});

test('expressions, with the groups they have', () => {
  expect(breaches('From 3-5 and pp. 12-14.', rule('expression', '$1–$2', ['(\\d+)-(\\d+)']))).toEqual([
    '3-5 › 3–5',
    '12-14 › 12–14',
  ]);
});

test('an expression sees what stands around what it finds', () => {
  const around = rule('expression', 'tides', ['(?<=the )tide']);
  expect(breaches('So the tide is in; a tide is.', around)).toEqual(['tide › tides']);
  // What stands behind is named by a group.
  expect(breaches('the tide is; the tide, a tide', rule('expression', 'tides$1', ['tide( is)']))).toEqual([
    'tide is › tides is',
  ]);
  expect(breaches('On p.3 and p.14.', rule('expression', 'p. $<n>', ['p\\.(?<n>\\d+)']))).toEqual([
    'p.3 › p. 3',
    'p.14 › p. 14',
  ]);
});

test('rules about words that have no letters, or begin with a sign, find what they say all the same', () => {
  expect(breaches('So & so, ’tis @home.', rule('words', 'and', ['&']))).toEqual(['& › and']);
  expect(breaches('So it is ’tis.', rule('words', 'it is', ['’tis']))).toEqual(['’tis › it is']);
});

test('words in italics', () => {
  const doc = schema.node('doc', null, [
    schema.node('paragraph', null, [
      schema.text('Fucus serratus and '),
      schema.text('Fucus serratus', [schema.mark('italic')]),
    ]),
  ]);
  const { findings } = looked(doc, { style: styleOf(rule('italics', 'Fucus serratus')) });
  expect(findings).toMatchObject([{ words: 'Fucus serratus', from: 0, proposals: [{ how: 'italic' }] }]);
});

test('signs: quotation marks as the language has them, apostrophes, dashes, ellipses', () => {
  expect(breaches('He said "no" and 5" of it.', rule('quotation marks', 'curly'))).toEqual(['" › “', '" › ”']);
  expect(breaches('It’s “so”.', rule('quotation marks', 'straight'), rule('apostrophe', "'"))).toEqual([
    "’ › '",
    '“ › "',
    '” › "',
  ]);
  expect(breaches('Sea—weed – sand - shore -- end, 3-5.', rule('dash', ' – '))).toEqual([
    '— ›  – ',
    ' -  ›  – ',
    ' --  ›  – ',
  ]);
  expect(breaches('So ... it is. . . and…', rule('ellipsis', '…'))).toEqual(['... › …', '. . . › …']);
});

test('numbers in words, thousands, dates, units, the serial comma', () => {
  const ten = rule('numbers in words', 'ten');
  expect(
    breaches('We saw 3 crabs, 10 whelks and 11 gulls at 5 km, on 3 May 2019, p. 4, 2–3, 1.5, 8%, £6, Table 2.', ten),
  ).toEqual(['3 › three', '10 › ten']);
  expect(breaches('In 1895 there were 3000, 12 000 and 1,140.', rule('thousands', 'comma'))).toEqual(['3000 › 3,000']);
  expect(breaches('In 1895 there were 3000 and 1,140.', rule('thousands', 'narrow space'))).toEqual([
    '3000 › 3\u202f000',
    '1,140 › 1\u202f140',
  ]);
  // ISO 8601-1:2019, 5.2.2.1: the calendar date in the extended form.
  expect(breaches('On May 3, 2019 and 21st June 2020.', rule('dates', '2019-05-03'))).toEqual([
    'May 3, 2019 › 2019-05-03',
    '21st June 2020 › 2020-06-21',
  ]);
  expect(breaches('On May 3, 2019 and 21st June 2020.', rule('dates', '3 May 2019'))).toEqual([
    'May 3, 2019 › 3 May 2019',
    '21st June 2020 › 21 June 2020',
  ]);
  // BIPM, The International System of Units, 9th edition, 5.4.3: a space parts the number from its unit, before °C too.
  expect(breaches('It is 5km, 3.5 m and 12\u00a0°C, M5 motor.', rule('units', 'no-break space'))).toEqual([
    ' › \u00a0',
    '  › \u00a0',
  ]);
  const list = 'Red, green and brown. A, b, and c.';
  expect(breaches(list, rule('serial comma', 'with'))).toEqual([' › ,']);
  expect(breaches(list, rule('serial comma', 'without'))).toEqual([', › ']);
});

test('the separator of thousands and the quotation marks are those of Unicode CLDR, as the engine has it', () => {
  expect(breaches('There were 3000.', rule('thousands', 'comma'))).toEqual([
    `3000 › ${new Intl.NumberFormat('en-GB').format(3000)}`,
  ]);
  // CLDR, locale fr: U+202F.
  expect(breaches('There were 30000.', rule('thousands', 'narrow space'))).toEqual([
    `30000 › ${new Intl.NumberFormat('fr-FR').format(30000)}`,
  ]);
});

test('where a rule settles something, it is no inconsistency besides', () => {
  const doc = documentOf('Sea – weed and sand—here.');
  expect(looked(doc).inconsistencies).toHaveLength(1);
  const { findings, inconsistencies } = looked(doc, { style: styleOf(rule('dash', '—')) });
  expect(inconsistencies).toEqual([]);
  expect(findings.map(({ kind }) => kind)).toEqual(['style']);
});

test('rules that cannot be, and rules that contradict each other, are said with their numbers', () => {
  const problems = (...rules: Rule[]) =>
    styleProblems(rules).map(({ rules: which, says }) => `${which.join(' ')}: ${says}`);
  expect(problems(rule('words', 'grey', ['gray']), rule('dash', '—'), rule('italics', 'Fucus'))).toEqual([]);
  expect(problems(rule('words', 'grey', ['gray']), rule('words', 'gray', ['grey']))).toEqual([
    '0 1: One rule says to write “grey”, another says not to.',
    '1 0: One rule says to write “gray”, another says not to.',
  ]);
  expect(problems(rule('words', 'email', ['e-mail']), rule('words', 'mail', ['E-mail']))).toEqual([
    '0 1: For “E-mail” two rules say different things: “email” and “mail”.',
  ]);
  expect(problems(rule('dash', '—'), rule('dash', ' – '))).toEqual(['0 1: There are two rules about: dash.']);
  expect(
    problems(rule('words', '', ['x']), rule('words', 'x', []), rule('words', 'x', ['x']), rule('dash', '~')),
  ).toHaveLength(4);
  expect(problems(rule('expression', 'x', ['(']))).toEqual([expect.stringMatching(/not a regular expression/)]);
  expect(problems(rule('expression', 'x', ['.*']))).toEqual(['0: “.*” matches everything.']);
  expect(problems(rule('expression', 'tides', ['tide']))).toEqual([expect.stringMatching(/never be put right/)]);
  expect(problems(rule('words', 'wrack-line', ['wrack line']), rule('expression', '–', ['-']))).toEqual([
    expect.stringMatching(/^0 1: One rule says to write “wrack-line”; the expression/),
  ]);
});

const text = fc.string({
  unit: fc.constantFrom('a', 'B', ' ', ',', '"', '\n', '=', '-', '|', 'é', "'", '–'),
  maxLength: 8,
});
const someRule: fc.Arbitrary<Rule> = fc.record({
  kind: fc.constantFrom(...ruleKinds),
  write: text,
  not: fc.array(
    text.filter((one) => one !== '' && !one.includes('|')),
    { maxLength: 3 },
  ),
  example: text,
  note: text,
  source: text,
});

test('a style taken away as JSON or CSV and brought in again is the same; a reader that is not ours reads the CSV', () => {
  fc.assert(
    fc.property(fc.array(someRule, { maxLength: 5 }), (rules) => {
      const style = styleOf(...rules);
      expect(styleFromJson(JSON.stringify(style))).toEqual(style);
      // csv-parse: RFC 4180.
      const rows: string[][] = parse(writeCsv(styleRows(style)));
      expect(rows[0]).toEqual([...styleColumns]);
      expect(rulesFromRows(rows)).toEqual(rules);
    }),
    { numRuns: 300 },
  );
});

test('what is no style is said in a sentence', () => {
  expect(() => styleFromJson('{')).toThrow(UnreadableStyle);
  expect(() => styleFromJson('{"rules": 3}')).toThrow(/no list of rules/);
  expect(() => styleFromJson('{"rules": [{"kind": "smell"}]}')).toThrow(/Row 1: “smell” is no kind of rule/);
  expect(() => rulesFromRows([['a', 'b']])).toThrow(/name the columns/);
  expect(() => rulesFromRows([])).toThrow(UnreadableStyle);
});

test('every way that can be chosen finds something in some sentence, and is content with what it makes', () => {
  const sentence =
    'It’s "so" – sand—weed - shore ... it… is. . . in red, green and blue; or red, green, and blue. 3 crabs of 3000, 4,000; 5km or 6 km or 7\u00a0km; on May 3, 2019, 4 May 2019 and 5th May 2019. He isn\'t “here”.';
  for (const [kind, all] of Object.entries(choices))
    for (const write of all) expect(breaches(sentence, rule(kind as Rule['kind'], write)).length).toBeGreaterThan(0);
});
