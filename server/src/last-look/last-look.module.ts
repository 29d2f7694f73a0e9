import { Module } from '@nestjs/common';
import { DatabaseModule } from '../database/database.module.js';
import { LiveModule } from '../live/live.module.js';
import { PolicyModule } from '../policy/memberships.js';
import { DecidedPlaces } from './decided-at.js';
import { LastLookController } from './last-look.controller.js';
import { LastLookService } from './last-look.service.js';

/** The last look: what people have made of what it finds. */
@Module({
  imports: [DatabaseModule, LiveModule, PolicyModule],
  controllers: [LastLookController],
  providers: [LastLookService, DecidedPlaces],
})
export class LastLookModule {}
