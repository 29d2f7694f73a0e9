import { Module } from '@nestjs/common';
import { DatabaseModule } from '../database/database.module.js';
import { ViewsController } from './views.controller.js';

@Module({ imports: [DatabaseModule], controllers: [ViewsController] })
export class ViewsModule {}
