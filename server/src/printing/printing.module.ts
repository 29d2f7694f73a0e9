import { Module } from '@nestjs/common';
import { DecisionsModule } from '../decisions/decisions.module.js';
import { ManuscriptsModule } from '../manuscripts/manuscripts.module.js';
import { PolicyModule } from '../policy/memberships.js';
import { PrintingController } from './printing.controller.js';
import { PrintingService } from './printing.service.js';

/** Manuscripts on paper. */
@Module({
  imports: [DecisionsModule, ManuscriptsModule, PolicyModule],
  controllers: [PrintingController],
  providers: [PrintingService],
})
export class PrintingModule {}
