import { Module } from '@nestjs/common';
import { DocumentsModule } from '../documents/documents.module.js';
import { ExchangeController } from './exchange.controller.js';
import { ExchangeService } from './exchange.service.js';

@Module({ imports: [DocumentsModule], controllers: [ExchangeController], providers: [ExchangeService] })
export class ExchangeModule {}
