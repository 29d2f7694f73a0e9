import { expose } from 'comlink';
import {
  LastLook,
  passagesOf,
  rulingOf,
  schema,
  styleProblems,
  type HouseStyle,
  type Rule,
  type StyleProblem,
} from '@tea-pencil/core';

/** Rules that somebody is writing, tried away from the screen. */

/** What a sentence becomes by one rule; the sentence where it has nothing to say of it. */
function tried(rule: Rule, language: string): string {
  if (!rule.example) return '';
  const doc = schema.nodes.doc.create(null, schema.nodes.paragraph.create(null, schema.text(rule.example)));
  const style: HouseStyle = { name: '', language, rules: [rule] };
  const { found } = new LastLook({ language, ruling: rulingOf(style), spellers: {} }).look(
    doc.children.map((block) => passagesOf(block)),
  );
  const breaches = (found[0] ?? []).filter(({ kind }) => kind === 'style');
  return breaches.reduceRight((text, { from, to, proposals: [first] }) => {
    const instead = first?.how === 'italic' ? `_${first.text}_` : (first?.text ?? '');
    return text.slice(0, from) + instead + text.slice(to);
  }, rule.example);
}

const trier = {
  problems: (rules: Rule[]): StyleProblem[] => styleProblems(rules),
  examples: (rules: Rule[], language: string): string[] => {
    const wrong = new Set(styleProblems(rules).flatMap(({ rules: which }) => which));
    return rules.map((rule, i) => (wrong.has(i) ? '' : tried(rule, language)));
  },
};
export type Trier = typeof trier;

expose(trier);
