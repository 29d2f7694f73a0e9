import { styleProblems, type Rule, type StyleProblem } from '@tea-pencil/core';

/** Looks whether the rules of a style can be followed; an expression among them may never come to an end. */
export const checkStyle = (rules: Rule[]): StyleProblem[] => styleProblems(rules);
