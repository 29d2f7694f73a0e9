import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The files that manuscripts came from, kept as they came. */
export class Origins1765000000000 implements MigrationInterface {
  name = 'Origins1765000000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE manuscripts ADD COLUMN carried jsonb NOT NULL DEFAULT '[]';
      CREATE TABLE origins (
        manuscript_id text PRIMARY KEY REFERENCES manuscripts ON DELETE CASCADE, format text NOT NULL,
        file bytea NOT NULL, known bytea NOT NULL
      );
      ALTER TABLE origins ALTER COLUMN file SET STORAGE EXTERNAL, ALTER COLUMN known SET STORAGE EXTERNAL;
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE origins; ALTER TABLE manuscripts DROP COLUMN carried');
  }
}
