import { Module } from '@nestjs/common';
import { CollaborationModule } from '../collaboration/collaboration.module.js';
import { DatabaseModule } from '../database/database.module.js';
import { PeopleModule } from '../people/people.module.js';
import { PostModule } from '../post/post.module.js';
import { Fastening } from './fastening.service.js';
import { ThreadsController } from './threads.controller.js';
import { ThreadsService } from './threads.service.js';

@Module({
  imports: [DatabaseModule, CollaborationModule, PeopleModule, PostModule],
  controllers: [ThreadsController],
  providers: [ThreadsService, Fastening],
  exports: [ThreadsService],
})
export class ThreadsModule {}
