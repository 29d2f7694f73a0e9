/** Whether a write failed because it would have broken a constraint of that name (SQLSTATE 23505, unique violation). */
export function violates(problem: unknown, constraint: string): boolean {
  const {
    code,
    constraint: broken,
    driverError,
  } = problem as {
    code?: string;
    constraint?: string;
    driverError?: { code?: string; constraint?: string };
  };
  return (code ?? driverError?.code) === '23505' && (broken ?? driverError?.constraint) === constraint;
}
