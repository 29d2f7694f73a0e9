import { Module } from '@nestjs/common';
import { DatabaseModule } from '../database/database.module.js';
import { LiveModule } from '../live/live.module.js';
import { PostModule } from '../post/post.module.js';
import { AccountsService } from './accounts.service.js';
import { ComingIn } from './coming-in.js';
import { ConfirmingService } from './confirming.service.js';
import { DoorController } from './door.controller.js';
import { HouseFacts } from './house-facts.js';
import { PeopleController } from './people.controller.js';
import { PeopleService } from './people.service.js';
import { Sessions } from './sessions.service.js';
import { WorkController } from './work.controller.js';
import { WorkAccounts } from './work-accounts.service.js';

@Module({
  imports: [DatabaseModule, LiveModule, PostModule],
  controllers: [PeopleController, DoorController, WorkController],
  providers: [PeopleService, AccountsService, ConfirmingService, HouseFacts, Sessions, ComingIn, WorkAccounts],
  exports: [PeopleService, AccountsService, HouseFacts, Sessions, ComingIn],
})
export class PeopleModule {}
