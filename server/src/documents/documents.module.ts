import { Module } from '@nestjs/common';
import { CollaborationModule } from '../collaboration/collaboration.module.js';
import { DatabaseModule } from '../database/database.module.js';
import { PeopleModule } from '../people/people.module.js';
import { ThreadsModule } from '../threads/threads.module.js';
import { ManuscriptsController } from './manuscripts.controller.js';
import { ManuscriptsService } from './manuscripts.service.js';

@Module({
  imports: [DatabaseModule, CollaborationModule, PeopleModule, ThreadsModule],
  controllers: [ManuscriptsController],
  providers: [ManuscriptsService],
  exports: [ManuscriptsService],
})
export class DocumentsModule {}
