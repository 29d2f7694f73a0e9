import { Module } from '@nestjs/common';
import { DatabaseModule } from '../database/database.module.js';
import { LiveModule } from '../live/live.module.js';
import { PeopleModule } from '../people/people.module.js';
import { PolicyModule } from '../policy/memberships.js';
import { PostModule } from '../post/post.module.js';
import { Grants } from './grants.js';
import { GroupsController } from './groups.controller.js';
import { GroupsService } from './groups.service.js';
import { InvitationsService } from './invitations.service.js';
import { LettersController } from './letters.controller.js';
import { LinksService } from './links.service.js';
import { MembersService } from './members.service.js';
import { SealService } from './seal.service.js';
import { SharingController } from './sharing.controller.js';
import { SharingService } from './sharing.service.js';

@Module({
  imports: [DatabaseModule, LiveModule, PeopleModule, PolicyModule, PostModule],
  controllers: [SharingController, LettersController, GroupsController],
  providers: [Grants, GroupsService, InvitationsService, LinksService, MembersService, SealService, SharingService],
  exports: [Grants, InvitationsService, LinksService, SealService],
})
export class SharingModule {}
