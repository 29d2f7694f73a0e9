import { Controller, Get, HttpCode, Patch } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { ApiTags } from '@nestjs/swagger';
import Joi from 'joi';
import { DataSource } from 'typeorm';
import { changeKinds } from '@tea-pencil/core';
import { ViewRow } from '../database/entities.js';
import { keepDraft } from '../database/kept-draft.js';
import type { View } from '@tea-pencil/wire';
import { Me, Member } from '../policy/guard.js';
import { may, type Member as Membership } from '../policy/may.js';
import { changeSchema, Describes, ValidBody, ValidId, lineText } from '../http/validation.js';

const lookSchema = Joi.object({
  reading: Joi.string().valid('marked', 'fair', 'before').required(),
  flow: Joi.string().valid('both', 'fair', 'before').required(),
  folded: Joi.array()
    .items(Joi.string().valid(...changeKinds))
    .unique()
    .required(),
  notes: Joi.string().valid('all', 'caret').required(),
  talk: Joi.string().valid('margin', 'signs').required(),
  outline: Joi.boolean().required(),
});
const lensSchema = Joi.object({
  name: lineText.min(1).max(80).required(),
  query: Joi.string().allow('').max(2000).required(),
});
const readThroughSchema = Joi.object({
  order: Joi.string().valid('place', 'author', 'oldest').required(),
  change: changeSchema.allow(null).required(),
  at: Joi.number().integer().min(0).required(),
  skipped: Joi.array().items(changeSchema).max(20_000).required(),
  done: Joi.number().integer().min(0).required(),
});
const columnSchema = Joi.string().pattern(/^[a-z]{1,20}$/);
const ledgerSchema = Joi.object({
  hidden: Joi.array().items(columnSchema).unique().max(20).required(),
  widths: Joi.object().pattern(columnSchema, Joi.number().integer().min(20).max(2000)).max(20).required(),
});
const viewSchema = Joi.object({
  look: lookSchema,
  lenses: Joi.array().items(lensSchema).max(50),
  readThrough: readThroughSchema.allow(null),
  ledger: ledgerSchema,
}).min(1);

/** How someone looks at a manuscript: remembered on every machine, and told to nobody else. */
@ApiTags('views')
@Controller('api/manuscripts/:id/view')
export class ViewsController {
  constructor(@InjectDataSource() private readonly database: DataSource) {}

  @Get()
  async get(@ValidId('id') manuscriptId: string, @Me() personId: string): Promise<View> {
    const row = await this.database.getRepository(ViewRow).findOneBy({ manuscriptId, personId });
    return row?.view ?? {};
  }

  /** Keeps the parts that are sent; the others stay. */
  @Patch()
  @HttpCode(204)
  @Describes(viewSchema)
  async set(
    @ValidId('id') manuscriptId: string,
    @Me() personId: string,
    @Member() member: Membership,
    @ValidBody(viewSchema) view: View,
  ): Promise<void> {
    if (view.readThrough && may('decide', member) === true) await this.#keepBefore(manuscriptId, personId);
    await this.database.query(
      `INSERT INTO views (manuscript_id, person_id, view) VALUES ($1, $2, $3)
       ON CONFLICT (manuscript_id, person_id) DO UPDATE SET view = views.view || excluded.view`,
      [manuscriptId, personId, JSON.stringify(view)],
    );
  }

  /** Whoever begins to go through the changes finds the text as it was before. */
  async #keepBefore(manuscriptId: string, personId: string): Promise<void> {
    const row = await this.database.getRepository(ViewRow).findOneBy({ manuscriptId, personId });
    if ((row?.view as View | undefined)?.readThrough) return;
    const [last] = await this.database.query<{ version: number }[]>(
      'SELECT coalesce(max(version) + 1, 0) AS version FROM steps WHERE manuscript_id = $1 AND ends',
      [manuscriptId],
    );
    const before = 'a read-through';
    await keepDraft(this.database, { manuscriptId, version: last!.version, reason: 'read-through', before });
  }
}
