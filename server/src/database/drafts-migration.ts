import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Drafts, and how many letters each step puts in and strikes out. */
export class Drafts1765200000000 implements MigrationInterface {
  name = 'Drafts1765200000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE FUNCTION letters_come(step jsonb) RETURNS integer IMMUTABLE LANGUAGE sql AS $$
        SELECT coalesce(sum(length(words #>> '{}')), 0)::int
        FROM jsonb_path_query(step, 'strict $.slice.**.text', '{}', true) AS words
      $$;
      CREATE FUNCTION letters_gone(step jsonb) RETURNS integer IMMUTABLE LANGUAGE sql AS $$
        SELECT CASE
          WHEN step ->> 'stepType' = 'replace' OR step ->> 'stepType' = 'addMark' AND step #>> '{mark,type}' = 'deletion'
          THEN greatest(0, (step ->> 'to')::int - (step ->> 'from')::int) ELSE 0 END
      $$;
      ALTER TABLE steps
        ADD COLUMN come integer GENERATED ALWAYS AS (letters_come(step)) STORED,
        ADD COLUMN gone integer GENERATED ALWAYS AS (letters_gone(step)) STORED;

      CREATE TABLE drafts (
        id text PRIMARY KEY, manuscript_id text NOT NULL REFERENCES manuscripts ON DELETE CASCADE,
        version integer NOT NULL, at timestamptz NOT NULL DEFAULT now(), name text, reason text NOT NULL,
        before text, kept_by text REFERENCES people, facts jsonb, note text NOT NULL DEFAULT ''
      );
      CREATE INDEX drafts_of ON drafts (manuscript_id, version);
      INSERT INTO drafts (id, manuscript_id, version, at, reason)
        SELECT 'c' || substr(md5(id), 1, 11), id, 0, coalesce(
          (SELECT min(at) FROM steps WHERE manuscript_id = manuscripts.id), touched_at), 'came' FROM manuscripts;

      CREATE TABLE acts (
        id text PRIMARY KEY, manuscript_id text NOT NULL REFERENCES manuscripts ON DELETE CASCADE,
        from_version integer NOT NULL, to_version integer NOT NULL, by text NOT NULL REFERENCES people,
        at timestamptz NOT NULL DEFAULT now(), taken_back_by text REFERENCES people, ink_from integer
      );
      CREATE INDEX acts_of ON acts (manuscript_id);
      CREATE TABLE ink_pieces (
        manuscript_id text NOT NULL REFERENCES manuscripts ON DELETE CASCADE, from_version integer NOT NULL,
        to_version integer NOT NULL, edits jsonb NOT NULL, many integer NOT NULL,
        PRIMARY KEY (manuscript_id, from_version)
      );
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      DROP TABLE ink_pieces; DROP TABLE acts; DROP TABLE drafts;
      ALTER TABLE steps DROP COLUMN come, DROP COLUMN gone;
      DROP FUNCTION letters_come(jsonb); DROP FUNCTION letters_gone(jsonb);
    `);
  }
}
