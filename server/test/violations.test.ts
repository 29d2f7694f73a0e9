import { violates } from '../src/database/violations';

/** Error codes of PostgreSQL 15, Appendix A: 23505 unique_violation, 23503 foreign_key_violation. */
test('only the constraint that is asked for counts, as the driver says it or as it is passed on', () => {
  const problem = { code: '23505', constraint: 'steps_pkey' };
  expect(violates(problem, 'steps_pkey')).toBe(true);
  expect(violates({ driverError: problem }, 'steps_pkey')).toBe(true);
  expect(violates({ ...problem, constraint: 'spans_pkey' }, 'steps_pkey')).toBe(false);
  expect(violates({ ...problem, code: '23503' }, 'steps_pkey')).toBe(false);
  expect(violates(new Error('steps_pkey'), 'steps_pkey')).toBe(false);
});
