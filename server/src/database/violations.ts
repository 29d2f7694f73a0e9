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

/** What the connection to the database says of itself when it cannot be had, or nothing comes back over it. */
const gone = /^(ECONNREFUSED|ECONNRESET|EPIPE|ENOENT|ETIMEDOUT)$/;
const silent = /^(timeout exceeded when trying to connect|Query read timeout|Connection terminated)/;
/** Connection, resources, operator intervention, rolled back (classes of SQLSTATE; PostgreSQL documentation, appendix A). */
const forLater = /^(08|53|57|40)[0-9A-Z]{3}$/;

/**
 * Whether something failed because the database is away just now, or was a moment ago: the same may be done later. As the
 * driver says it, or as it is passed on.
 */
export function isAway(problem: unknown): boolean {
  type Said = { code?: unknown; message?: unknown };
  const { driverError, ...said } = Object.assign({}, problem, {
    message: (problem as Said | null)?.message,
  }) as Said & {
    driverError?: Said;
  };
  return [said, driverError ?? {}].some(
    ({ code, message }) => gone.test(String(code)) || forLater.test(String(code)) || silent.test(String(message)),
  );
}
