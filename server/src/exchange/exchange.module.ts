import { Module } from '@nestjs/common';
import { ManuscriptsModule } from '../manuscripts/manuscripts.module.js';
import { ExchangeController } from './exchange.controller.js';
import { ExchangeService } from './exchange.service.js';

@Module({ imports: [ManuscriptsModule], controllers: [ExchangeController], providers: [ExchangeService] })
export class ExchangeModule {}
