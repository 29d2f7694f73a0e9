import { Module } from '@nestjs/common';
import { DraftsModule } from '../drafts/drafts.module.js';
import { LiveModule } from '../live/live.module.js';
import { ManuscriptsModule } from '../manuscripts/manuscripts.module.js';
import { PeopleModule } from '../people/people.module.js';
import { ExchangeController } from './exchange.controller.js';
import { ExchangeService } from './exchange.service.js';
import { ReturnedController } from './returned.controller.js';
import { ReturnedService } from './returned.service.js';

@Module({
  imports: [DraftsModule, LiveModule, ManuscriptsModule, PeopleModule],
  controllers: [ExchangeController, ReturnedController],
  providers: [ExchangeService, ReturnedService],
})
export class ExchangeModule {}
