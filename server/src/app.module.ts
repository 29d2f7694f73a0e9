import { Module } from '@nestjs/common';
import { APP_FILTER, APP_GUARD } from '@nestjs/core';
import { DatabaseModule } from './database/database.module.js';
import { DecisionsModule } from './decisions/decisions.module.js';
import { DraftsModule } from './drafts/drafts.module.js';
import { ExchangeModule } from './exchange/exchange.module.js';
import { FairCopyModule } from './fair-copy/fair-copy.module.js';
import { HouseStyleModule } from './house-style/house-style.module.js';
import { HouseModule } from './house/house.module.js';
import { Problems } from './http/problems.js';
import { LastLookModule } from './last-look/last-look.module.js';
import { ManuscriptsModule } from './manuscripts/manuscripts.module.js';
import { PeopleModule } from './people/people.module.js';
import { PicturesModule } from './pictures/pictures.module.js';
import { AccessGuard } from './policy/guard.js';
import { PolicyModule } from './policy/memberships.js';
import { PostModule } from './post/post.module.js';
import { PrintingModule } from './printing/printing.module.js';
import { HealthController } from './running/health.controller.js';
import { MetricsModule } from './running/metrics.js';
import { LimitsModule } from './running/limits.js';
import { SharingModule } from './sharing/sharing.module.js';
import { SettingsModule } from './settings/settings.js';
import { ThreadsModule } from './threads/threads.module.js';
import { ViewsModule } from './views/views.module.js';
import { WorkModule } from './work/workers.js';

@Module({
  imports: [
    SettingsModule,
    DatabaseModule,
    LimitsModule,
    WorkModule,
    MetricsModule,
    PolicyModule,
    PeopleModule,
    SharingModule,
    HouseModule,
    ThreadsModule,
    DraftsModule,
    LastLookModule,
    HouseStyleModule,
    ExchangeModule,
    FairCopyModule,
    ManuscriptsModule,
    PicturesModule,
    DecisionsModule,
    PrintingModule,
    ViewsModule,
    PostModule,
  ],
  controllers: [HealthController],
  providers: [
    { provide: APP_GUARD, useClass: AccessGuard },
    { provide: APP_FILTER, useClass: Problems },
  ],
})
export class AppModule {}
