import { Module } from '@nestjs/common';
import { DraftsModule } from '../drafts/drafts.module.js';
import { LiveModule } from '../live/live.module.js';
import { ManuscriptsModule } from '../manuscripts/manuscripts.module.js';
import { PeopleModule } from '../people/people.module.js';
import { PolicyModule } from '../policy/memberships.js';
import { CollatingController } from './collating.controller.js';
import { CollatingService } from './collating.service.js';
import { ExchangeController } from './exchange.controller.js';
import { ExchangeService } from './exchange.service.js';
import { ReturnedController } from './returned.controller.js';
import { ReturnedService } from './returned.service.js';

@Module({
  imports: [DraftsModule, LiveModule, ManuscriptsModule, PeopleModule, PolicyModule],
  controllers: [CollatingController, ExchangeController, ReturnedController],
  providers: [CollatingService, ExchangeService, ReturnedService],
})
export class ExchangeModule {}
