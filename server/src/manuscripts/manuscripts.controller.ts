import { Controller, Get, HttpCode, NotFoundException, Param, Patch, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import Joi from 'joi';
import { isLanguage } from '@tea-pencil/core';
import type { DeskLine, ManuscriptInfo, ManuscriptSettings } from '@tea-pencil/wire';
import { Broadcasting } from '../live/broadcasting.js';
import { Me, Member } from '../policy/guard.js';
import type { Membership } from '../policy/may.js';
import { Describes, JoiPipe, ValidBody, ValidId } from '../http/validation.js';
import { Desk } from './desk.js';
import { ManuscriptsService } from './manuscripts.service.js';

const titleSchema = Joi.object({ title: Joi.string().trim().strict(false).min(1).max(200).required() });
const settingsSchema = Joi.object({
  title: Joi.string().trim().strict(false).min(1).max(200),
  everyoneInPencil: Joi.boolean(),
  language: Joi.string()
    .max(40)
    .custom((value: string, { error }) => (isLanguage(value) ? value : error('any.invalid'))),
}).min(1);
const versionSchema = Joi.string().pattern(/^\d{1,9}$/);

@ApiTags('manuscripts')
@Controller('api/manuscripts')
export class ManuscriptsController {
  constructor(
    private readonly manuscripts: ManuscriptsService,
    private readonly onDesk: Desk,
    private readonly live: Broadcasting,
  ) {}

  @Get()
  desk(@Me() me: string): Promise<DeskLine[]> {
    return this.onDesk.of(me);
  }

  @Post()
  @Describes(titleSchema)
  async create(@Me() me: string, @ValidBody(titleSchema) { title }: { title: string }): Promise<{ id: string }> {
    return { id: await this.manuscripts.create(me, title) };
  }

  @Get(':id')
  async get(@ValidId('id') id: string, @Member() { role }: Membership): Promise<ManuscriptInfo> {
    return { ...(await this.manuscripts.get(id)), role };
  }

  @Patch(':id')
  @HttpCode(204)
  @Describes(settingsSchema)
  async set(@ValidId('id') id: string, @ValidBody(settingsSchema) settings: ManuscriptSettings): Promise<void> {
    await this.manuscripts.set(id, settings);
    this.live.changed(id, 'people');
  }

  /** The text as it was where a batch ended, rebuilt from the log. */
  @Get(':id/versions/:version')
  async version(
    @ValidId('id') id: string,
    @Param('version', new JoiPipe(versionSchema)) version: string,
  ): Promise<{ version: number; doc: object }> {
    const text = await this.manuscripts.textAt(id, Number(version));
    if (!text) throw new NotFoundException('The text has no such version.');
    return { version: text.version, doc: text.doc.toJSON() as object };
  }
}
