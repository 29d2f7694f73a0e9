import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What the asking for a decision was called, so that one that is repeated is known. */
export class Asked1765600000000 implements MigrationInterface {
  name = 'Asked1765600000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE decisions ADD COLUMN asked text, ADD COLUMN taken_back_asked text;
      CREATE UNIQUE INDEX decisions_asked ON decisions (manuscript_id, decided_by, asked) WHERE asked IS NOT NULL;
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE decisions DROP COLUMN asked, DROP COLUMN taken_back_asked');
  }
}
