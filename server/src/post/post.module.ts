import { Module } from '@nestjs/common';
import { DatabaseModule } from '../database/database.module.js';
import { DecisionsModule } from '../decisions/decisions.module.js';
import { LiveModule } from '../live/live.module.js';
import { PolicyModule } from '../policy/memberships.js';
import { Mailer } from './mailer.js';
import { Notices } from './notices.js';
import { PostController } from './post.controller.js';
import { PostService } from './post.service.js';

@Module({
  imports: [DatabaseModule, DecisionsModule, LiveModule, PolicyModule],
  controllers: [PostController],
  providers: [PostService, Notices, Mailer],
  exports: [Mailer, Notices],
})
export class PostModule {}
