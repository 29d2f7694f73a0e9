import { Controller, Delete, Get, HttpCode, Patch, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import Joi from 'joi';
import type { Outsider, Rights, Role, Sharing, TakenOff } from '@tea-pencil/wire';
import { Describes, idSchema, mailSchema, secretSchema, ValidBody, ValidId } from '../http/validation.js';
import { Broadcasting } from '../live/broadcasting.js';
import { roles } from '../policy/acts.js';
import { Me, Member } from '../policy/guard.js';
import { may, type Member as Membership } from '../policy/may.js';
import { GroupsService } from './groups.service.js';
import { InvitationsService } from './invitations.service.js';
import { LinksService } from './links.service.js';
import { MembersService } from './members.service.js';
import { SealService } from './seal.service.js';
import { SharingService } from './sharing.service.js';

const role = Joi.string()
  .valid(...roles)
  .required();
const message = Joi.string().allow('').max(2000);
/** What is not said stays as it was, so that two who each change a part of it both have their way. */
const partly = { role: role.optional(), takesAway: Joi.boolean(), invites: Joi.boolean() };
const memberSchema = Joi.object({ ...partly, message });
const groupSchema = Joi.object(partly);
const rights = { role, takesAway: Joi.boolean().required(), invites: Joi.boolean().required() };
const invitationSchema = Joi.object({ mail: mailSchema.required(), ...rights, message: message.required() });
const linkSchema = Joi.object({
  name: Joi.string().trim().strict(false).min(1).max(100).required(),
  role: Joi.string().valid('reader', 'remarker', 'proposer').required(),
  passphrase: secretSchema.allow(null),
  endsAt: Joi.string().isoDate().max(40).allow(null).required(),
  mostUses: Joi.number().integer().min(1).max(10_000).allow(null).required(),
});
const hueSchema = Joi.object({ hue: Joi.number().integer().min(0).max(100).required() });
const outsideSchema = Joi.object({
  name: Joi.string().trim().strict(false).min(1).max(100),
  matchedTo: idSchema.allow(null),
  asked: Joi.valid(true),
}).min(1);
const sealSchema = Joi.object({ passphrase: secretSchema, mayWithdraw: Joi.boolean().required() });
const liftSchema = Joi.object({ passphrase: secretSchema });

/** Who may do what in a manuscript. */
@ApiTags('sharing')
@Controller('api/manuscripts/:id')
export class SharingController {
  constructor(
    private readonly sharing: SharingService,
    private readonly members: MembersService,
    private readonly groups: GroupsService,
    private readonly invitations: InvitationsService,
    private readonly links: LinksService,
    private readonly seal: SealService,
    private readonly live: Broadcasting,
  ) {}

  @Get('sharing')
  of(@Member() member: Membership): Promise<Sharing> {
    return this.sharing.of(member);
  }

  @Put('members/:person')
  @HttpCode(204)
  @Describes(memberSchema)
  set(
    @ValidId('person') person: string,
    @Member() member: Membership,
    @ValidBody(memberSchema) { message: said, ...asked }: Partial<Rights> & { message?: string },
  ): Promise<void> {
    return this.members.set(member, person, asked, said);
  }

  @Delete('members/:person')
  remove(@ValidId('person') person: string, @Member() member: Membership): Promise<TakenOff> {
    return this.members.remove(member, person);
  }

  @Put('groups/:group')
  @HttpCode(204)
  @Describes(groupSchema)
  give(
    @ValidId('group') group: string,
    @Member() member: Membership,
    @ValidBody(groupSchema) asked: Partial<Rights>,
  ): Promise<void> {
    return this.groups.give(member, group, asked);
  }

  @Delete('groups/:group')
  take(@ValidId('group') group: string, @Member() member: Membership): Promise<TakenOff> {
    return this.groups.take(member, group);
  }

  /** Says the same whether somebody has an account with that address or not. */
  @Post('invitations')
  @HttpCode(204)
  @Describes(invitationSchema)
  async invite(
    @Member() member: Membership,
    @ValidBody(invitationSchema) { mail, message: said, ...asked }: Rights & { mail: string; message: string },
  ): Promise<void> {
    await this.invitations.invite(member, { mail, rights: asked, message: said });
    this.live.changed(member.manuscriptId, 'people');
  }

  @Delete('invitations/:invitation')
  @HttpCode(204)
  async withdraw(@ValidId('invitation') invitation: string, @Member() member: Membership): Promise<void> {
    const { manuscriptId, personId } = member;
    const own = may('look after people', member) === true ? {} : { madeBy: personId };
    await this.invitations.withdraw(invitation, { manuscriptId, ...own });
    this.live.changed(manuscriptId, 'people');
  }

  @Post('links')
  @Describes(linkSchema)
  makeLink(
    @Member() member: Membership,
    @ValidBody(linkSchema)
    asked: { name: string; role: Role; passphrase: string | null; endsAt: string | null; mostUses: number | null },
  ): Promise<{ address: string }> {
    return this.links.make(member, asked);
  }

  @Delete('links/:link')
  @HttpCode(204)
  endLink(@ValidId('link') link: string, @Member() member: Membership): Promise<void> {
    return this.links.end(link, member);
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
    @Member() member: Membership,
    @ValidBody(outsideSchema) body: Outsider,
  ): Promise<void> {
    await this.members.setOutside(member, person, body);
    this.live.changed(id, 'people');
  }

  @Put('seal')
  @HttpCode(204)
  @Describes(sealSchema)
  putSeal(
    @Member() member: Membership,
    @ValidBody(sealSchema) { passphrase, mayWithdraw }: { passphrase: string; mayWithdraw: boolean },
  ): Promise<void> {
    return this.seal.put(member, passphrase, mayWithdraw);
  }

  @Post('seal/lifted')
  @HttpCode(204)
  @Describes(liftSchema)
  liftSeal(@Member() member: Membership, @ValidBody(liftSchema) { passphrase }: { passphrase: string }): Promise<void> {
    return this.seal.lift(member, passphrase);
  }
}
