import {
  BadRequestException,
  ConflictException,
  ForbiddenException,
  Injectable,
  NotFoundException,
} from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { parse } from 'csv-parse/sync';
import { nanoid } from 'nanoid';
import { DataSource, IsNull, type EntityManager } from 'typeorm';
import { rulesFromRows, styleFromJson, UnreadableStyle, type HouseStyle, type StyleProblem } from '@tea-pencil/core';
import type { RulesRead, StyleLine, StyleToKeep, StyleVersion, StyleWhole } from '@tea-pencil/wire';
import { HouseStyleRow, StyledRow, StyleVersionRow } from '../database/last-look-entities.js';
import { Broadcasting } from '../live/broadcasting.js';
import type { Member } from '../policy/may.js';
import { Memberships } from '../policy/memberships.js';
import { saysBusy, Workers } from '../work/workers.js';

/** So many styles one person can have made. */
const mostStyles = 200;
const noStyle = 'There is no such house style.';

/** House styles: everybody with an account sees and follows them; who made one, and keepers of the house, change it. */
@Injectable()
export class HouseStyleService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly memberships: Memberships,
    private readonly workers: Workers,
    private readonly live: Broadcasting,
  ) {}

  async list(me: string): Promise<StyleLine[]> {
    const keepsHouse = !!(await this.memberships.caller(me))?.keepsHouse;
    return this.database.query(
      `SELECT house_styles.id, house_styles.name, house_styles.language, jsonb_array_length(rules) AS rules,
         house_styles.version, newest.by, newest.at, made_by = $1 OR $2 AS "mayChange",
         (SELECT count(*)::int FROM styled JOIN members USING (manuscript_id)
          WHERE style_id = house_styles.id AND person_id = $1) AS manuscripts
       FROM house_styles JOIN house_style_versions AS newest ON style_id = id AND newest.version = house_styles.version
       WHERE gone_at IS NULL ORDER BY house_styles.name, house_styles.id`,
      [me, keepsHouse],
    );
  }

  async get(me: string, id: string): Promise<StyleWhole> {
    const row = await this.#row(this.database.manager, id);
    const { name, language, version, rules } = await this.#version(id, row.version);
    return { id, name, language, version, rules, mayChange: await this.#mayChange(me, row) };
  }

  async #row(manager: EntityManager, id: string, lock = false): Promise<HouseStyleRow> {
    const row = await manager.findOne(HouseStyleRow, {
      where: { id },
      ...(lock && { lock: { mode: 'pessimistic_write' } }),
    });
    if (!row || row.goneAt) throw new NotFoundException(noStyle);
    return row;
  }

  async #version(styleId: string, version: number): Promise<StyleVersionRow> {
    const row = await this.database.getRepository(StyleVersionRow).findOneBy({ styleId, version });
    if (!row) throw new NotFoundException('This style has no such version.');
    return row;
  }

  async #mayChange(me: string, { madeBy }: HouseStyleRow): Promise<boolean> {
    return madeBy === me || !!(await this.memberships.caller(me))?.keepsHouse;
  }

  async versions(id: string): Promise<StyleVersion[]> {
    await this.#row(this.database.manager, id);
    return this.database.query(
      `SELECT version, by, people.name AS "byName", at, jsonb_array_length(rules) AS rules
       FROM house_style_versions JOIN people ON people.id = by WHERE style_id = $1 ORDER BY version DESC LIMIT 500`,
      [id],
    );
  }

  async versionAt(id: string, version: number): Promise<HouseStyle> {
    await this.#row(this.database.manager, id);
    const { name, language, rules } = await this.#version(id, version);
    return { name, language, rules };
  }

  /** @throws BadRequestException where rules cannot be or contradict each other */
  async #sound(me: string, { rules }: HouseStyle): Promise<void> {
    const problems = await saysBusy(
      this.workers.run<StyleProblem[]>('checkStyle', () => Promise.resolve(rules), { of: me }),
    );
    if (!problems.length) return;
    const [first] = problems;
    const more = problems.length > 1 ? ` There is more that is wrong: ${problems.length - 1}.` : '';
    throw new BadRequestException(`${first!.says}${more} Nothing was kept.`);
  }

  async make(me: string, style: HouseStyle): Promise<{ id: string }> {
    if ((await this.database.getRepository(HouseStyleRow).countBy({ madeBy: me, goneAt: IsNull() })) >= mostStyles)
      throw new ConflictException(`No more than ${mostStyles} styles can be yours. Do away with one first.`);
    await this.#sound(me, style);
    const id = nanoid(12);
    const { name, language, rules } = style;
    await this.database.transaction(async (manager) => {
      await manager.insert(HouseStyleRow, { id, name, language, madeBy: me, version: 1 });
      await manager.insert(StyleVersionRow, { styleId: id, version: 1, name, language, rules, by: me });
    });
    return { id };
  }

  /** Keeps a new version; what somebody else has kept meanwhile is not overwritten. */
  async set(me: string, id: string, { since, name, language, rules }: StyleToKeep): Promise<{ version: number }> {
    await this.#mayBeChanged(me, id);
    await this.#sound(me, { name, language, rules });
    const version = since + 1;
    await this.database.transaction(async (manager) => {
      const row = await this.#row(manager, id, true);
      if (row.version !== since)
        throw new ConflictException(
          'Somebody else has changed this style meanwhile. Take yours away as a file, look at theirs, and change it again.',
        );
      await manager.update(HouseStyleRow, { id }, { name, language, version });
      await manager.insert(StyleVersionRow, { styleId: id, version, name, language, rules, by: me });
    });
    await this.#tell(id);
    return { version };
  }

  async #mayBeChanged(me: string, id: string): Promise<void> {
    const row = await this.#row(this.database.manager, id);
    if (!(await this.#mayChange(me, row)))
      throw new ForbiddenException('Only who made this style, or a keeper of the house, can change it.');
  }

  /** A style that is gone is followed by nothing any more; its versions stay. */
  async remove(me: string, id: string): Promise<void> {
    await this.#mayBeChanged(me, id);
    await this.database.getRepository(HouseStyleRow).update({ id }, { goneAt: new Date() });
    await this.#tell(id);
  }

  async #tell(styleId: string): Promise<void> {
    for (const { manuscriptId } of await this.database.getRepository(StyledRow).findBy({ styleId }))
      this.live.changed(manuscriptId, 'last look');
  }

  /** Says which style a manuscript follows; null for none. */
  async follow(member: Member, styleId: string | null): Promise<void> {
    const { manuscriptId, isGuest } = member;
    if (isGuest) throw new ForbiddenException('A guest cannot choose a house style.');
    await this.memberships.write(member, 'change settings', async (manager) => {
      if (styleId === null) return void (await manager.delete(StyledRow, { manuscriptId }));
      await this.#row(manager, styleId);
      await manager.upsert(StyledRow, { manuscriptId, styleId }, ['manuscriptId']);
    });
    this.live.changed(manuscriptId, 'last look');
  }

  /** The rules in a file. @param text of a JSON or a CSV file (RFC 4180) */
  read(text: string): RulesRead {
    try {
      if (/^\s*\{/.test(text)) return styleFromJson(text);
      const rows: string[][] = parse(text, { bom: true, relax_column_count: true, skip_empty_lines: true });
      return { name: '', language: null, rules: rulesFromRows(rows) };
    } catch (problem) {
      if (problem instanceof UnreadableStyle) throw new BadRequestException(problem.message);
      throw new BadRequestException('This file can be read neither as JSON nor as comma-separated values.');
    }
  }
}
