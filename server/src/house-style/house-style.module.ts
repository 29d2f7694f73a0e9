import { Module } from '@nestjs/common';
import { DatabaseModule } from '../database/database.module.js';
import { LiveModule } from '../live/live.module.js';
import { PolicyModule } from '../policy/memberships.js';
import { HouseStyleController } from './house-style.controller.js';
import { HouseStyleService } from './house-style.service.js';

/** The rules of a house or a book, and which manuscripts follow them. */
@Module({
  imports: [DatabaseModule, LiveModule, PolicyModule],
  controllers: [HouseStyleController],
  providers: [HouseStyleService],
})
export class HouseStyleModule {}
