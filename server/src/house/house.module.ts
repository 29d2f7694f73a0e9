import { Module } from '@nestjs/common';
import { DatabaseModule } from '../database/database.module.js';
import { LiveModule } from '../live/live.module.js';
import { PeopleModule } from '../people/people.module.js';
import { SharingModule } from '../sharing/sharing.module.js';
import { HouseController } from './house.controller.js';
import { HouseService } from './house.service.js';

@Module({
  imports: [DatabaseModule, LiveModule, PeopleModule, SharingModule],
  controllers: [HouseController],
  providers: [HouseService],
})
export class HouseModule {}
