import { Controller, Get, HttpCode, Patch, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import Joi from 'joi';
import { LiveGateway } from '../collaboration/live.gateway.js';
import { roles, type MemberRow, type Role } from '../database/entities.js';
import { Me, Membership, Needs } from '../http/access.js';
import { Describes, ValidBody, ValidId } from '../http/validation.js';
import { ManuscriptsService, type DeskEntry } from './manuscripts.service.js';

const titleSchema = Joi.object({ title: Joi.string().trim().strict(false).min(1).max(200).required() });
const memberSchema = Joi.object({
  role: Joi.string()
    .valid(...roles)
    .required(),
});

@ApiTags('manuscripts')
@Controller('api/manuscripts')
export class ManuscriptsController {
  constructor(
    private readonly manuscripts: ManuscriptsService,
    private readonly live: LiveGateway,
  ) {}

  @Get()
  desk(@Me() me: string): Promise<DeskEntry[]> {
    return this.manuscripts.desk(me);
  }

  @Post()
  @Describes(titleSchema)
  async create(@Me() me: string, @ValidBody(titleSchema) { title }: { title: string }): Promise<{ id: string }> {
    return { id: await this.manuscripts.create(me, title) };
  }

  @Get(':id')
  @Needs('reader')
  async get(@ValidId('id') id: string, @Membership() { role }: MemberRow) {
    return { ...(await this.manuscripts.get(id)), role };
  }

  @Patch(':id')
  @Needs('keeper')
  @HttpCode(204)
  @Describes(titleSchema)
  async rename(@ValidId('id') id: string, @ValidBody(titleSchema) { title }: { title: string }): Promise<void> {
    await this.manuscripts.rename(id, title);
    this.live.changed(id, 'people');
  }

  @Put(':id/members/:person')
  @Needs('keeper')
  @HttpCode(204)
  @Describes(memberSchema)
  async setMember(
    @ValidId('id') id: string,
    @ValidId('person') person: string,
    @ValidBody(memberSchema) { role }: { role: Role },
  ): Promise<void> {
    await this.manuscripts.setMember(id, person, role);
    this.live.changed(id, 'people');
  }
}
