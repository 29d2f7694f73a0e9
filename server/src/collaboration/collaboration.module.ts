import { Module } from '@nestjs/common';
import { DatabaseModule } from '../database/database.module.js';
import { Authority } from './authority.js';
import { Checkpoints } from './checkpoints.js';
import { LiveGateway } from './live.gateway.js';
import { StepLog } from './step-log.js';

@Module({
  imports: [DatabaseModule],
  providers: [Authority, Checkpoints, LiveGateway, StepLog],
  exports: [Authority, LiveGateway, StepLog],
})
export class CollaborationModule {}
