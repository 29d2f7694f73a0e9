import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * A count in each manuscript of how often somebody's rights in it have changed. The database itself counts, so that no
 * way of changing rights can forget to; and counting locks the manuscript's row, so that writing and changing rights
 * take turns.
 */
export class Rights1765800000000 implements MigrationInterface {
  name = 'Rights1765800000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE manuscripts ADD COLUMN rights integer NOT NULL DEFAULT 0;
      ALTER TABLE drafts ADD COLUMN gone_at timestamptz, ADD COLUMN gone_by text REFERENCES people ON DELETE SET NULL;
      CREATE INDEX drafts_gone ON drafts (gone_at) WHERE gone_at IS NOT NULL;
      CREATE INDEX drafts_gone_by ON drafts (gone_by) WHERE gone_by IS NOT NULL;

      CREATE FUNCTION count_rights_of_manuscript() RETURNS trigger LANGUAGE plpgsql AS $$
      BEGIN
        UPDATE manuscripts SET rights = rights + 1
          WHERE id = CASE TG_OP WHEN 'DELETE' THEN OLD.manuscript_id ELSE NEW.manuscript_id END;
        RETURN NULL;
      END $$;
      CREATE TRIGGER members_rights AFTER INSERT OR DELETE OR UPDATE OF role, takes_away, invites, until ON members
        FOR EACH ROW EXECUTE FUNCTION count_rights_of_manuscript();
      CREATE TRIGGER seals_rights AFTER INSERT OR DELETE OR UPDATE ON seals
        FOR EACH ROW EXECUTE FUNCTION count_rights_of_manuscript();
      CREATE TRIGGER named_people_rights AFTER UPDATE OF matched_to ON named_people
        FOR EACH ROW EXECUTE FUNCTION count_rights_of_manuscript();

      CREATE FUNCTION count_rights_by_state() RETURNS trigger LANGUAGE plpgsql AS $$
      BEGIN
        NEW.rights := OLD.rights + 1;
        RETURN NEW;
      END $$;
      CREATE TRIGGER manuscripts_rights BEFORE UPDATE OF everyone_in_pencil, deleted_at ON manuscripts
        FOR EACH ROW EXECUTE FUNCTION count_rights_by_state();

      CREATE FUNCTION count_rights_of_person() RETURNS trigger LANGUAGE plpgsql AS $$
      BEGIN
        -- In one order, so that nobody waits in a circle.
        PERFORM 1 FROM manuscripts WHERE id IN (SELECT manuscript_id FROM members WHERE person_id = NEW.id)
          ORDER BY id FOR NO KEY UPDATE;
        UPDATE manuscripts SET rights = rights + 1
          WHERE id IN (SELECT manuscript_id FROM members WHERE person_id = NEW.id);
        RETURN NULL;
      END $$;
      CREATE TRIGGER people_rights AFTER UPDATE OF locked_at, standing ON people
        FOR EACH ROW WHEN (OLD.locked_at IS DISTINCT FROM NEW.locked_at OR OLD.standing <> NEW.standing)
        EXECUTE FUNCTION count_rights_of_person();
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      DROP TRIGGER people_rights ON people;
      DROP TRIGGER manuscripts_rights ON manuscripts;
      DROP TRIGGER named_people_rights ON named_people;
      DROP TRIGGER seals_rights ON seals;
      DROP TRIGGER members_rights ON members;
      DROP FUNCTION count_rights_of_person, count_rights_by_state, count_rights_of_manuscript;
      ALTER TABLE drafts DROP COLUMN gone_at, DROP COLUMN gone_by;
      ALTER TABLE manuscripts DROP COLUMN rights;
    `);
  }
}
