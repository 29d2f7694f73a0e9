import { Module } from '@nestjs/common';
import { DatabaseModule } from '../database/database.module.js';
import { PolicyModule } from '../policy/memberships.js';
import { Authority } from './authority.js';
import { Broadcasting } from './broadcasting.js';
import { Checkpoints } from './checkpoints.js';
import { Connections } from './connections.js';
import { LiveGateway } from './gateway.js';
import { History } from './history.js';
import { StepLog } from './step-log.js';
import { Summaries } from './summaries.js';

/** The texts of manuscripts: opened, ordered, kept and told of. */
@Module({
  imports: [DatabaseModule, PolicyModule],
  providers: [Authority, Broadcasting, Checkpoints, Connections, History, LiveGateway, StepLog, Summaries],
  exports: [Authority, Broadcasting, Connections, History, StepLog],
})
export class LiveModule {}
