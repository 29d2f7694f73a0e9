import { isText } from '../manuscript/values.js';
import { Expression } from '../sweeps/expressions.js';

/** The rules of a house or a book: how words, numbers and signs are written. A rule is a row of a table. */

/** What a rule can be about. */
export const ruleKinds = [
  'words',
  'expression',
  'italics',
  'quotation marks',
  'apostrophe',
  'dash',
  'ellipsis',
  'serial comma',
  'numbers in words',
  'thousands',
  'dates',
  'units',
] as const;
export type RuleKind = (typeof ruleKinds)[number];

export interface Rule {
  kind: RuleKind;
  /** What is to be written; of an expression what its match becomes. */
  write: string;
  /** What is not; of an expression the expression. */
  not: string[];
  /** A sentence it is shown in, as it stands before. */
  example: string;
  note: string;
  /** Where it comes from. */
  source: string;
}

export interface HouseStyle {
  name: string;
  /** The language it is for (BCP 47). */
  language: string;
  rules: Rule[];
}

/** What can be chosen for kinds that know only some ways, each with what it is called. */
export const choices: Readonly<Partial<Record<RuleKind, readonly string[]>>> = {
  'quotation marks': ['curly', 'straight'],
  apostrophe: ['’', "'"],
  dash: [' – ', '—', ' — '],
  ellipsis: ['…', '...', '. . .'],
  'serial comma': ['with', 'without'],
  'numbers in words': ['nine', 'ten', 'twelve', 'twenty', 'ninety-nine'],
  thousands: ['comma', 'narrow space', 'none'],
  dates: ['3 May 2019', 'May 3, 2019', '3rd May 2019', '2019-05-03'],
  units: ['no-break space', 'space', 'no space'],
};

/** Kinds of which a style can have only one rule. */
const onceOnly: ReadonlySet<RuleKind> = new Set(Object.keys(choices) as RuleKind[]);

/** What a style may hold at most. */
export const styleLimits = { rules: 2000, words: 200, not: 40, text: 500 } as const;

/** Something that is wrong with a style: of which rules (their numbers in the list), and what. */
export interface StyleProblem {
  rules: number[];
  says: string;
}

const fold = (words: string) => words.toLowerCase();

/** What the ways not to write have in common with the way to write: capitals count where nothing else differs. */
export const countsCapitals = ({ write, not }: Pick<Rule, 'write' | 'not'>): boolean =>
  not.some((one) => fold(one) === fold(write)) || not.some((one) => one !== fold(one));

/** The expressions of a rule, as they are run over paragraphs; what is none is left out, and `unreadableIn` tells of it. */
export function readableIn({ not }: Pick<Rule, 'not'>): Expression[] {
  return not.flatMap((find) => {
    try {
      return [new Expression(find)];
    } catch {
      return [];
    }
  });
}

/** The expressions of a style that cannot be read, as of one that was kept when others were allowed. */
export const unreadableIn = ({ rules }: Pick<HouseStyle, 'rules'>): string[] =>
  rules.flatMap((rule) => (rule.kind === 'expression' && readableIn(rule).length < rule.not.length ? rule.not : []));

/** Texts in which an expression that means something finds nothing, or little. */
const everyday = ['The tide comes in twice a day.', 'Zwei Tage', '12', ''];

function problemOfOne(rule: Rule): string | null {
  const { kind, write, not } = rule;
  if ([write, ...not, rule.note, rule.source, rule.example].some((text) => !isText(text)))
    return 'A text of this rule holds signs that none can hold.';
  if ([write, ...not].some((text) => text.length > styleLimits.words))
    return `No more than ${styleLimits.words} letters in one field.`;
  if (not.length > styleLimits.not) return `No more than ${styleLimits.not} ways not to write.`;
  const known = choices[kind];
  if (known) return known.includes(write) ? null : `“${write}” is none of: ${known.join(', ')}.`;
  if (kind === 'italics') return write.trim() ? null : 'Say which words are to stand in italics.';
  if (!not.length || not.some((one) => !one.trim())) return 'Say what is not to be written.';
  if (kind === 'words') {
    if (!write.trim()) return 'Say how it is to be written.';
    return not.includes(write) ? `“${write}” is both to be written and not.` : null;
  }
  for (const find of not) {
    let expression: Expression;
    try {
      expression = new Expression(find);
    } catch (problem) {
      return `This is not a regular expression: ${(problem as Error).message.replace(/^.*: /, '')}.`;
    }
    if (everyday.every(expression.isIn)) return `“${find}” matches everything.`;
    if (write && expression.isIn(write) && !/\$/.test(write))
      return `What “${find}” becomes is found by it again: it would never be put right.`;
  }
  return null;
}

/**
 * What is wrong with the rules of a style: rules that cannot be, and rules that contradict each other. Expressions are run
 * on a few words each; whoever asks does so where they can be stopped.
 */
export function styleProblems(rules: readonly Rule[]): StyleProblem[] {
  if (rules.length > styleLimits.rules)
    return [{ rules: [], says: `A style has no more than ${styleLimits.rules} rules.` }];
  const problems: StyleProblem[] = [];
  const sound = rules.map((rule, i) => {
    const says = problemOfOne(rule);
    if (says) problems.push({ rules: [i], says });
    return !says;
  });
  const once = new Map<RuleKind, number>();
  const nots = new Map<string, number>();
  rules.forEach(({ kind, not }, i) => {
    if (!sound[i]) return;
    const other = once.get(kind);
    if (onceOnly.has(kind) && other !== undefined)
      problems.push({ rules: [other, i], says: `There are two rules about: ${kind}.` });
    if (onceOnly.has(kind)) once.set(kind, i);
    if (kind !== 'words') return;
    for (const one of not) {
      const word = fold(one);
      const before = nots.get(word);
      if (before !== undefined && before !== i && rules[before]!.write !== rules[i]!.write)
        problems.push({
          rules: [before, i],
          says: `For “${one}” two rules say different things: “${rules[before]!.write}” and “${rules[i]!.write}”.`,
        });
      nots.set(word, i);
    }
  });
  rules.forEach((rule, i) => {
    if (!sound[i] || rule.kind !== 'words') return;
    const forbids = nots.get(fold(rule.write));
    if (forbids !== undefined && forbids !== i)
      problems.push({ rules: [i, forbids], says: `One rule says to write “${rule.write}”, another says not to.` });
  });
  rules.forEach((rule, i) => {
    if (!sound[i] || rule.kind !== 'expression') return;
    const finds = readableIn(rule);
    rules.forEach((other, j) => {
      if (i === j || !sound[j] || other.kind !== 'words') return;
      if (finds.some((find) => find.isIn(other.write)))
        problems.push({
          rules: [j, i],
          says: `One rule says to write “${other.write}”; the expression “${rule.not[0]}” finds it and would change it.`,
        });
    });
  });
  return problems;
}
