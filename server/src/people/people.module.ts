import { Module } from '@nestjs/common';
import { DatabaseModule } from '../database/database.module.js';
import { LiveModule } from '../live/live.module.js';
import { PostModule } from '../post/post.module.js';
import { ConfirmingService } from './confirming.service.js';
import { PeopleController } from './people.controller.js';
import { PeopleService } from './people.service.js';

@Module({
  imports: [DatabaseModule, LiveModule, PostModule],
  controllers: [PeopleController],
  providers: [PeopleService, ConfirmingService],
  exports: [PeopleService],
})
export class PeopleModule {}
