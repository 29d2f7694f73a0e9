import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What the last look needs: findings that are left, words that are right, house styles with their versions. */
export class LastLook1765300000000 implements MigrationInterface {
  name = 'LastLook1765300000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE left_findings (
        id text PRIMARY KEY, manuscript_id text NOT NULL REFERENCES manuscripts ON DELETE CASCADE,
        key text NOT NULL, all_such boolean NOT NULL, kind text NOT NULL, words text NOT NULL,
        by text NOT NULL REFERENCES people, at timestamptz NOT NULL DEFAULT now(),
        UNIQUE (manuscript_id, all_such, key)
      );
      CREATE TABLE kept_words (
        id text PRIMARY KEY, scope text NOT NULL CHECK (scope IN ('house', 'manuscript', 'person')),
        manuscript_id text REFERENCES manuscripts ON DELETE CASCADE, language text NOT NULL, word text NOT NULL,
        by text NOT NULL REFERENCES people, at timestamptz NOT NULL DEFAULT now(),
        CHECK ((scope = 'manuscript') = (manuscript_id IS NOT NULL))
      );
      CREATE UNIQUE INDEX kept_words_of_house ON kept_words (language, word) WHERE scope = 'house';
      CREATE UNIQUE INDEX kept_words_of_manuscript ON kept_words (manuscript_id, language, word) WHERE scope = 'manuscript';
      CREATE UNIQUE INDEX kept_words_of_person ON kept_words (by, language, word) WHERE scope = 'person';
      CREATE TABLE looks (
        manuscript_id text PRIMARY KEY REFERENCES manuscripts ON DELETE CASCADE, version integer NOT NULL,
        by text NOT NULL REFERENCES people, at timestamptz NOT NULL, prints jsonb NOT NULL
      );
      CREATE TABLE house_styles (
        id text PRIMARY KEY, name text NOT NULL, language text NOT NULL, made_by text NOT NULL REFERENCES people,
        version integer NOT NULL, gone_at timestamptz
      );
      CREATE TABLE house_style_versions (
        style_id text NOT NULL REFERENCES house_styles ON DELETE CASCADE, version integer NOT NULL, name text NOT NULL,
        language text NOT NULL, rules jsonb NOT NULL, by text NOT NULL REFERENCES people,
        at timestamptz NOT NULL DEFAULT now(), PRIMARY KEY (style_id, version)
      );
      CREATE TABLE styled (
        manuscript_id text PRIMARY KEY REFERENCES manuscripts ON DELETE CASCADE,
        style_id text NOT NULL REFERENCES house_styles ON DELETE CASCADE
      );
      CREATE INDEX styled_by ON styled (style_id);
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(
      'DROP TABLE styled; DROP TABLE house_style_versions; DROP TABLE house_styles; DROP TABLE looks; DROP TABLE kept_words; DROP TABLE left_findings',
    );
  }
}
