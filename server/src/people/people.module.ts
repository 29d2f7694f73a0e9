import { Module } from '@nestjs/common';
import { ThrottlerModule } from '@nestjs/throttler';
import { CollaborationModule } from '../collaboration/collaboration.module.js';
import { DatabaseModule } from '../database/database.module.js';
import { PeopleController } from './people.controller.js';
import { PeopleService } from './people.service.js';

@Module({
  imports: [DatabaseModule, CollaborationModule, ThrottlerModule.forRoot([{ limit: 1000, ttl: 60_000 }])],
  controllers: [PeopleController],
  providers: [PeopleService],
  exports: [PeopleService],
})
export class PeopleModule {}
