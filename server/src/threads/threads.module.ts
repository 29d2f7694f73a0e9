import { Module } from '@nestjs/common';
import { DatabaseModule } from '../database/database.module.js';
import { LiveModule } from '../live/live.module.js';
import { PolicyModule } from '../policy/memberships.js';
import { PostModule } from '../post/post.module.js';
import { Fastening } from './fastening.service.js';
import { ThreadPlaces } from './thread-places.js';
import { ThreadsController } from './threads.controller.js';
import { ThreadsService } from './threads.service.js';

@Module({
  imports: [DatabaseModule, LiveModule, PolicyModule, PostModule],
  controllers: [ThreadsController],
  providers: [Fastening, ThreadPlaces, ThreadsService],
  exports: [ThreadsService],
})
export class ThreadsModule {}
