import { Controller, Get, HttpCode, Patch, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import Joi from 'joi';
import type { NoticeChoice, Outbox, Post as PostOf } from '@tea-pencil/wire';
import { Describes, idSchema, ValidBody, ValidId } from '../http/validation.js';
import { Me } from '../policy/guard.js';
import { Settings } from '../settings/settings.js';
import { noticeKinds } from './kinds.js';
import { PostService } from './post.service.js';

const markSchema = Joi.object({
  notices: Joi.array().items(idSchema).min(1).max(1000),
  read: Joi.boolean().required(),
});
const way = Joi.string().valid('nothing', 'post', 'mail');
const choiceSchema = Joi.object(Object.fromEntries(noticeKinds.map((kind) => [kind, way]))).min(1);

@ApiTags('post')
@Controller('api')
export class PostController {
  constructor(
    private readonly post: PostService,
    private readonly settings: Settings,
  ) {}

  @Get('post')
  list(@Me() me: string): Promise<PostOf> {
    return this.post.list(me);
  }

  @Patch('post')
  @HttpCode(204)
  @Describes(markSchema)
  mark(@Me() me: string, @ValidBody(markSchema) body: { notices?: string[]; read: boolean }): Promise<void> {
    return this.post.mark(me, body.notices, body.read);
  }

  @Patch('post/kinds')
  @HttpCode(204)
  @Describes(choiceSchema)
  choose(@Me() me: string, @ValidBody(choiceSchema) choice: Partial<NoticeChoice>): Promise<void> {
    return this.post.choose(me, choice);
  }

  /** The mail that would have been sent; none where it is really sent. */
  @Get('outbox')
  async outbox(@Me() me: string): Promise<Outbox> {
    const standsIn = !this.settings.mail.server;
    return { standsIn, mails: standsIn ? await this.post.mails(me) : [] };
  }

  /** A mail as it would arrive, so served that it can do nothing but be read, within pages of ours. */
  @Get('outbox/:mail/html')
  async html(@ValidId('mail') id: string, @Me() me: string, @Res() response: Response): Promise<void> {
    const { html } = await this.post.mail(me, id);
    response.set({
      'Content-Type': 'text/html; charset=utf-8',
      'Content-Security-Policy':
        "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'self'; sandbox allow-popups",
      'X-Content-Type-Options': 'nosniff',
      'Cache-Control': 'private, no-store',
    });
    response.send(html);
  }
}
