import { Module } from '@nestjs/common';
import { DatabaseModule } from '../database/database.module.js';
import { DecisionsModule } from '../decisions/decisions.module.js';
import { LiveModule } from '../live/live.module.js';
import { ManuscriptsModule } from '../manuscripts/manuscripts.module.js';
import { PolicyModule } from '../policy/memberships.js';
import { FairCopyController } from './fair-copy.controller.js';
import { FairCopyService } from './fair-copy.service.js';

/** Fair copies: the end of the work, proved and kept. */
@Module({
  imports: [DatabaseModule, DecisionsModule, LiveModule, ManuscriptsModule, PolicyModule],
  controllers: [FairCopyController],
  providers: [FairCopyService],
})
export class FairCopyModule {}
