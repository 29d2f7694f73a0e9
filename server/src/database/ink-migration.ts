import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What was done in ink is told with its sentence: it is read from the log anew when somebody asks. */
export class InkTold1765700000000 implements MigrationInterface {
  name = 'InkTold1765700000000';

  up = forgotten;
  down = forgotten;
}

async function forgotten(runner: QueryRunner): Promise<void> {
  await runner.query('DELETE FROM ink_pieces');
}
