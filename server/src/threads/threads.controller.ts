import { Controller, Get, HttpCode, Patch, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import Joi from 'joi';
import type { Thread } from '@tea-pencil/core';
import { LiveGateway } from '../collaboration/live.gateway.js';
import { Me } from '../http/access.js';
import { changeSchema, Describes, idSchema, ValidBody, ValidId } from '../http/validation.js';
import { ThreadsService } from './threads.service.js';

const text = Joi.string().trim().strict(false).min(1).max(10_000).required();
const beginSchema = Joi.object({
  id: idSchema.required(),
  comment: idSchema.required(),
  change: changeSchema,
  quote: Joi.string().allow('').max(5000).required(),
  text,
});
const replySchema = Joi.object({ id: idSchema.required(), text });
const stateSchema = Joi.object({ resolved: Joi.boolean().required() });

@ApiTags('threads')
@Controller('api/manuscripts/:id/threads')
export class ThreadsController {
  constructor(
    private readonly threads: ThreadsService,
    private readonly live: LiveGateway,
  ) {}

  @Get()
  list(@ValidId('id') id: string): Promise<Thread[]> {
    return this.threads.list(id);
  }

  @Post()
  @HttpCode(204)
  @Describes(beginSchema)
  async begin(
    @ValidId('id') id: string,
    @Me() me: string,
    @ValidBody(beginSchema) body: { id: string; comment: string; change?: string; quote: string; text: string },
  ): Promise<void> {
    await this.threads.begin(id, me, body);
    this.live.changed(id, 'threads');
  }

  @Post(':thread/comments')
  @HttpCode(204)
  @Describes(replySchema)
  async reply(
    @ValidId('id') id: string,
    @ValidId('thread') thread: string,
    @Me() me: string,
    @ValidBody(replySchema) body: { id: string; text: string },
  ): Promise<void> {
    await this.threads.reply(id, thread, me, body);
    this.live.changed(id, 'threads');
  }

  @Patch(':thread')
  @HttpCode(204)
  @Describes(stateSchema)
  async setState(
    @ValidId('id') id: string,
    @ValidId('thread') thread: string,
    @Me() me: string,
    @ValidBody(stateSchema) { resolved }: { resolved: boolean },
  ): Promise<void> {
    await this.threads.setResolved(id, thread, me, resolved);
    this.live.changed(id, 'threads');
  }
}
