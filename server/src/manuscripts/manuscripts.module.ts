import { Module } from '@nestjs/common';
import { DatabaseModule } from '../database/database.module.js';
import { LiveModule } from '../live/live.module.js';
import { PeopleModule } from '../people/people.module.js';
import { PostModule } from '../post/post.module.js';
import { ThreadsModule } from '../threads/threads.module.js';
import { Desk } from './desk.js';
import { MembersController } from './members.controller.js';
import { MembersService } from './members.service.js';
import { ManuscriptsController } from './manuscripts.controller.js';
import { ManuscriptsService } from './manuscripts.service.js';

@Module({
  imports: [DatabaseModule, LiveModule, PeopleModule, PostModule, ThreadsModule],
  controllers: [ManuscriptsController, MembersController],
  providers: [Desk, ManuscriptsService, MembersService],
  exports: [ManuscriptsService],
})
export class ManuscriptsModule {}
