import { Module } from '@nestjs/common';
import { PolicyModule } from '../policy/memberships.js';
import { DatabaseModule } from '../database/database.module.js';
import { LiveModule } from '../live/live.module.js';
import { BesideService } from './beside.service.js';
import { DraftsController } from './drafts.controller.js';
import { DraftsService } from './drafts.service.js';
import { InkService } from './ink.service.js';
import { Keeping } from './keeping.js';
import { RewritingService } from './rewriting.service.js';
import { TakingBackService } from './taking-back.service.js';

/** Drafts: going back, laying side by side, and what was done in ink. */
@Module({
  imports: [DatabaseModule, LiveModule, PolicyModule],
  controllers: [DraftsController],
  providers: [BesideService, DraftsService, InkService, Keeping, RewritingService, TakingBackService],
  exports: [Keeping, RewritingService],
})
export class DraftsModule {}
