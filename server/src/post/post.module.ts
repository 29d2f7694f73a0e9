import { Module } from '@nestjs/common';
import { CollaborationModule } from '../collaboration/collaboration.module.js';
import { DatabaseModule } from '../database/database.module.js';
import { Mailer } from './mailer.js';
import { Notices } from './notices.js';
import { PostController } from './post.controller.js';
import { PostService } from './post.service.js';

@Module({
  imports: [DatabaseModule, CollaborationModule],
  controllers: [PostController],
  providers: [PostService, Notices, Mailer],
  exports: [Notices],
})
export class PostModule {}
