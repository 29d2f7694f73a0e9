import { Module } from '@nestjs/common';
import { APP_GUARD } from '@nestjs/core';
import { DatabaseModule } from './database/database.module.js';
import { DocumentsModule } from './documents/documents.module.js';
import { ExchangeModule } from './exchange/exchange.module.js';
import { AccessGuard } from './http/access.js';
import { HealthController } from './http/health.controller.js';
import { LedgerModule } from './ledger/ledger.module.js';
import { PeopleModule } from './people/people.module.js';
import { PicturesModule } from './pictures/pictures.module.js';
import { PostModule } from './post/post.module.js';
import { ThreadsModule } from './threads/threads.module.js';
import { ViewsModule } from './views/views.module.js';

@Module({
  imports: [
    DatabaseModule,
    PeopleModule,
    ThreadsModule,
    ExchangeModule,
    DocumentsModule,
    PicturesModule,
    LedgerModule,
    ViewsModule,
    PostModule,
  ],
  controllers: [HealthController],
  providers: [{ provide: APP_GUARD, useClass: AccessGuard }],
})
export class AppModule {}
