import { Controller, Delete, Get, HttpCode, NotFoundException, Param, Patch, Post, Put, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import Joi from 'joi';
import { isLanguage } from '@tea-pencil/core';
import type {
  DeletedLine,
  DeskLine,
  DeskPlace,
  FoundLine,
  HereNow,
  ManuscriptInfo,
  ManuscriptSettings,
} from '@tea-pencil/wire';
import { Broadcasting } from '../live/broadcasting.js';
import { Me, Member } from '../policy/guard.js';
import type { Membership } from '../policy/may.js';
import { Describes, JoiPipe, ValidBody, ValidId, lineText } from '../http/validation.js';
import { Deleting } from './deleting.js';
import { Desk } from './desk.js';
import { ManuscriptsService } from './manuscripts.service.js';
import { Search } from './search.js';

const title = lineText.min(1).max(200);
const titleSchema = Joi.object({ title: title.required() });
const settingsSchema = Joi.object({
  title,
  everyoneInPencil: Joi.boolean(),
  language: Joi.string()
    .max(40)
    .custom((value: string, { error }) => (isLanguage(value) ? value : error('any.invalid'))),
}).min(1);
const placeSchema = Joi.object({
  archived: Joi.boolean(),
  labels: Joi.array().items(Joi.string().trim().strict(false).min(1).max(40)).max(20),
}).min(1);
const typedSchema = Joi.string().allow('').max(200);
const versionSchema = Joi.string().pattern(/^\d{1,9}$/);

@ApiTags('manuscripts')
@Controller('api')
export class ManuscriptsController {
  constructor(
    private readonly manuscripts: ManuscriptsService,
    private readonly onDesk: Desk,
    private readonly deleting: Deleting,
    private readonly search: Search,
    private readonly live: Broadcasting,
  ) {}

  @Get('manuscripts')
  desk(@Me() me: string): Promise<DeskLine[]> {
    return this.onDesk.of(me);
  }

  /** Who has which of one’s manuscripts open just now. */
  @Get('manuscripts/here')
  here(@Me() me: string): Promise<HereNow> {
    return this.onDesk.here(me);
  }

  /** Where words stand, in titles and texts. */
  @Get('manuscripts/found')
  found(@Me() me: string, @Query('words', new JoiPipe(typedSchema)) words: string): Promise<FoundLine[]> {
    return this.search.find(me, words);
  }

  @Get('deleted')
  deleted(@Me() me: string): Promise<DeletedLine[]> {
    return this.onDesk.deleted(me);
  }

  @Post('deleted/:manuscript/back')
  @HttpCode(204)
  bringBack(@ValidId('manuscript') id: string, @Me() me: string): Promise<void> {
    return this.deleting.bringBack(id, me);
  }

  @Post('manuscripts')
  @Describes(titleSchema)
  async create(@Me() me: string, @ValidBody(titleSchema) { title }: { title: string }): Promise<{ id: string }> {
    return { id: await this.manuscripts.create(me, title) };
  }

  @Get('manuscripts/:id')
  async get(
    @ValidId('id') id: string,
    @Member() { role, takesAway, invites, isGuest }: Membership,
  ): Promise<ManuscriptInfo> {
    return { ...(await this.manuscripts.get(id)), role, takesAway: takesAway && !isGuest, invites };
  }

  /** Deletes it for everybody; its keepers can bring it back. */
  @Delete('manuscripts/:id')
  @HttpCode(204)
  delete(@ValidId('id') _: string, @Member() member: Membership): Promise<void> {
    return this.deleting.delete(member);
  }

  /** Where it lies on one’s own desk. */
  @Put('manuscripts/:id/desk')
  @HttpCode(204)
  @Describes(placeSchema)
  put(@ValidId('id') id: string, @Me() me: string, @ValidBody(placeSchema) place: DeskPlace): Promise<void> {
    return this.onDesk.put(id, me, place);
  }

  @Patch('manuscripts/:id')
  @HttpCode(204)
  @Describes(settingsSchema)
  async set(
    @ValidId('id') id: string,
    @Member() member: Membership,
    @ValidBody(settingsSchema) settings: ManuscriptSettings,
  ): Promise<void> {
    await this.manuscripts.set(member, settings);
    this.live.changed(id, 'people');
  }

  /** The text as it was where a batch ended, rebuilt from the log. */
  @Get('manuscripts/:id/versions/:version')
  async version(
    @ValidId('id') id: string,
    @Param('version', new JoiPipe(versionSchema)) version: string,
  ): Promise<{ version: number; doc: object }> {
    const text = await this.manuscripts.textAt(id, Number(version));
    if (!text) throw new NotFoundException('The text has no such version.');
    return { version: text.version, doc: text.doc.toJSON() as object };
  }
}
