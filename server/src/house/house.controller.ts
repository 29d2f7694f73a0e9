import { Controller, Delete, Get, HttpCode, Patch, Post, Put, Req } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import Joi from 'joi';
import type { House } from '@tea-pencil/wire';
import { Describes, idSchema, mailSchema, ValidBody, ValidId } from '../http/validation.js';
import { Me } from '../policy/guard.js';
import { Sessions } from '../people/sessions.service.js';
import { InvitationsService } from '../sharing/invitations.service.js';
import { LinksService } from '../sharing/links.service.js';
import { HouseService } from './house.service.js';

const houseSchema = Joi.object({
  domains: Joi.array()
    .items(Joi.string().trim().strict(false).domain({ tlds: false }).max(200))
    .unique()
    .max(50)
    .required()
    .messages({ 'string.domain': 'one of these is no mail domain, such as harrow-press.example' }),
});
const personSchema = Joi.object({ keepsHouse: Joi.boolean(), locked: Joi.boolean() }).min(1);
const invitationSchema = Joi.object({
  mail: mailSchema.required(),
  message: Joi.string().allow('').max(2000).required(),
});
const keeperSchema = Joi.object({ person: idSchema.required() });
const leaveSchema = Joi.object({
  password: Joi.string().allow('').max(1000).required(),
  named: Joi.boolean().required(),
});

/** The house and its people, for those who look after them; and leaving it. */
@ApiTags('house')
@Controller('api')
export class HouseController {
  constructor(
    private readonly house: HouseService,
    private readonly invitations: InvitationsService,
    private readonly links: LinksService,
    private readonly sessions: Sessions,
  ) {}

  @Get('house')
  view(): Promise<House> {
    return this.house.view();
  }

  @Patch('house')
  @HttpCode(204)
  @Describes(houseSchema)
  set(@ValidBody(houseSchema) { domains }: { domains: string[] }): Promise<void> {
    return this.house.setDomains(domains);
  }

  @Patch('house/people/:person')
  @HttpCode(204)
  @Describes(personSchema)
  setPerson(
    @Me() me: string,
    @ValidId('person') person: string,
    @ValidBody(personSchema) asked: { keepsHouse?: boolean; locked?: boolean },
  ): Promise<void> {
    return this.house.setPerson(me, person, asked);
  }

  @Post('house/invitations')
  @HttpCode(204)
  @Describes(invitationSchema)
  invite(
    @Me() me: string,
    @ValidBody(invitationSchema) { mail, message }: { mail: string; message: string },
  ): Promise<void> {
    return this.invitations.write({ mail, rights: null, message }, null, me);
  }

  @Delete('house/invitations/:invitation')
  @HttpCode(204)
  withdraw(@ValidId('invitation') id: string): Promise<void> {
    return this.invitations.withdraw(id, {});
  }

  @Delete('house/links/:link')
  @HttpCode(204)
  endLink(@ValidId('link') id: string): Promise<void> {
    return this.links.end(id, null);
  }

  @Put('house/unkept/:manuscript')
  @HttpCode(204)
  @Describes(keeperSchema)
  keep(
    @ValidId('manuscript') manuscript: string,
    @ValidBody(keeperSchema) { person }: { person: string },
  ): Promise<void> {
    return this.house.keep(manuscript, person);
  }

  @Post('me/leave')
  @HttpCode(204)
  @Describes(leaveSchema)
  async leave(
    @Me() me: string,
    @ValidBody(leaveSchema) { password, named }: { password: string; named: boolean },
    @Req() request: Request,
  ): Promise<void> {
    await this.house.leave(me, password, named);
    await this.sessions.end(request);
  }
}
