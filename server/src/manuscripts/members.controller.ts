import { Controller, Delete, HttpCode, Patch, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import Joi from 'joi';
import type { Outsider, Role } from '@tea-pencil/wire';
import { Describes, idSchema, ValidBody, ValidId } from '../http/validation.js';
import { Broadcasting } from '../live/broadcasting.js';
import { roles } from '../policy/acts.js';
import { Me } from '../policy/guard.js';
import { MembersService } from './members.service.js';

const memberSchema = Joi.object({
  role: Joi.string()
    .valid(...roles)
    .required(),
});
const hueSchema = Joi.object({ hue: Joi.number().integer().min(0).max(100).required() });
const outsideSchema = Joi.object({
  name: Joi.string().trim().strict(false).min(1).max(100),
  matchedTo: idSchema.allow(null),
  asked: Joi.valid(true),
}).min(1);

@ApiTags('manuscripts')
@Controller('api/manuscripts/:id')
export class MembersController {
  constructor(
    private readonly members: MembersService,
    private readonly live: Broadcasting,
  ) {}

  @Put('members/:person')
  @HttpCode(204)
  @Describes(memberSchema)
  async set(
    @ValidId('id') id: string,
    @ValidId('person') person: string,
    @Me() me: string,
    @ValidBody(memberSchema) { role }: { role: Role },
  ): Promise<void> {
    await this.members.set(id, me, person, role);
    this.live.changed(id, 'people');
  }

  @Delete('members/:person')
  @HttpCode(204)
  async remove(@ValidId('id') id: string, @ValidId('person') person: string): Promise<void> {
    await this.members.remove(id, person);
    this.live.removed(id, person);
    this.live.changed(id, 'people');
  }

  @Put('hue')
  @HttpCode(204)
  @Describes(hueSchema)
  async setHue(
    @ValidId('id') id: string,
    @Me() me: string,
    @ValidBody(hueSchema) { hue }: { hue: number },
  ): Promise<void> {
    await this.members.setHue(id, me, hue);
    this.live.changed(id, 'people');
  }

  @Patch('outside/:person')
  @HttpCode(204)
  @Describes(outsideSchema)
  async setOutside(
    @ValidId('id') id: string,
    @ValidId('person') person: string,
    @ValidBody(outsideSchema) body: Outsider,
  ): Promise<void> {
    await this.members.setOutside(id, person, body);
    this.live.changed(id, 'people');
  }
}
