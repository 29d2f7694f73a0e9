import {
  type CanActivate,
  type ExecutionContext,
  ForbiddenException,
  Injectable,
  NotFoundException,
  SetMetadata,
  UnauthorizedException,
  createParamDecorator,
} from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import { InjectRepository } from '@nestjs/typeorm';
import type { Request } from 'express';
import { Repository } from 'typeorm';
import { mayAtLeast, MemberRow, type Role } from '../database/entities.js';

/** A route anyone may use, signed in or not. */
export const Open = () => SetMetadata('open', true);

/** A route about the manuscript `:id`, for members with at least this role. */
export const Needs = (role: Role) => SetMetadata('needs', role);

interface Known extends Request {
  personId: string;
  member?: MemberRow;
}

/** The id of who sent the request. */
export const Me = createParamDecorator(
  (_: unknown, context: ExecutionContext) => context.switchToHttp().getRequest<Known>().personId,
);

/** Their membership in the manuscript the route is about. */
export const Membership = createParamDecorator(
  (_: unknown, context: ExecutionContext) => context.switchToHttp().getRequest<Known>().member,
);

const roleWords: Record<Role, string> = {
  reader: 'read',
  remarker: 'comment',
  proposer: 'propose changes',
  decider: 'decide',
  keeper: 'change people and settings',
};

export const notThere = 'There is no such manuscript, or you are not one of its people.';

/** Every route is closed unless it says otherwise; one about a manuscript is closed to all but its members. */
@Injectable()
export class AccessGuard implements CanActivate {
  constructor(
    private readonly reflector: Reflector,
    @InjectRepository(MemberRow) private readonly members: Repository<MemberRow>,
  ) {}

  async canActivate(context: ExecutionContext): Promise<boolean> {
    if (context.getType() !== 'http') return true; // live messages are checked by their gateway
    const of = <T>(key: string) =>
      this.reflector.getAllAndOverride<T | undefined>(key, [context.getHandler(), context.getClass()]);
    if (of<boolean>('open')) return true;
    const request = context.switchToHttp().getRequest<Known>();
    const { personId } = request.session;
    if (!personId) throw new UnauthorizedException('Please sign in first.');
    request.personId = personId;
    const needs = of<Role>('needs');
    if (!needs) return true;
    const member = await this.members.findOneBy({ manuscriptId: String(request.params.id), personId });
    if (!member) throw new NotFoundException(notThere);
    if (!mayAtLeast(member.role, needs))
      throw new ForbiddenException(`In this manuscript you may not ${roleWords[needs]}.`);
    request.member = member;
    return true;
  }
}
