import {
  type CanActivate,
  type ExecutionContext,
  ForbiddenException,
  Injectable,
  NotFoundException,
  UnauthorizedException,
  createParamDecorator,
} from '@nestjs/common';
import type { Request } from 'express';
import { Memberships, notThere, type Caller } from './memberships.js';
import { may, type Member as Membership } from './may.js';
import { routes, type Access } from './table.js';

interface Known extends Request {
  personId?: string;
  member?: Membership;
}

/** The id of who sent the request. */
export const Me = createParamDecorator(
  (_: unknown, context: ExecutionContext) => context.switchToHttp().getRequest<Known>().personId,
);

/** Their membership in the manuscript the route is about. */
export const Member = createParamDecorator(
  (_: unknown, context: ExecutionContext) => context.switchToHttp().getRequest<Known>().member,
);

/** Why a route about the house is closed to somebody; null where it is open. */
function closedTo({ isGuest, keepsHouse }: Caller, access: Access): string | null {
  if (access === 'account' && isGuest) return 'A guest sees the one manuscript that their link leads to.';
  if (access === 'house keeper' && !keepsHouse) return 'Only keepers of the house look after its people.';
  return null;
}

/** The line of the table a request falls under. */
function accessTo({ method, route }: Request): Access | undefined {
  const { path } = route as { path: string };
  return routes[`${method === 'HEAD' ? 'GET' : method} ${path}`];
}

/** Every route is closed unless the table opens it; one about a manuscript is closed to all but its members. */
@Injectable()
export class AccessGuard implements CanActivate {
  constructor(private readonly memberships: Memberships) {}

  async canActivate(context: ExecutionContext): Promise<boolean> {
    if (context.getType() !== 'http') return true; // live messages are checked by their gateway
    const request = context.switchToHttp().getRequest<Known>();
    const access = accessTo(request);
    if (!access) throw new ForbiddenException('This route is closed.');
    const { personId } = request.session;
    if (personId) request.personId = personId;
    if (access === 'anyone') return true;
    if (!personId) throw new UnauthorizedException('Please sign in first.');
    if (typeof access === 'string') {
      const caller = await this.memberships.caller(personId);
      if (!caller)
        throw new UnauthorizedException('Your account is closed. Please sign in again, or ask a keeper of the house.');
      const closed = closedTo(caller, access);
      if (closed) throw new ForbiddenException(closed);
      return true;
    }
    const member = await this.memberships.of(String(request.params.id), personId);
    if (!member) throw new NotFoundException(notThere);
    const allowed = may(access.act, member);
    if (allowed !== true) throw new ForbiddenException(allowed);
    request.member = member;
    return true;
  }
}
