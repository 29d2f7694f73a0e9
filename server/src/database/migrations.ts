import type { MigrationInterface, QueryRunner } from 'typeorm';
import { Asked1765600000000 } from './asked-migration.js';
import { Drafts1765200000000 } from './drafts-migration.js';
import { FairCopies1765500000000 } from './fair-copy-migration.js';
import { InkTold1765700000000 } from './ink-migration.js';
import { LastLook1765300000000 } from './last-look-migration.js';
import { Origins1765000000000 } from './origins-migration.js';
import { People1765100000000 } from './people-migration.js';
import { emptyPictures, fillLooks, fillRanges, fillSummaries } from './filling.js';
import { ChangeLog1765900000000 } from './change-log-migration.js';
import { Rights1765800000000 } from './rights-migration.js';

export class FirstTables1764000000000 implements MigrationInterface {
  name = 'FirstTables1764000000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE people (
        id text PRIMARY KEY, name text NOT NULL, initials text NOT NULL, login text UNIQUE, password_hash text, note text
      );
      CREATE TABLE manuscripts (
        id text PRIMARY KEY, title text NOT NULL, note text NOT NULL DEFAULT '',
        everyone_in_pencil boolean NOT NULL DEFAULT false, losses jsonb NOT NULL DEFAULT '[]',
        touched_at timestamptz NOT NULL DEFAULT now(), touched_by text NOT NULL REFERENCES people
      );
      CREATE TABLE members (
        manuscript_id text REFERENCES manuscripts ON DELETE CASCADE, person_id text REFERENCES people,
        role text NOT NULL CHECK (role IN ('reader', 'remarker', 'proposer', 'decider', 'keeper')), hue smallint NOT NULL,
        PRIMARY KEY (manuscript_id, person_id)
      );
      CREATE INDEX members_of_person ON members (person_id);
      CREATE TABLE named_people (
        manuscript_id text REFERENCES manuscripts ON DELETE CASCADE, person_id text REFERENCES people,
        hue smallint NOT NULL, PRIMARY KEY (manuscript_id, person_id)
      );
      CREATE TABLE steps (
        manuscript_id text REFERENCES manuscripts ON DELETE CASCADE, version integer, step jsonb NOT NULL,
        author text NOT NULL REFERENCES people,
        intent text NOT NULL CHECK (intent IN ('pencil', 'ink', 'decision', 'anchor')),
        client text NOT NULL, at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (manuscript_id, version)
      );
      CREATE TABLE checkpoints (
        manuscript_id text REFERENCES manuscripts ON DELETE CASCADE, version integer, doc jsonb NOT NULL,
        PRIMARY KEY (manuscript_id, version)
      );
      CREATE TABLE changes (
        manuscript_id text REFERENCES manuscripts ON DELETE CASCADE, change_id text,
        author text NOT NULL REFERENCES people, date text NOT NULL,
        verdict text CHECK (verdict IN ('accept', 'reject')), decided_by text REFERENCES people, decided_at timestamptz,
        PRIMARY KEY (manuscript_id, change_id)
      );
      CREATE TABLE threads (
        id text PRIMARY KEY, manuscript_id text NOT NULL REFERENCES manuscripts ON DELETE CASCADE, quote text NOT NULL,
        begun_at timestamptz NOT NULL DEFAULT now(), resolved_by text REFERENCES people, resolved_at timestamptz
      );
      CREATE INDEX threads_of_manuscript ON threads (manuscript_id);
      CREATE TABLE comments (
        id text PRIMARY KEY, thread_id text NOT NULL REFERENCES threads ON DELETE CASCADE,
        author text NOT NULL REFERENCES people, text text NOT NULL, made_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE INDEX comments_of_thread ON comments (thread_id);
      CREATE TABLE facts (key text PRIMARY KEY, value text NOT NULL);
      CREATE TABLE sessions (sid text PRIMARY KEY, sess json NOT NULL, expire timestamptz NOT NULL);
      CREATE INDEX sessions_expire ON sessions (expire);
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      DROP TABLE sessions, facts, comments, threads, changes, checkpoints, steps, named_people, members, manuscripts, people
    `);
  }
}

/** What was decided together, so that it can be taken back together. */
export class Decisions1764100000000 implements MigrationInterface {
  name = 'Decisions1764100000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE decisions (
        id text PRIMARY KEY, manuscript_id text NOT NULL REFERENCES manuscripts ON DELETE CASCADE,
        verdict text NOT NULL CHECK (verdict IN ('accept', 'reject')), changes text[] NOT NULL,
        from_version integer NOT NULL, to_version integer NOT NULL,
        decided_by text NOT NULL REFERENCES people, decided_at timestamptz NOT NULL DEFAULT now(),
        taken_back_by text REFERENCES people, taken_back_at timestamptz
      );
      CREATE INDEX decisions_of_manuscript ON decisions (manuscript_id, decided_at);
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE decisions');
  }
}

/** Pictures, and mending as something that the log of steps can hold. */
export class Pictures1764200000000 implements MigrationInterface {
  name = 'Pictures1764200000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE assets (
        id text PRIMARY KEY, manuscript_id text NOT NULL REFERENCES manuscripts ON DELETE CASCADE,
        type text NOT NULL, bytes bytea NOT NULL,
        added_by text NOT NULL REFERENCES people, added_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE INDEX assets_of_manuscript ON assets (manuscript_id);
      ALTER TABLE manuscripts ADD COLUMN mends jsonb NOT NULL DEFAULT '[]';
      ALTER TABLE steps ALTER COLUMN author DROP NOT NULL, DROP CONSTRAINT steps_intent_check,
        ADD CONSTRAINT steps_intent_check CHECK (intent IN ('pencil', 'ink', 'decision', 'anchor', 'mend')),
        ADD CONSTRAINT steps_have_author CHECK (author IS NOT NULL OR intent = 'mend');
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      DROP TABLE assets;
      ALTER TABLE manuscripts DROP COLUMN mends;
      DELETE FROM steps WHERE intent = 'mend';
      ALTER TABLE steps DROP CONSTRAINT steps_have_author, ALTER COLUMN author SET NOT NULL,
        DROP CONSTRAINT steps_intent_check,
        ADD CONSTRAINT steps_intent_check CHECK (intent IN ('pencil', 'ink', 'decision', 'anchor'));
    `);
  }
}

/** Who is who among the people of a file, and large broadcasts between processes (as the socket.io adapter keeps them). */
export class ManyHands1764300000000 implements MigrationInterface {
  name = 'ManyHands1764300000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE named_people ADD COLUMN matched_to text REFERENCES people, ADD COLUMN asked boolean NOT NULL DEFAULT false;
      CREATE TABLE socket_io_attachments (
        id bigserial PRIMARY KEY, created_at timestamptz NOT NULL DEFAULT now(), payload bytea
      );
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      DROP TABLE socket_io_attachments;
      ALTER TABLE named_people DROP COLUMN matched_to, DROP COLUMN asked;
    `);
  }
}

/** The ledger, talk about changes, and how each person looks at a manuscript. */
export class Reviewing1764400000000 implements MigrationInterface {
  name = 'Reviewing1764400000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE changes ADD COLUMN serial bigserial, ADD COLUMN decision_id text, ADD COLUMN entry jsonb;
      CREATE INDEX changes_of_decision ON changes (manuscript_id, decision_id);
      UPDATE changes SET decision_id = decisions.id FROM decisions
        WHERE decisions.manuscript_id = changes.manuscript_id AND changes.change_id = ANY (decisions.changes)
          AND decisions.taken_back_at IS NULL AND changes.verdict IS NOT NULL;
      ALTER TABLE threads ADD COLUMN change_id text;
      CREATE TABLE views (
        manuscript_id text NOT NULL REFERENCES manuscripts ON DELETE CASCADE,
        person_id text NOT NULL REFERENCES people ON DELETE CASCADE,
        view jsonb NOT NULL DEFAULT '{}', PRIMARY KEY (manuscript_id, person_id)
      );
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      DROP TABLE views;
      ALTER TABLE threads DROP COLUMN change_id;
      ALTER TABLE changes DROP COLUMN serial, DROP COLUMN decision_id, DROP COLUMN entry;
    `);
  }
}

/** Talk: rich comments, questions, proposed wording, notes to oneself, highlights; notices, mail and portraits. */
export class Talk1764500000000 implements MigrationInterface {
  name = 'Talk1764500000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE threads
        ADD COLUMN author text REFERENCES people, ADD COLUMN about_whole boolean NOT NULL DEFAULT false,
        ADD COLUMN to_self boolean NOT NULL DEFAULT false, ADD COLUMN tint text, ADD COLUMN place jsonb,
        ADD COLUMN resolved boolean NOT NULL DEFAULT false;
      ALTER TABLE threads RENAME COLUMN resolved_by TO turned_by;
      ALTER TABLE threads RENAME COLUMN resolved_at TO turned_at;
      UPDATE threads SET resolved = turned_at IS NOT NULL, author =
        (SELECT author FROM comments WHERE thread_id = threads.id ORDER BY made_at, comments.id LIMIT 1);
      DELETE FROM threads WHERE author IS NULL;
      ALTER TABLE threads ALTER COLUMN author SET NOT NULL;

      ALTER TABLE comments ADD COLUMN body jsonb, ADD COLUMN edited_at timestamptz, ADD COLUMN deleted_at timestamptz,
        ADD COLUMN query_to text REFERENCES people, ADD COLUMN settled_by text REFERENCES people,
        ADD COLUMN settled_at timestamptz, ADD COLUMN proposal jsonb;
      UPDATE comments SET body = jsonb_build_object('type', 'doc', 'content', (
        SELECT jsonb_agg(jsonb_build_object('type', 'line', 'attrs', jsonb_build_object('list', NULL)) ||
          CASE WHEN line = '' THEN '{}'::jsonb
          ELSE jsonb_build_object('content', jsonb_build_array(jsonb_build_object('type', 'text', 'text', line))) END
          ORDER BY n)
        FROM unnest(string_to_array(text, E'\\n')) WITH ORDINALITY AS one (line, n)));
      ALTER TABLE comments ALTER COLUMN body SET NOT NULL, DROP COLUMN text;
      CREATE INDEX queries_open ON comments (query_to) WHERE query_to IS NOT NULL AND settled_at IS NULL;

      ALTER TABLE people ADD COLUMN mail text, ADD COLUMN portrait text, ADD COLUMN notice_kinds jsonb;
      CREATE TABLE portraits (
        person_id text PRIMARY KEY REFERENCES people ON DELETE CASCADE, type text NOT NULL, bytes bytea NOT NULL
      );
      CREATE TABLE notices (
        id text PRIMARY KEY, person_id text NOT NULL REFERENCES people ON DELETE CASCADE,
        manuscript_id text NOT NULL REFERENCES manuscripts ON DELETE CASCADE,
        kind text NOT NULL CHECK (kind IN ('mention', 'query', 'reply', 'decision', 'invitation')),
        actor text NOT NULL REFERENCES people,
        thread_id text REFERENCES threads ON DELETE CASCADE, comment_id text REFERENCES comments ON DELETE CASCADE,
        facts jsonb NOT NULL DEFAULT '{}', at timestamptz NOT NULL DEFAULT now(), read_at timestamptz,
        goes_out boolean NOT NULL DEFAULT true, mailed_at timestamptz
      );
      CREATE INDEX notices_of_person ON notices (person_id, at DESC);
      CREATE INDEX notices_to_mail ON notices (person_id) WHERE goes_out AND mailed_at IS NULL;
      CREATE TABLE outbox (
        id text PRIMARY KEY, person_id text NOT NULL REFERENCES people ON DELETE CASCADE, recipient text NOT NULL,
        subject text NOT NULL, plain text NOT NULL, html text NOT NULL, raw bytea NOT NULL,
        at timestamptz NOT NULL DEFAULT now()
      );
      CREATE INDEX outbox_of_person ON outbox (person_id, at DESC);
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      DROP TABLE outbox, notices, portraits;
      ALTER TABLE people DROP COLUMN mail, DROP COLUMN portrait, DROP COLUMN notice_kinds;
      ALTER TABLE comments ADD COLUMN text text;
      UPDATE comments SET text = coalesce((
        SELECT string_agg(coalesce((SELECT string_agg(coalesce(piece ->> 'text', '@'), '' ORDER BY k)
          FROM jsonb_array_elements(line -> 'content') WITH ORDINALITY AS of_line (piece, k)), ''), E'\\n' ORDER BY n)
        FROM jsonb_array_elements(body -> 'content') WITH ORDINALITY AS of_body (line, n)), '');
      ALTER TABLE comments ALTER COLUMN text SET NOT NULL, DROP COLUMN body, DROP COLUMN edited_at,
        DROP COLUMN deleted_at, DROP COLUMN query_to, DROP COLUMN settled_by, DROP COLUMN settled_at, DROP COLUMN proposal;
      UPDATE threads SET turned_by = NULL, turned_at = NULL WHERE NOT resolved;
      ALTER TABLE threads RENAME COLUMN turned_by TO resolved_by;
      ALTER TABLE threads RENAME COLUMN turned_at TO resolved_at;
      ALTER TABLE threads DROP COLUMN author, DROP COLUMN about_whole, DROP COLUMN to_self, DROP COLUMN tint,
        DROP COLUMN place, DROP COLUMN resolved;
    `);
  }
}

/**
 * Nothing costs the whole book: the maps of steps as numbers and composed spans of them, what the desk tells of each
 * manuscript, facts instead of sentences in the ledger, claimed mail, limits of rate.
 */
export class Room1764600000000 implements MigrationInterface {
  name = 'Room1764600000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE steps ADD COLUMN ranges integer[] NOT NULL DEFAULT '{}';
      CREATE TABLE step_spans (
        manuscript_id text NOT NULL REFERENCES manuscripts ON DELETE CASCADE, level smallint NOT NULL, n integer NOT NULL,
        ranges integer[] NOT NULL, PRIMARY KEY (manuscript_id, level, n)
      );
      CREATE TABLE summaries (
        manuscript_id text PRIMARY KEY REFERENCES manuscripts ON DELETE CASCADE, version integer NOT NULL,
        summary jsonb NOT NULL
      );
      ALTER TABLE notices ADD COLUMN claimed_at timestamptz;
      CREATE TABLE rate_limits (key varchar(255) PRIMARY KEY, points integer NOT NULL DEFAULT 0, expire bigint);
      CREATE INDEX open_threads ON threads (manuscript_id) WHERE NOT resolved;

      UPDATE changes SET entry = (entry - 'place' - 'said') || jsonb_build_object(
        'whereabouts', entry -> 'place',
        'objects', CASE
          WHEN entry ->> 'said' LIKE '% a table' THEN '["table"]'
          WHEN entry ->> 'said' LIKE '% a row' THEN '["table_row"]'
          WHEN entry ->> 'said' LIKE '% cells' THEN '["table_cell"]'
          WHEN entry ->> 'said' LIKE '% a footnote' THEN '["footnote"]'
          WHEN entry ->> 'said' LIKE '% a line break' THEN '["line_break"]'
          WHEN entry ->> 'said' LIKE '% a picture' OR entry ->> 'said' LIKE '%picture%' OR entry ->> 'said' LIKE '%resized%'
            OR entry ->> 'said' LIKE '%described%' THEN '["image"]'
          ELSE '[]' END::jsonb,
        'marks', CASE
          WHEN entry ->> 'kind' IN ('formatting', 'paragraph') AND entry -> 'now' <> '{}' THEN '["restyled"]'
          WHEN entry ->> 'said' LIKE 'inserted%' THEN '["insertion"]'
          WHEN entry ->> 'said' LIKE 'deleted%' THEN '["deletion"]'
          ELSE '["insertion", "deletion"]' END::jsonb)
      WHERE entry IS NOT NULL;
    `);
    await fillRanges(runner);
    await fillSummaries(runner);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      UPDATE changes SET entry = NULL WHERE entry IS NOT NULL;
      DROP INDEX open_threads;
      DROP TABLE rate_limits, summaries, step_spans;
      ALTER TABLE notices DROP COLUMN claimed_at;
      ALTER TABLE steps DROP COLUMN ranges;
    `);
  }
}

/** Nothing is forged: where batches end, names that look alike, addresses that are confirmed. */
export class Standing1764700000000 implements MigrationInterface {
  name = 'Standing1764700000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE steps ADD COLUMN ends boolean NOT NULL DEFAULT true;
      ALTER TABLE people ADD COLUMN look text NOT NULL DEFAULT '';
      CREATE INDEX people_look ON people (look);
      CREATE TABLE asked_mail (
        person_id text PRIMARY KEY REFERENCES people ON DELETE CASCADE, mail text NOT NULL, token_hash bytea NOT NULL,
        asked_at timestamptz NOT NULL
      );
      -- Nobody has confirmed these: whose they are, says so in the profile. Those of the demo are made up.
      INSERT INTO asked_mail SELECT id, mail, '', now() FROM people WHERE mail IS NOT NULL AND note IS NULL;
      UPDATE people SET mail = NULL WHERE note IS NULL;
    `);
    await fillLooks(runner);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      UPDATE people SET mail = asked_mail.mail FROM asked_mail WHERE id = person_id AND people.mail IS NULL;
      DROP TABLE asked_mail;
      DROP INDEX people_look;
      ALTER TABLE people DROP COLUMN look;
      ALTER TABLE steps DROP COLUMN ends;
    `);
  }
}

/** Pictures that were kept before their files were emptied of all but the picture. */
export class Bare1764800000000 implements MigrationInterface {
  name = 'Bare1764800000000';

  async up(runner: QueryRunner): Promise<void> {
    await emptyPictures(runner);
  }

  /** What is gone is gone. */
  async down(): Promise<void> {}
}

/** Which manuscripts were begun here, and did not come as a file; and in which language each is. */
export class Begun1764900000000 implements MigrationInterface {
  name = 'Begun1764900000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE manuscripts ADD COLUMN begun_here boolean NOT NULL DEFAULT false,
        ADD COLUMN language text NOT NULL DEFAULT 'en-GB';
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE manuscripts DROP COLUMN begun_here, DROP COLUMN language');
  }
}

export const migrations = [
  FirstTables1764000000000,
  Decisions1764100000000,
  Pictures1764200000000,
  ManyHands1764300000000,
  Reviewing1764400000000,
  Talk1764500000000,
  Room1764600000000,
  Standing1764700000000,
  Bare1764800000000,
  Begun1764900000000,
  Origins1765000000000,
  People1765100000000,
  Drafts1765200000000,
  LastLook1765300000000,
  FairCopies1765500000000,
  Asked1765600000000,
  InkTold1765700000000,
  Rights1765800000000,
  ChangeLog1765900000000,
];
