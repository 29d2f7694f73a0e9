import { RE2JS } from 're2js';

/**
 * Regular expressions of people, in the syntax of RE2: that of ECMA-262 without looking ahead and without references back to
 * groups. However they are written, they take time in proportion to the text.
 */

/** A place that an expression matches: the words, then its groups; `groups` by their names. */
export type ExpressionMatch = RegExpExecArray;

export class Expression {
  readonly #pattern: RE2JS;

  /** @throws SyntaxError with the reason where the source is none */
  constructor(source: string, { ignoreCase = false } = {}) {
    const flags = RE2JS.MULTILINE | RE2JS.LOOKBEHINDS | (ignoreCase ? RE2JS.CASE_INSENSITIVE : 0);
    try {
      this.#pattern = RE2JS.compile(source, flags);
    } catch (problem) {
      const reason = (problem as Error).message.replace(/^error parsing regexp: /, '');
      throw new SyntaxError(/\(\?[=!]/.test(source) ? 'it may not look ahead' : reason, { cause: problem });
    }
  }

  /** The places that it matches in a text, one behind the other. */
  *matchesIn(text: string): Generator<ExpressionMatch> {
    const matcher = this.#pattern.matcher(text);
    const names = Object.entries(this.#pattern.namedGroups() as Record<string, number>);
    while (matcher.find()) {
      const all = Array.from({ length: matcher.groupCount() + 1 }, (_, i) => matcher.group(i) ?? undefined);
      const groups = Object.fromEntries(names.map(([name, i]) => [name, all[i]]));
      yield Object.assign(all as [string], {
        index: matcher.start(),
        input: text,
        groups: names.length ? groups : undefined,
      }) as ExpressionMatch;
    }
  }

  /** Whether it matches anywhere in a text. */
  isIn = (text: string): boolean => this.#pattern.matcher(text).find();
}
