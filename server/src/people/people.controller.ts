import {
  BadRequestException,
  Controller,
  Delete,
  ForbiddenException,
  Get,
  HttpCode,
  HttpException,
  NotFoundException,
  Patch,
  Post,
  Put,
  Req,
  Res,
  UnauthorizedException,
  UploadedFile,
  UseFilters,
  UseInterceptors,
} from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { ApiBody, ApiConsumes, ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import Joi from 'joi';
import type { Account, Self } from '@tea-pencil/wire';
import { FewUploads, nameOf, noteName, TooLarge, type Upload } from '../http/upload.js';
import { Describes, idSchema, ValidBody, ValidId } from '../http/validation.js';
import { Broadcasting } from '../live/broadcasting.js';
import { Me } from '../policy/guard.js';
import { Limits } from '../running/limits.js';
import { ConfirmingService } from './confirming.service.js';
import { PeopleService } from './people.service.js';

const signInSchema = Joi.object({
  login: Joi.string().min(1).max(100).required(),
  password: Joi.string().min(1).max(200).required(),
});
const selfSchema = Joi.object({
  name: Joi.string().trim().strict(false).min(1).max(100),
  initials: Joi.string().trim().strict(false).min(1).max(3),
  mail: Joi.string()
    .email({ tlds: false })
    .max(200)
    .allow(null)
    .messages({ 'string.email': 'this is no address that mail could be sent to' }),
}).min(1);
/** The largest file that is taken as a portrait, in bytes. */
const largestPortrait = 2 * 1024 * 1024;
const confirmSchema = Joi.object({ token: Joi.string().min(1).max(100).required() });
const demoSchema = Joi.object({ person: idSchema.required() });

@ApiTags('people')
@Controller('api')
export class PeopleController {
  constructor(
    private readonly people: PeopleService,
    private readonly confirming: ConfirmingService,
    private readonly live: Broadcasting,
    private readonly limits: Limits,
  ) {}

  @Post('sign-in')
  @HttpCode(200)
  @Describes(signInSchema)
  async signIn(
    @ValidBody(signInSchema) body: { login: string; password: string },
    @Req() request: Request,
  ): Promise<Self> {
    if (!(await this.limits.maySignIn(request.ip ?? '')))
      throw new HttpException('Too many tries to sign in came from here. Please wait a minute.', 429);
    const id = await this.people.signIn(body.login, body.password);
    if (!id)
      throw new UnauthorizedException('This name and password do not belong together. Nothing else has changed.');
    return this.begin(id, request);
  }

  @Post('sign-in/demo')
  @HttpCode(200)
  @Describes(demoSchema)
  async signInAsDemo(@ValidBody(demoSchema) { person }: { person: string }, @Req() request: Request): Promise<Self> {
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
  async me(@Me() id: string | undefined): Promise<{ me: Self | null }> {
    return { me: id ? await this.people.self(id) : null };
  }

  @Patch('me')
  @HttpCode(204)
  @Describes(selfSchema)
  async change(
    @Me() id: string,
    @ValidBody(selfSchema) body: { name?: string; initials?: string; mail?: string | null },
  ): Promise<void> {
    const { mail, ...names } = body;
    if (Object.keys(names).length) await this.people.change(id, names);
    const self = mail === undefined ? null : await this.people.self(id);
    if (self && mail !== undefined) await this.confirming.ask(self, mail);
    await this.#tellOf(id);
  }

  /** Confirms an address with what the letter to it held. */
  @Post('me/mail')
  @HttpCode(204)
  @Describes(confirmSchema)
  confirm(@Me() id: string, @ValidBody(confirmSchema) { token }: { token: string }): Promise<void> {
    return this.confirming.confirm(id, token);
  }

  @Put('me/portrait')
  @HttpCode(204)
  @ApiConsumes('multipart/form-data')
  @ApiBody({ schema: { type: 'object', properties: { file: { type: 'string', format: 'binary' } } } })
  @UseInterceptors(
    FewUploads,
    FileInterceptor('file', { limits: { fileSize: largestPortrait, files: 1 }, fileFilter: noteName }),
  )
  @UseFilters(new TooLarge('2 MB', 'Your portrait is as it was.'))
  async setPortrait(@Me() me: string, @UploadedFile() file: Upload | undefined): Promise<void> {
    if (!file) throw new BadRequestException('No file came with this request.');
    await this.people.setPortrait(me, nameOf(file), file.buffer);
    await this.#tellOf(me);
  }

  @Delete('me/portrait')
  @HttpCode(204)
  async removePortrait(@Me() me: string): Promise<void> {
    await this.people.removePortrait(me);
    await this.#tellOf(me);
  }

  /** The picture, so served that it can be nothing else. */
  @Get('people/:person/portrait')
  async portrait(@ValidId('person') id: string, @Res() response: Response): Promise<void> {
    const { type, bytes } = await this.people.portrait(id);
    response.set({
      'Content-Type': type,
      'Content-Security-Policy': "default-src 'none'; sandbox",
      'X-Content-Type-Options': 'nosniff',
      'Cache-Control': 'private, max-age=86400',
    });
    response.send(bytes);
  }

  /** Everyone who sees this person somewhere hears that they look different. */
  async #tellOf(person: string): Promise<void> {
    for (const manuscript of await this.people.manuscriptsOf(person)) this.live.changed(manuscript, 'people');
  }

  @Get('people')
  all(): Promise<Account[]> {
    return this.people.accounts();
  }

  /** A new session id for every sign-in, so that one known before is worth nothing after. */
  private async begin(id: string, request: Request): Promise<Self> {
    const { sessionID: former } = request;
    const { personId: before } = request.session;
    await new Promise<void>((done, fail) =>
      request.session.regenerate((e: unknown) => (e ? fail(e as Error) : done())),
    );
    // Somebody else who was signed in in this browser is so no more, in its other windows too.
    if (before === id) this.live.renewed(former);
    else this.live.signedOut(former);
    request.session.personId = id;
    const self = await this.people.self(id);
    if (!self) throw new NotFoundException('There is no such person here any more.');
    return self;
  }
}
