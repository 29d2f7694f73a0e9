import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * A house with people of its own: accounts with mail, invitations, groups, links for guests, seals, and a desk that each
 * arranges for themselves. What was given to whom stands in `grants`; what holds for each person in `members`.
 */
export class People1765100000000 implements MigrationInterface {
  name = 'People1765100000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE people
        ADD COLUMN standing text NOT NULL DEFAULT 'outside' CHECK (standing IN ('account', 'guest', 'outside', 'left')),
        ADD COLUMN keeps_house boolean NOT NULL DEFAULT false,
        ADD COLUMN locked_at timestamptz, ADD COLUMN seen_at timestamptz;
      UPDATE people SET standing = 'account' WHERE login IS NOT NULL;
      -- Somebody must look after the accounts that are there.
      UPDATE people SET keeps_house = true WHERE id =
        (SELECT id FROM people WHERE login IS NOT NULL ORDER BY login <> 'tobias', id LIMIT 1);
      UPDATE people SET mail = NULL WHERE mail IS NOT NULL AND EXISTS
        (SELECT 1 FROM people AS other WHERE lower(other.mail) = lower(people.mail) AND other.id < people.id);
      CREATE UNIQUE INDEX people_mail ON people (lower(mail));
      CREATE INDEX sessions_of_person ON sessions ((sess ->> 'personId'));

      CREATE TABLE resets (
        id text PRIMARY KEY, person_id text NOT NULL REFERENCES people ON DELETE CASCADE, token_hash bytea NOT NULL,
        ends_at timestamptz NOT NULL
      );
      -- Letters that are on their way lead nowhere any more; they can be sent again.
      ALTER TABLE asked_mail ADD COLUMN id text;
      UPDATE asked_mail SET id = md5(random()::text || person_id);
      ALTER TABLE asked_mail ALTER COLUMN id SET NOT NULL, ADD UNIQUE (id);
      CREATE TABLE work_accounts (
        issuer text, subject text, person_id text NOT NULL REFERENCES people ON DELETE CASCADE,
        PRIMARY KEY (issuer, subject)
      );

      ALTER TABLE manuscripts ADD COLUMN deleted_at timestamptz, ADD COLUMN deleted_by text REFERENCES people;
      CREATE TABLE groups (id text PRIMARY KEY, name text NOT NULL, made_by text NOT NULL REFERENCES people);
      CREATE TABLE group_people (
        group_id text REFERENCES groups ON DELETE CASCADE, person_id text REFERENCES people ON DELETE CASCADE,
        PRIMARY KEY (group_id, person_id)
      );
      CREATE TABLE links (
        id text PRIMARY KEY, manuscript_id text NOT NULL REFERENCES manuscripts ON DELETE CASCADE, name text NOT NULL,
        token_hash bytea NOT NULL, passphrase_hash text, ends_at timestamptz, most_uses integer, uses integer NOT NULL DEFAULT 0,
        made_by text NOT NULL REFERENCES people, made_at timestamptz NOT NULL DEFAULT now(), ended_at timestamptz
      );
      CREATE INDEX links_of_manuscript ON links (manuscript_id);
      CREATE TABLE guests (
        person_id text PRIMARY KEY REFERENCES people ON DELETE CASCADE,
        link_id text NOT NULL REFERENCES links ON DELETE CASCADE, came_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE INDEX guests_of_link ON guests (link_id);
      CREATE TABLE grants (
        id text PRIMARY KEY, manuscript_id text NOT NULL REFERENCES manuscripts ON DELETE CASCADE,
        person_id text REFERENCES people, group_id text REFERENCES groups ON DELETE CASCADE,
        link_id text REFERENCES links ON DELETE CASCADE,
        role text NOT NULL CHECK (role IN ('reader', 'remarker', 'proposer', 'decider', 'keeper')),
        takes_away boolean NOT NULL DEFAULT true, invites boolean NOT NULL DEFAULT false,
        CHECK (num_nonnulls(person_id, group_id, link_id) = 1),
        UNIQUE (manuscript_id, person_id), UNIQUE (manuscript_id, group_id), UNIQUE (link_id)
      );
      CREATE INDEX grants_of_group ON grants (group_id) WHERE group_id IS NOT NULL;
      CREATE INDEX grants_of_person ON grants (person_id) WHERE person_id IS NOT NULL;
      ALTER TABLE members ADD COLUMN takes_away boolean NOT NULL DEFAULT true,
        ADD COLUMN invites boolean NOT NULL DEFAULT false, ADD COLUMN until timestamptz;
      CREATE INDEX members_until ON members (until) WHERE until IS NOT NULL;
      INSERT INTO grants (id, manuscript_id, person_id, role)
        SELECT 'first-' || manuscript_id || '-' || person_id, manuscript_id, person_id, role FROM members;
      CREATE TABLE invitations (
        id text PRIMARY KEY, manuscript_id text REFERENCES manuscripts ON DELETE CASCADE, mail text NOT NULL,
        role text, takes_away boolean NOT NULL DEFAULT true, invites boolean NOT NULL DEFAULT false,
        message text NOT NULL DEFAULT '', token_hash bytea NOT NULL, made_by text REFERENCES people,
        made_at timestamptz NOT NULL DEFAULT now(), ends_at timestamptz NOT NULL,
        withdrawn_at timestamptz, used_at timestamptz, used_by text REFERENCES people
      );
      CREATE INDEX invitations_of_manuscript ON invitations (manuscript_id);

      CREATE TABLE seals (
        manuscript_id text PRIMARY KEY REFERENCES manuscripts ON DELETE CASCADE, id text NOT NULL, sealed_by text REFERENCES people,
        sealed_at timestamptz NOT NULL DEFAULT now(), may_withdraw boolean NOT NULL, hash text, standard jsonb
      );
      ALTER TABLE notices DROP CONSTRAINT notices_kind_check, ADD CONSTRAINT notices_kind_check
        CHECK (kind IN ('mention', 'query', 'reply', 'decision', 'invitation', 'seal'));

      CREATE TABLE desk_places (
        manuscript_id text REFERENCES manuscripts ON DELETE CASCADE, person_id text REFERENCES people ON DELETE CASCADE,
        archived boolean NOT NULL DEFAULT false, labels text[] NOT NULL DEFAULT '{}', PRIMARY KEY (manuscript_id, person_id)
      );
      CREATE TABLE searchable (
        manuscript_id text REFERENCES manuscripts ON DELETE CASCADE, piece integer, body text NOT NULL,
        words tsvector NOT NULL, PRIMARY KEY (manuscript_id, piece)
      );
      CREATE INDEX searchable_words ON searchable USING gin (words);
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      DROP TABLE searchable, desk_places, seals, invitations, grants, guests, links, group_people, groups, work_accounts,
        resets;
      DELETE FROM notices WHERE kind = 'seal';
      ALTER TABLE notices DROP CONSTRAINT notices_kind_check, ADD CONSTRAINT notices_kind_check
        CHECK (kind IN ('mention', 'query', 'reply', 'decision', 'invitation'));
      ALTER TABLE asked_mail DROP COLUMN id;
      ALTER TABLE members DROP COLUMN takes_away, DROP COLUMN invites, DROP COLUMN until;
      ALTER TABLE manuscripts DROP COLUMN deleted_at, DROP COLUMN deleted_by;
      DROP INDEX sessions_of_person;
      DROP INDEX people_mail;
      ALTER TABLE people DROP COLUMN standing, DROP COLUMN keeps_house, DROP COLUMN locked_at, DROP COLUMN seen_at;
    `);
  }
}
