import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Fair copies, and which decisions were made for one. */
export class FairCopies1765500000000 implements MigrationInterface {
  name = 'FairCopies1765500000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE fair_copies (
        id text PRIMARY KEY, manuscript_id text NOT NULL REFERENCES manuscripts ON DELETE CASCADE,
        version integer NOT NULL, made_by text NOT NULL REFERENCES people, at timestamptz NOT NULL DEFAULT now(),
        facts jsonb NOT NULL, clean bytea NOT NULL, marked bytea NOT NULL,
        taken_back_by text REFERENCES people, taken_back_at timestamptz
      );
      CREATE INDEX fair_copies_of ON fair_copies (manuscript_id, at);
      ALTER TABLE decisions ADD COLUMN fair_copy text;
      CREATE INDEX decisions_for ON decisions (fair_copy) WHERE fair_copy IS NOT NULL;
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE decisions DROP COLUMN fair_copy; DROP TABLE fair_copies');
  }
}
