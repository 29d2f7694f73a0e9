import { Module } from '@nestjs/common';
import { DatabaseModule } from '../database/database.module.js';
import { LiveModule } from '../live/live.module.js';
import { PolicyModule } from '../policy/memberships.js';
import { DecisionsGateway } from './decisions.gateway.js';
import { Decisions } from './decisions.service.js';
import { LedgerController } from './ledger.controller.js';
import { LedgerService } from './ledger.service.js';

@Module({
  imports: [DatabaseModule, LiveModule, PolicyModule],
  controllers: [LedgerController],
  providers: [Decisions, DecisionsGateway, LedgerService],
  exports: [Decisions, LedgerService],
})
export class DecisionsModule {}
