import { Controller, Get, HttpCode, Patch, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import Joi from 'joi';
import { tints, type Place, type Thread, type Tint } from '@tea-pencil/core';
import type { EditedComment, NewComment, NewThread } from '@tea-pencil/wire';
import { changeSchema, Describes, idSchema, ValidBody, ValidId } from '../http/validation.js';
import { Broadcasting } from '../live/broadcasting.js';
import { Me, Member } from '../policy/guard.js';
import type { Membership } from '../policy/may.js';
import { ThreadsService } from './threads.service.js';

const place = Joi.number().integer().min(0).max(1e9).required();
const placeSchema = Joi.object({ version: place, from: place, to: place });
/** What it says is looked at by the core, which says in words what is wrong. */
const body = Joi.object().unknown().required();
const commentSchema = Joi.object({
  id: idSchema.required(),
  body,
  query: Joi.object({ to: idSchema.required() }),
  proposal: Joi.object({ words: Joi.string().allow('').max(10_000).required() }),
});
const tint = Joi.string().valid(...tints);
const beginSchema = Joi.object({
  id: idSchema.required(),
  at: placeSchema,
  change: changeSchema,
  whole: Joi.boolean().valid(true),
  toSelf: Joi.boolean(),
  tint,
  comment: commentSchema,
})
  .xor('at', 'change', 'whole')
  .or('comment', 'tint');
const turnSchema = Joi.object({
  threads: Joi.array().items(idSchema).min(1).max(10_000).unique().required(),
  resolved: Joi.boolean().required(),
});
const stateSchema = Joi.object({ resolved: Joi.boolean(), tint: tint.allow(null) }).xor('resolved', 'tint');
const editSchema = Joi.object({ body: Joi.object().unknown(), deleted: Joi.boolean() }).xor('body', 'deleted');
const settleSchema = Joi.object({ settled: Joi.boolean().required() });

@ApiTags('threads')
@Controller('api/manuscripts/:id/threads')
export class ThreadsController {
  constructor(
    private readonly threads: ThreadsService,
    private readonly live: Broadcasting,
  ) {}

  @Get()
  list(@ValidId('id') id: string, @Me() me: string): Promise<Thread[]> {
    return this.threads.list(id, me);
  }

  @Post()
  @HttpCode(204)
  @Describes(beginSchema)
  async begin(@Member() member: Membership, @ValidBody(beginSchema) thread: NewThread): Promise<void> {
    await this.threads.begin(member, thread);
    await this.#changed(member, thread.id);
  }

  @Patch()
  @Describes(turnSchema)
  async turnAll(
    @Member() member: Membership,
    @ValidBody(turnSchema) { threads, resolved }: { threads: string[]; resolved: boolean },
  ): Promise<{ turned: string[] }> {
    const { turned, shared } = await this.threads.turn(member, threads, resolved);
    if (shared) this.live.changed(member.manuscriptId, 'threads');
    else this.live.changedFor(member.personId, member.manuscriptId, 'threads');
    return { turned };
  }

  @Patch(':thread')
  @HttpCode(204)
  @Describes(stateSchema)
  async setState(
    @ValidId('thread') thread: string,
    @Member() member: Membership,
    @ValidBody(stateSchema) { resolved, tint: asked }: { resolved?: boolean; tint?: Tint | null },
  ): Promise<void> {
    if (resolved !== undefined) await this.threads.turn(member, [thread], resolved);
    else await this.threads.tint(member, thread, asked!);
    await this.#changed(member, thread);
  }

  @Put(':thread/place')
  @HttpCode(204)
  @Describes(placeSchema)
  async place(
    @ValidId('thread') thread: string,
    @Member() member: Membership,
    @ValidBody(placeSchema) at: Place,
  ): Promise<void> {
    await this.threads.place(member, thread, at);
    await this.#changed(member, thread);
  }

  @Post(':thread/comments')
  @HttpCode(204)
  @Describes(commentSchema)
  async reply(
    @ValidId('thread') thread: string,
    @Member() member: Membership,
    @ValidBody(commentSchema) comment: NewComment,
  ): Promise<void> {
    await this.threads.reply(member, thread, comment);
    await this.#changed(member, thread);
  }

  @Patch(':thread/comments/:comment')
  @HttpCode(204)
  @Describes(editSchema)
  async edit(
    @ValidId('thread') thread: string,
    @ValidId('comment') comment: string,
    @Member() member: Membership,
    @ValidBody(editSchema) change: EditedComment,
  ): Promise<void> {
    await this.threads.edit(member, thread, comment, change);
    await this.#changed(member, thread);
  }

  @Patch(':thread/comments/:comment/query')
  @HttpCode(204)
  @Describes(settleSchema)
  async settle(
    @ValidId('thread') thread: string,
    @ValidId('comment') comment: string,
    @Member() member: Membership,
    @ValidBody(settleSchema) { settled }: { settled: boolean },
  ): Promise<void> {
    await this.threads.settle(member, thread, comment, settled);
    await this.#changed(member, thread);
  }

  /** Makes proposed wording a change. */
  @Post(':thread/comments/:comment/change')
  async propose(
    @ValidId('thread') thread: string,
    @ValidId('comment') comment: string,
    @Member() member: Membership,
  ): Promise<{ change: string }> {
    const made = await this.threads.propose(member, thread, comment);
    await this.#changed(member, thread);
    return made;
  }

  /** Everyone who has the manuscript open is told; of a note to oneself only its author. */
  async #changed({ manuscriptId, personId }: Membership, thread: string): Promise<void> {
    if (await this.threads.isToSelf(thread)) this.live.changedFor(personId, manuscriptId, 'threads');
    else this.live.changed(manuscriptId, 'threads');
  }
}
