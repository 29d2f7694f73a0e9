import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The log of changes: for each that ever existed what happened to it, and, derived from the last of that, its state. */
export class ChangeLog1765900000000 implements MigrationInterface {
  name = 'ChangeLog1765900000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE change_events (
        serial bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        manuscript_id text NOT NULL REFERENCES manuscripts ON DELETE CASCADE,
        change_id text NOT NULL,
        kind text NOT NULL CHECK (kind IN
          ('proposed', 'arrived', 'withdrawn', 'accepted', 'rejected', 'removed', 'undone')),
        by text, at timestamptz NOT NULL DEFAULT now(), version integer, decision_id text
      );
      CREATE INDEX change_events_of_change ON change_events (manuscript_id, change_id, serial);
      ALTER TABLE changes ADD COLUMN state text NOT NULL DEFAULT 'pending'
        CHECK (state IN ('pending', 'withdrawn', 'accepted', 'rejected', 'removed'));
      UPDATE changes SET state = CASE verdict WHEN 'accept' THEN 'accepted' WHEN 'reject' THEN 'rejected' ELSE 'removed' END
        WHERE decided_by IS NOT NULL;
      -- Of what was before the log its date and its end are known.
      INSERT INTO change_events (manuscript_id, change_id, kind, by, at)
        SELECT manuscript_id, change_id, 'proposed', author, date::timestamptz FROM changes ORDER BY serial;
      INSERT INTO change_events (manuscript_id, change_id, kind, by, at, decision_id)
        SELECT manuscript_id, change_id, state, decided_by, decided_at, decision_id FROM changes
        WHERE state <> 'pending' ORDER BY decided_at, serial;
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE change_events; ALTER TABLE changes DROP COLUMN state');
  }
}
