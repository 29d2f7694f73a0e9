import { Controller, Delete, Get, HttpCode, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import Joi from 'joi';
import type { Group } from '@tea-pencil/wire';
import { Describes, idSchema, ValidBody, ValidId } from '../http/validation.js';
import { Me } from '../policy/guard.js';
import { GroupsService, type GroupAsked } from './groups.service.js';

const groupSchema = Joi.object({
  name: Joi.string().trim().strict(false).min(1).max(100).required(),
  people: Joi.array().items(idSchema).unique().max(500).required(),
});

@ApiTags('sharing')
@Controller('api/groups')
export class GroupsController {
  constructor(private readonly groups: GroupsService) {}

  @Get()
  list(@Me() me: string): Promise<Group[]> {
    return this.groups.list(me);
  }

  @Post()
  @Describes(groupSchema)
  make(@Me() me: string, @ValidBody(groupSchema) asked: GroupAsked): Promise<{ id: string }> {
    return this.groups.make(me, asked);
  }

  @Put(':group')
  @HttpCode(204)
  @Describes(groupSchema)
  set(@ValidId('group') id: string, @Me() me: string, @ValidBody(groupSchema) asked: GroupAsked): Promise<void> {
    return this.groups.set(me, id, asked);
  }

  @Delete(':group')
  @HttpCode(204)
  remove(@ValidId('group') id: string, @Me() me: string): Promise<void> {
    return this.groups.remove(me, id);
  }
}
