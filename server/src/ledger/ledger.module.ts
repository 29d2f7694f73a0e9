import { Module } from '@nestjs/common';
import { CollaborationModule } from '../collaboration/collaboration.module.js';
import { DatabaseModule } from '../database/database.module.js';
import { LedgerController } from './ledger.controller.js';
import { LedgerService } from './ledger.service.js';

@Module({
  imports: [DatabaseModule, CollaborationModule],
  controllers: [LedgerController],
  providers: [LedgerService],
})
export class LedgerModule {}
