import { Module } from '@nestjs/common';
import { DatabaseModule } from '../database/database.module.js';
import { PolicyModule } from '../policy/memberships.js';
import { PicturesController } from './pictures.controller.js';
import { PicturesService } from './pictures.service.js';

@Module({
  imports: [DatabaseModule, PolicyModule],
  controllers: [PicturesController],
  providers: [PicturesService],
  exports: [PicturesService],
})
export class PicturesModule {}
