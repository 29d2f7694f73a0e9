import { Module } from '@nestjs/common';
import { PolicyModule } from '../policy/memberships.js';
import { DatabaseModule } from '../database/database.module.js';
import { LiveModule } from '../live/live.module.js';
import { PeopleModule } from '../people/people.module.js';
import { PostModule } from '../post/post.module.js';
import { ThreadsModule } from '../threads/threads.module.js';
import { SharingModule } from '../sharing/sharing.module.js';
import { Deleting } from './deleting.js';
import { Desk } from './desk.js';
import { ManuscriptsController } from './manuscripts.controller.js';
import { ManuscriptsService } from './manuscripts.service.js';
import { Search } from './search.js';

@Module({
  imports: [DatabaseModule, LiveModule, PolicyModule, PeopleModule, PostModule, SharingModule, ThreadsModule],
  controllers: [ManuscriptsController],
  providers: [Deleting, Desk, ManuscriptsService, Search],
  exports: [ManuscriptsService],
})
export class ManuscriptsModule {}
