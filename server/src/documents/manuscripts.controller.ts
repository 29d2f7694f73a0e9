import { Controller, Get, HttpCode, NotFoundException, Param, Patch, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import Joi from 'joi';
import { LiveGateway } from '../collaboration/live.gateway.js';
import type { MemberRow } from '../database/entities.js';
import { Me, Membership } from '../http/access.js';
import { Describes, JoiPipe, ValidBody, ValidId } from '../http/validation.js';
import { ManuscriptsService, type DeskEntry } from './manuscripts.service.js';

const titleSchema = Joi.object({ title: Joi.string().trim().strict(false).min(1).max(200).required() });
const settingsSchema = Joi.object({
  title: Joi.string().trim().strict(false).min(1).max(200),
  everyoneInPencil: Joi.boolean(),
}).min(1);
const versionSchema = Joi.string().pattern(/^\d{1,9}$/);

@ApiTags('manuscripts')
@Controller('api/manuscripts')
export class ManuscriptsController {
  constructor(
    private readonly manuscripts: ManuscriptsService,
    private readonly live: LiveGateway,
  ) {}

  @Get()
  desk(@Me() me: string): Promise<DeskEntry[]> {
    return this.manuscripts.desk(me);
  }

  @Post()
  @Describes(titleSchema)
  async create(@Me() me: string, @ValidBody(titleSchema) { title }: { title: string }): Promise<{ id: string }> {
    return { id: await this.manuscripts.create(me, title) };
  }

  @Get(':id')
  async get(@ValidId('id') id: string, @Membership() { role }: MemberRow) {
    return { ...(await this.manuscripts.get(id)), role };
  }

  @Patch(':id')
  @HttpCode(204)
  @Describes(settingsSchema)
  async set(
    @ValidId('id') id: string,
    @ValidBody(settingsSchema) settings: { title?: string; everyoneInPencil?: boolean },
  ): Promise<void> {
    await this.manuscripts.set(id, settings);
    this.live.changed(id, 'people');
  }

  /** The text as it was, rebuilt from the log. */
  @Get(':id/versions/:version')
  async version(
    @ValidId('id') id: string,
    @Param('version', new JoiPipe(versionSchema)) version: string,
  ): Promise<{ doc: object }> {
    const doc = await this.manuscripts.textAt(id, Number(version));
    if (!doc) throw new NotFoundException('The text has no such version.');
    return { doc: doc.toJSON() as object };
  }
}
