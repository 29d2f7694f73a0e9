import { DataSource, type DataSourceOptions } from 'typeorm';

/** Bringing a database up to this version. */

/** The number under which PostgreSQL holds the lock: "tea" in letters. */
const lock = 0x746561;

/** A database that this version cannot work with, as whoever runs it is told. */
export class NotThisVersion extends Error {}

const wrong: Record<string, string> = {
  '28P01': 'PostgreSQL does not take the name and password in TEA_PENCIL_DATABASE_URL.',
  '28000': 'PostgreSQL does not take the name and password in TEA_PENCIL_DATABASE_URL.',
  '3D000': 'PostgreSQL has no database of the name in TEA_PENCIL_DATABASE_URL.',
};
const codeOf = (problem: unknown) => (problem as { code?: string } | null)?.code ?? '';

/** Whether a database that could not be had may be there in a moment. */
export const mayCome = (problem: unknown): boolean => !(problem instanceof NotThisVersion) && !wrong[codeOf(problem)];

/** Why there is no database to work with, in a sentence; null where it is something else. */
export function whyNoDatabase(problem: unknown): string | null {
  if (problem instanceof NotThisVersion) return problem.message;
  const away = /^(ECONNREFUSED|ENOTFOUND|EAI_AGAIN|EHOSTUNREACH|ENETUNREACH|ETIMEDOUT|ENOENT)$/.test(codeOf(problem));
  return (
    wrong[codeOf(problem)] ?? (away ? 'PostgreSQL does not answer at the address in TEA_PENCIL_DATABASE_URL.' : null)
  );
}

/** Does something while no other process does it: they wait. */
export async function alone<T>(database: DataSource, act: () => Promise<T>): Promise<T> {
  const runner = database.createQueryRunner();
  try {
    await runner.query('SELECT pg_advisory_lock($1)', [lock]);
    return await act();
  } finally {
    await runner.query('SELECT pg_advisory_unlock($1)', [lock]).catch(() => undefined);
    await runner.release();
  }
}

/**
 * Runs the migrations that are due, in one process at a time, and without the limits of time of other statements.
 * @throws NotThisVersion where the database has been brought further by a later version: nothing in it is touched
 */
export async function migrate(options: DataSourceOptions): Promise<void> {
  const database = await new DataSource({ ...options, extra: { max: 2 } } as DataSourceOptions).initialize();
  const bringUp = async () => {
    const [{ there }] = await database.query<[{ there: boolean }]>(
      `SELECT to_regclass('migrations') IS NOT NULL AS there`,
    );
    const done = there ? await database.query<{ name: string }[]>('SELECT name FROM migrations') : [];
    const known = new Set(database.migrations.map(({ name, constructor }) => name ?? constructor.name));
    if (done.some(({ name }) => !known.has(name)))
      throw new NotThisVersion(
        'This database was used by a later version of Tea Pencil. Start that one, or give this one another database; nothing was changed.',
      );
    await database.runMigrations();
  };
  try {
    await alone(database, bringUp);
  } finally {
    await database.destroy();
  }
}
