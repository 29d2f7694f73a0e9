import { Controller, Delete, Get, HttpCode, Param, Patch, Post, Query, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import Joi from 'joi';
import type {
  ActTakenBack,
  BringBackHow,
  BroughtBack,
  DraftChange,
  Drafts,
  InkPiece,
  Moment,
  SideBySide,
  TimeLine,
} from '@tea-pencil/wire';
import { goneAway } from '../http/gone-away.js';
import { Describes, JoiPipe, ValidBody, ValidId, lineText } from '../http/validation.js';
import { Me, Member } from '../policy/guard.js';
import type { Member as Membership } from '../policy/may.js';
import { BesideService } from './beside.service.js';
import { DraftsService, type Keep } from './drafts.service.js';
import { InkService } from './ink.service.js';
import { RewritingService } from './rewriting.service.js';
import { TakingBackService } from './taking-back.service.js';

const version = Joi.number().integer().min(0).max(999_999_999);
const versionPipe = new JoiPipe(Joi.string().pattern(/^\d{1,9}$/));
const nameSchema = lineText.min(1).max(120);
const noteSchema = Joi.string().trim().strict(false).allow('').max(2000);
const keepSchema = Joi.object({ name: nameSchema, note: noteSchema, version });
const changeSchema = Joi.object({
  name: nameSchema.allow(null),
  note: noteSchema,
}).min(1);
const backSchema = Joi.object({ version: version.required(), how: Joi.string().valid('pencil', 'ink').required() });
const goPipe = new JoiPipe(Joi.string().valid('here', 'earlier', 'later'));
const readingPipe = new JoiPipe(Joi.string().valid('fair', 'before'));

@ApiTags('drafts')
@Controller('api/manuscripts/:id')
export class DraftsController {
  constructor(
    private readonly drafts: DraftsService,
    private readonly rewriting: RewritingService,
    private readonly takingBack: TakingBackService,
    private readonly besides: BesideService,
    private readonly ink: InkService,
  ) {}

  @Get('drafts')
  list(@ValidId('id') id: string): Promise<Drafts> {
    return this.drafts.list(id);
  }

  /** Keeps a state by hand: as the text stands, or as it was at a version. */
  @Post('drafts')
  @Describes(keepSchema)
  keep(@Member() member: Membership, @ValidBody(keepSchema) what: Keep): Promise<{ id: string; version: number }> {
    return this.drafts.keep(member, what);
  }

  /** Its name, and what is said of it. */
  @Patch('drafts/:draft')
  @HttpCode(204)
  @Describes(changeSchema)
  change(
    @Member() member: Membership,
    @ValidId('draft') draft: string,
    @ValidBody(changeSchema) change: DraftChange,
  ): Promise<void> {
    return this.drafts.change(member, draft, change);
  }

  @Delete('drafts/:draft')
  @HttpCode(204)
  letGo(@Member() member: Membership, @ValidId('draft') draft: string): Promise<void> {
    return this.drafts.letGo(member, draft);
  }

  @Post('drafts/:draft/back')
  @HttpCode(204)
  bringDraftBack(@Member() member: Membership, @ValidId('draft') draft: string): Promise<void> {
    return this.drafts.bringBack(member, draft);
  }

  /** Who wrote when. */
  @Get('time-line')
  timeLine(@ValidId('id') id: string): Promise<TimeLine> {
    return this.drafts.timeLine(id);
  }

  /** What happened up to a version, or in the piece of work before or after it. */
  @Get('moments/:version')
  moment(
    @ValidId('id') id: string,
    @Param('version', versionPipe) at: string,
    @Query('go', goPipe) go: 'here' | 'earlier' | 'later',
  ): Promise<Moment> {
    return this.drafts.moment(id, Number(at), go);
  }

  /** Two drafts beside each other, with what differs. */
  @Get('beside')
  beside(
    @ValidId('id') id: string,
    @Me() me: string,
    @Query('before', versionPipe) before: string,
    @Query('after', versionPipe) after: string,
    @Query('reading', readingPipe) reading: 'fair' | 'before',
    @Res({ passthrough: true }) response: Response,
  ): Promise<SideBySide> {
    const asked = { manuscript: id, before: Number(before), after: Number(after), reading };
    return this.besides.lay(asked, me, goneAway(response));
  }

  /** Brings an earlier draft back. */
  @Post('back')
  @Describes(backSchema)
  back(
    @Member() member: Membership,
    @ValidBody(backSchema) what: { version: number; how: BringBackHow },
    @Res({ passthrough: true }) response: Response,
  ): Promise<BroughtBack> {
    return this.rewriting.bringBack(member, what.version, what.how, goneAway(response));
  }

  /** Takes back what was done to the whole text: a draft brought back, a file taken in, ink laid down in pencil. */
  @Post('acts/:act/back')
  @HttpCode(200)
  takeBack(
    @Member() member: Membership,
    @ValidId('act') act: string,
    @Res({ passthrough: true }) response: Response,
  ): Promise<ActTakenBack> {
    return this.takingBack.takeBack(member, act, goneAway(response));
  }

  /** What was done in ink. */
  @Get('ink')
  inked(@ValidId('id') id: string, @Me() me: string): Promise<InkPiece[]> {
    return this.ink.list(id, me);
  }

  /** Lays a piece of it down in pencil, so that it can be decided. */
  @Post('ink/:from/pencil')
  layDown(
    @Member() member: Membership,
    @Param('from', versionPipe) from: string,
    @Res({ passthrough: true }) response: Response,
  ): Promise<BroughtBack> {
    return this.ink.layDown(member, Number(from), goneAway(response));
  }
}
