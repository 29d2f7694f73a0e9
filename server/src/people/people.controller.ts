import {
  Controller,
  ForbiddenException,
  Get,
  HttpCode,
  NotFoundException,
  Patch,
  Post,
  Req,
  UnauthorizedException,
  UseGuards,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Throttle, ThrottlerGuard } from '@nestjs/throttler';
import type { Request } from 'express';
import Joi from 'joi';
import { LiveGateway } from '../collaboration/live.gateway.js';
import { Me } from '../http/access.js';
import { Describes, idSchema, ValidBody } from '../http/validation.js';
import { PeopleService, type Account } from './people.service.js';

const signInSchema = Joi.object({
  login: Joi.string().min(1).max(100).required(),
  password: Joi.string().min(1).max(200).required(),
});
const selfSchema = Joi.object({
  name: Joi.string().trim().strict(false).min(1).max(100),
  initials: Joi.string().trim().strict(false).min(1).max(3),
}).min(1);
const demoSchema = Joi.object({ person: idSchema.required() });

@ApiTags('people')
@Controller('api')
export class PeopleController {
  constructor(
    private readonly people: PeopleService,
    private readonly live: LiveGateway,
  ) {}

  @UseGuards(ThrottlerGuard)
  @Throttle({ default: { limit: 30, ttl: 60_000 } })
  @Post('sign-in')
  @HttpCode(200)
  @Describes(signInSchema)
  async signIn(
    @ValidBody(signInSchema) body: { login: string; password: string },
    @Req() request: Request,
  ): Promise<Account> {
    const id = await this.people.signIn(body.login, body.password);
    if (!id)
      throw new UnauthorizedException('This name and password do not belong together. Nothing else has changed.');
    return this.begin(id, request);
  }

  @Post('sign-in/demo')
  @HttpCode(200)
  @Describes(demoSchema)
  async signInAsDemo(@ValidBody(demoSchema) { person }: { person: string }, @Req() request: Request): Promise<Account> {
    if (!(await this.people.hasDemo())) throw new ForbiddenException('The demo people are not here.');
    const account = await this.people.get(person);
    if (!account?.login || !account.note) throw new NotFoundException('There is no such demo person.');
    return this.begin(account.id, request);
  }

  /** The demo people; empty unless the demo data was loaded. */
  @Get('demo-people')
  async demoPeople(): Promise<Account[]> {
    return (await this.people.hasDemo()) ? (await this.people.accounts()).filter(({ note }) => note) : [];
  }

  @Post('sign-out')
  @HttpCode(204)
  async signOut(@Req() request: Request): Promise<void> {
    const { sessionID } = request;
    await new Promise<void>((done) => request.session.destroy(() => done()));
    this.live.signedOut(sessionID);
  }

  /** Who one is; null for one who is not signed in. */
  @Get('me')
  async me(@Me() id: string | undefined): Promise<{ me: Account | null }> {
    return { me: id ? await this.people.get(id) : null };
  }

  @Patch('me')
  @HttpCode(204)
  @Describes(selfSchema)
  async rename(@Me() id: string, @ValidBody(selfSchema) body: { name?: string; initials?: string }): Promise<void> {
    await this.people.rename(id, body);
    for (const manuscript of await this.people.manuscriptsOf(id)) this.live.changed(manuscript, 'people');
  }

  @Get('people')
  all(): Promise<Account[]> {
    return this.people.accounts();
  }

  /** A new session id for every sign-in, so that one known before is worth nothing after. */
  private async begin(id: string, request: Request): Promise<Account> {
    await new Promise<void>((done, fail) =>
      request.session.regenerate((e: unknown) => (e ? fail(e as Error) : done())),
    );
    request.session.personId = id;
    return (await this.people.get(id))!;
  }
}
